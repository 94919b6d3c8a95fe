import fc from 'fast-check'
import { type Address, normaliseOrder } from '@/core/order'
import { checkAddress, maxLineLength, correctAll, withAddressChecked } from './checkAddress'
import { isParcelLocker, isPostOfficeBox } from './postOfficeBox'
import { printedAddress } from './printOrder'
import { readAddressBlock } from './readBlock'
import { isInUnion, territoryOf, tradeBetween } from './territory'

test.each([
  'PO Box 123',
  'P.O. Box 7',
  'Postbus 44',
  'Postfach 10 20',
  'BP 12',
  'skrytka pocztowa 5',
  'Apartado 9',
  'Casella Postale 1',
  'Postboks 88',
  'Boîte postale 3',
])('%s is a post-office box', (line) => {
  expect(isPostOfficeBox(['Ann Bee', line])).toBe(true)
})
test.each(['Boxmeerseweg 1', 'Postplein 4', 'Bpstraat', 'Apartment 5', 'Via Postale 2'])('%s is not', (line) => {
  expect(isPostOfficeBox([line])).toBe(false)
})
test.each(['Packstation 145', 'Paczkomat POZ08M', 'Pakketautomaat 12', 'Parcel locker 7'])(
  '%s is a parcel locker',
  (line) => expect(isParcelLocker([line])).toBe(true),
)
test.each(['Lockerstraat 4', 'Automatenweg 3', 'Kerkstraat 1'])('%s is none', (line) =>
  expect(isParcelLocker([line])).toBe(false),
)

const address = (more: Partial<Address> = {}): Address => ({
  name: 'Ann Bee',
  company: '',
  lines: ['Coupure Links 88'],
  city: 'Gent',
  postcode: '9000',
  region: '',
  country: 'BE',
  ...more,
})
const codes = (more: Partial<Address>): string[] => checkAddress(address(more)).map(({ code }) => code)
const corrected = (more: Partial<Address>): Partial<Address> => {
  const [before, after] = [address(more), correctAll(address(more))]
  return Object.fromEntries(
    Object.entries(after).filter(
      ([key, value]) => JSON.stringify(value) !== JSON.stringify(before[key as keyof Address]),
    ),
  )
}

test('an ordinary address has no problem, in any of these countries', () => {
  for (const more of [
    {},
    { country: 'NL', postcode: '1012 AB' },
    { country: 'PL', postcode: '61-501', lines: ['ul. Długa 14'] },
    { country: 'GB', postcode: 'LS1 4DY', lines: ['Orchard House'] },
    { country: 'US', postcode: '97205', region: 'OR' },
    { country: 'XK', postcode: '10000' },
    { country: 'IE', postcode: 'D02 X285', lines: ['The Old Mill'] },
    { country: 'NO', postcode: '9170', city: 'Longyearbyen' },
    { country: 'AX', postcode: '22100', city: 'Mariehamn' },
    { lines: ['Postbus 44'] },
  ])
    expect(codes(more)).toEqual([])
})

test('postcodes of the wrong form are named, and corrected when only the form is off', () => {
  for (const [country, wrong, right] of [
    ['PL', '61501', '61-501'],
    ['BE', 'B-9000', '9000'],
    ['PT', '1000001', '1000-001'],
    ['BE', '9OOO', '9000'],
    ['NL', 'NL-1012 AB', '1012AB'],
  ] as const)
    expect(corrected({ country, postcode: wrong })).toEqual({ postcode: right })
  expect(checkAddress(address({ postcode: '90' }))).toEqual([
    { code: 'address-postcode', sentence: '"90" is no postcode of BE.', correction: null },
  ])
  expect(codes({ postcode: '' })).toEqual(['address-postcode'])
  expect(codes({ country: 'US', postcode: '97205' })).toEqual(['address-region'])
})

test('what does not belong into an address is taken out of it', () => {
  expect(corrected({ lines: ['Coupure 8', 'mail: noor@vanacker.example'] })).toEqual({ lines: ['Coupure 8'] })
  expect(corrected({ lines: ['Coupure 8, tel. +32 9 555 01 20'] })).toEqual({ lines: ['Coupure 8'] })
  expect(corrected({ lines: ['Coupure 8', '9000 Gent', 'coupure 8'], company: 'ann  BEE' })).toEqual({
    lines: ['Coupure 8'],
    company: '',
  })
  expect(codes({ lines: ['Coupure Links'] })).toEqual(['address-number'])
  expect(codes({ name: '' })).toEqual(['address-name'])
})

test('other scripts are proposed in Latin letters, emoji go', () => {
  expect(corrected({ name: 'Γιώργος Παππάς', country: 'GR', postcode: '10552', city: 'Αθήνα' })).toEqual({
    name: 'Giorgos Pappas',
    city: 'Athina',
  })
  expect(corrected({ name: 'Ann 🐟 Bee' })).toEqual({ name: 'Ann Bee' })
  expect(corrected({ name: 'محمد', lines: ['شارع 5'] })).toMatchObject({
    name: expect.stringMatching(/^[a-z]+$/i) as string,
  })
  for (const name of ['Łucja Żółć', 'Øystein Ås', 'Đorđe Šević', 'François Nuñez']) expect(codes({ name })).toEqual([])
})

