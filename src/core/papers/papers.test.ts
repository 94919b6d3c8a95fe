import fc from 'fast-check'
import { barWidths, dot203, fillTemplate, gs1CheckDigit, layoutLabel, layoutSlip, moduleFor, s10CheckDigit, wrapText, type SlipContent } from './index'

test('check digits as their standards say', () => {
  expect(gs1CheckDigit('629104150021')).toBe(3) // the worked example of the GS1 General Specifications
  expect(gs1CheckDigit('34012345678901234')).toBe(gs1CheckDigit('034012345678901234'))
  expect(s10CheckDigit('47312482')).toBe(9) // RR473124829GB, the example of UPU S10
})

test('bars are whole printer dots and fit the label', () => {
  const sscc = `00${'35490001000000001'}${gs1CheckDigit('35490001000000001')}`
  for (const [text, symbology] of [['RR473124829GB', 'code128'], [sscc, 'gs1-128']] as const) {
    const widths = barWidths(text, symbology)!
    const module = moduleFor(widths, 90)!
    expect(Math.round(module / dot203)).toBeCloseTo(module / dot203, 6)
    expect(widths.reduce((sum, width) => sum + width, 0) * module).toBeLessThanOrEqual(90)
  }
  expect(barWidths(`${sscc.slice(0, -1)}${(Number(sscc.slice(-1)) + 1) % 10}`, 'gs1-128')).toBeNull()
  expect(barWidths('Ω', 'code128')).toBeNull()
  expect(moduleFor(new Array<number>(2000).fill(1), 90)).toBeNull()
})

test('text is broken at blanks, and what does not fit ends in an ellipsis', () => {
  expect(wrapText('one two three', 7, 3)).toEqual(['one two', 'three'])
  expect(wrapText('abcdefghij', 4, 2)).toEqual(['abcd', 'efg…'])
  fc.assert(fc.property(fc.string({ maxLength: 300 }), fc.integer({ min: 2, max: 40 }), (text, most) => expect(wrapText(text, most, 3).every((line) => line.length <= most + 1)).toBe(true)))
})

const slip = (items: number): SlipContent => ({ orderNumber: 'N-1', channelName: 'Shop', placedOn: '20 Nov 2026', buyerName: 'Ann Bee', toLines: ['Ann Bee'], items: Array.from({ length: items }, (_, i) => ({ sku: `S-${i}`, title: 'A title', quantity: 1 })) })

test('a slip template is filled; what it gets wrong is a sentence, not a throw', () => {
  expect(fillTemplate('Hi {{ buyer.firstName }}, order {{ order.number }}', slip(1))).toEqual({ ok: true, text: 'Hi Ann, order N-1' })
  expect(fillTemplate('{{ buyer.nonsense }}', slip(1))).toMatchObject({ ok: false })
  expect(fillTemplate('{% for i in (1..100000000) %}x{% endfor %}', slip(1))).toMatchObject({ ok: false })
  expect(fillTemplate('{% if %}', slip(1))).toMatchObject({ ok: false })
})

test('500 items take as many pages as they need, and the closing stands on the last', () => {
  const pages = layoutSlip(slip(500), { heading: 'H', closing: 'Goodbye' })
  const texts = pages.map((page) => page.marks.flatMap((mark) => (mark.kind === 'text' ? [mark.text] : [])))
  expect(texts.flat().filter((text) => /^S-\d+$/.test(text))).toHaveLength(500)
  expect(texts.map((page) => page.includes('Goodbye'))).toEqual([...new Array<boolean>(pages.length - 1).fill(false), true])
})

test('nothing of a label lies outside the paper, however long the address', () => {
  fc.assert(fc.property(fc.array(fc.string({ maxLength: 200 }), { minLength: 2, maxLength: 12 }), fc.string({ maxLength: 60 }), (lines, reference) => {
    const page = layoutLabel({ carrierName: 'C', serviceName: 'S', trackingNumber: 'RR473124829GB', symbology: 'code128', routing: 'X', reference, weightText: '1 kg', shippedOn: '2026-11-20', parcelText: '1 of 1', marks: [], from: { lines }, to: { lines } })
    for (const mark of page.marks) if (mark.kind === 'text') {
      expect(mark.x + mark.width).toBeLessThanOrEqual(95.01)
      expect(mark.y + mark.size * 0.36).toBeLessThan(150)
    }
  }))
})
