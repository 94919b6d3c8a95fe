import { numberChecks, readNumber, carriersOfNumber, type Numbering } from './index'
import { gs1CheckDigit, s10CheckDigit } from '@/core/papers'

const heron: Numbering = {
  id: 'heron',
  name: 'Heron Parcel',
  numbers: [{ form: '00' + '#'.repeat(18), check: 'SSCC-18' }],
}
const corvid: Numbering = { id: 'corvid', name: 'Corvid Post', numbers: [{ form: 'CV#########@@', check: 'S10' }] }
const skua: Numbering = { id: 'skua', name: 'Skua Air', numbers: [{ form: '918########', check: 'modulo 7' }] }
const local: Numbering = { id: 'local', name: 'Local', numbers: [] }
const all = [heron, corvid, skua, local]

const sscc = '35490001000000012'
const heronNumber = `00${sscc}${gs1CheckDigit(sscc)}`
const corvidNumber = `CV47312482${s10CheckDigit('47312482')}BE`

describe('tracking numbers', () => {
  test('blanks, hyphens and full-width digits are forgiven', () => {
    expect(readNumber('00 3549 0001-0000 0001 2' + heronNumber.at(-1)!, heron, all)).toEqual({
      ok: true,
      number: heronNumber,
    })
    const wide = [...corvidNumber]
      .map((c) => (/\d/.test(c) ? String.fromCharCode(c.charCodeAt(0) + 0xfee0) : c))
      .join('')
    expect(readNumber(wide, corvid, all)).toEqual({ ok: true, number: corvidNumber })
  })
  test('the worked example of UPU S10 holds: RR473124829GB', () => {
    expect(s10CheckDigit('47312482')).toBe(9)
  })
  test('a wrong check digit is said, for each kind of check', () => {
    const wrong = heronNumber.slice(0, -1) + String((Number(heronNumber.at(-1)) + 1) % 10)
    expect(readNumber(wrong, heron, all)).toMatchObject({
      ok: false,
      sentence: expect.stringContaining('check digit') as string,
    })
    expect(readNumber('91840000014', skua, all)).toMatchObject({ ok: false })
    expect(readNumber(`9184000001${4000001 % 7}`, skua, all)).toMatchObject({ ok: true })
    expect(numberChecks).toHaveLength(5)
  })
  test('a number of another carrier is said, also where the carrier declares no form', () => {
    for (const carrier of [heron, local])
      expect(readNumber(corvidNumber, carrier, all)).toMatchObject({
        ok: false,
        sentence: `${corvidNumber} is a number of Corvid Post, not of ${carrier.name}.`,
      })
    expect(readNumber('ABC123456', local, all)).toEqual({ ok: true, number: 'ABC123456' })
  })
  test('letters O where digits belong are asked about', () => {
    const typed = corvidNumber.replace('47312482', '47312482').replace(/0/g, 'O')
    const withZero = `CV20000001${s10CheckDigit('20000001')}BE`
    expect(readNumber(withZero.replace(/0/g, 'O'), corvid, all)).toMatchObject({
      sentence: expect.stringContaining(`is it ${withZero}?`) as string,
    })
    expect(typed).toBe(corvidNumber)
  })
  test('too short, too long, and not a number at all', () => {
    for (const text of ['', '12', 'https://example.example/x?y=1', '1'.repeat(50)])
      expect(readNumber(text, local, all)).toMatchObject({
        ok: false,
        sentence: expect.stringContaining('no tracking number') as string,
      })
  })
  test('the carrier is proposed from the form', () => {
    expect(carriersOfNumber(heronNumber, all).map(({ id }) => id)).toEqual(['heron'])
    expect(carriersOfNumber('ABC123456', all)).toEqual([])
    // Mistyped: whose it is can still be seen.
    expect(carriersOfNumber('CV 000 000 010 BE', all).map(({ id }) => id)).toEqual(['corvid'])
  })
})