test('long lines are broken, and a corrected address has no line that is too long', () => {
  const long = 'Appartement 12, Residence du Grand Lac, escalier B, 7e etage, porte gauche 4'
  expect(correctAll(address({ lines: [long] })).lines.join(' ')).toBe(long)
  fc.assert(
    fc.property(
      fc.record({
        name: fc.string({ maxLength: 200 }),
        lines: fc.array(fc.string({ maxLength: 120 }), { maxLength: 4 }),
        city: fc.string({ maxLength: 80 }),
      }),
      (parts) => {
        const after = correctAll(address(parts))
        for (const text of [after.name, after.city, ...after.lines])
          expect(text.length).toBeLessThanOrEqual(maxLineLength)
        expect(
          checkAddress(after).every(
            ({ correction }) => correction === null || JSON.stringify(correction) === JSON.stringify(after),
          ),
        ).toBe(true)
      },
    ),
    { numRuns: 400 },
  )
})

test('only what is grave stands in the way of a label', () => {
  const order = (more: Partial<Address>) =>
    withAddressChecked({
      ...normaliseOrder({ id: '1', number: '1', items: [{ sku: 'A', weight: 1 }] }, 'c', new Map()),
      problems: [],
      shipTo: address(more),
    }).problems.map(({ code }) => code)
  expect(order({ lines: ['x'.repeat(50) + ' 1'] })).toEqual([])
  expect(order({ lines: ['Coupure'] })).toEqual(['address-number'])
})

test('special territories: customs see more than the country', () => {
  const members = new Set(['BE', 'ES', 'FI', 'FR', 'DE', 'NL'])
  const ghent = { country: 'BE', postcode: '9000' }
  const trade = (country: string, postcode: string): string => tradeBetween(ghent, { country, postcode }, members)
  expect([
    trade('ES', '28013'),
    trade('ES', '35001'),
    trade('FI', '00100'),
    trade('FI', '22100'),
    trade('AX', '22100'),
    trade('FR', '97400'),
    trade('GB', 'LS1 4DY'),
    trade('GB', 'BT1 5GS'),
    trade('XK', '10000'),
    trade('NO', '9170'),
    trade('MC', '98000'),
    trade('BE', '2000'),
  ]).toEqual([
    'customs union',
    'export',
    'customs union',
    'export',
    'export',
    'export',
    'export',
    'customs union',
    'export',
    'export',
    'customs union',
    'domestic',
  ])
  expect(tradeBetween({ country: 'GB', postcode: 'LS12 1BE' }, { country: 'GB', postcode: 'BT1 5GS' }, members)).toBe(
    'domestic',
  )
  expect(tradeBetween({ country: 'ES', postcode: '28001' }, { country: 'ES', postcode: '38001' }, members)).toBe(
    'export',
  )
  expect([
    territoryOf('ES', '38001')?.name,
    territoryOf('FR', '97600')?.name,
    territoryOf('FR', '75011'),
    isInUnion('GB', 'bt9 6aa', members),
  ]).toEqual(['Canary Islands', 'Mayotte', undefined, true])
})

test('a pasted block becomes fields, and nothing of it is lost', () => {
  expect(
    readAddressBlock(
      'Noor Van Acker\nAqua Atelier BV\nCoupure Links 88 bus 4\n9000 Gent\nBelgium\nnoor@vanacker.example',
      '',
    ),
  ).toEqual({
    email: 'noor@vanacker.example',
    phone: '',
    address: {
      name: 'Noor Van Acker',
      company: 'Aqua Atelier BV',
      lines: ['Coupure Links 88 bus 4'],
      postcode: '9000',
      city: 'Gent',
      region: '',
      country: 'BE',
    },
  })
  expect(readAddressBlock('Owen Birkett, 14 Mill Lane, Leeds, LS1 4DY, United Kingdom', 'BE').address).toEqual({
    name: 'Owen Birkett',
    company: '',
    lines: ['14 Mill Lane'],
    city: 'Leeds',
    postcode: 'LS1 4DY',
    region: '',
    country: 'GB',
  })
  expect(
    readAddressBlock('Jo Doe\n1250 Alder Street\nPortland, OR 97205\nUSA\nTel: +1 503 555 0142', 'BE'),
  ).toMatchObject({
    phone: '+1 503 555 0142',
    address: { city: 'Portland', region: 'OR', postcode: '97205', country: 'US', lines: ['1250 Alder Street'] },
  })
  expect(readAddressBlock('Kasia Nowak\nul. Długa 14\n61-501 Poznań', 'PL').address).toMatchObject({
    postcode: '61-501',
    city: 'Poznań',
    lines: ['ul. Długa 14'],
  })
  fc.assert(fc.property(fc.string({ maxLength: 300 }), (text) => void readAddressBlock(text, 'BE')))
})

test('addresses are printed in the order of their country', () => {
  const whole = { company: 'Aqua', lines: ['88 Mill Lane', 'Floor 2'], city: 'Leeds', postcode: 'LS1 4DY' }
  expect(printedAddress(address({ ...whole, country: 'GB' }))).toEqual([
    'Ann Bee',
    'Aqua',
    '88 Mill Lane',
    'Floor 2',
    'Leeds',
    'LS1 4DY',
    'UNITED KINGDOM',
  ])
  expect(printedAddress(address())).toEqual(['Ann Bee', 'Coupure Links 88', '9000 Gent', 'BELGIUM'])
  expect(
    printedAddress(
      address({ country: 'US', city: 'Portland', postcode: '97205', region: 'OR', lines: ['1250 Alder Street'] }),
    ),
  ).toEqual(['Ann Bee', '1250 Alder Street', 'Portland, OR 97205', 'UNITED STATES'])
  for (const country of ['HU', 'JP', 'BR', 'XK', 'AX', 'TR', 'IN', 'SJ', ''])
    for (const part of ['Ann Bee', 'Coupure Links 88', 'Gent', '9000'])
      expect(printedAddress(address({ country })).join('\n')).toContain(part)
})
