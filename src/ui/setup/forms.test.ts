/** @jest-environment jsdom */
import fc from 'fast-check'
import { page } from '../kit/page.test-help'
import { money, grams, measured, minorUnits } from '@/core/units'
import type { Location } from '@/core/rating'
import { demoWorld } from '../../../demo/world'
import { addressForm, addressOf, formOf as addressFormOf } from '../desk/order/addressForm'
import { locationForm, locationFormOf, withLocationValues } from './locations/locationForm'
import { outageForm, outageName, outageOf } from './outages/outageForm'
import { presetForm, presetFormOf, sizeText, withPresetValues } from './presets/presetForm'
import { sellerForm, sellerFormOf, withSellerValues, wrongRate } from './seller/sellerForm'
import { blankTariff, priceForm, priceFormOf, tariffOn, withPrices, wrongCell } from './services/priceForm'

beforeEach(() => page('en-GB'))
interface Read {
  readonly success: boolean
  readonly error?: { readonly issues: readonly { readonly path: readonly PropertyKey[]; readonly message: string }[] }
}
const wrongOf = ({ error }: Read): string =>
  (error?.issues ?? []).map(({ path, message }) => `${path.join('.')}: ${message}`).join('; ')
/** A test that a form refuses these values at their field, in a sentence. */
const refusedBy =
  (schema: { safeParse: (values: unknown) => Read }, form: () => object) =>
  (more: object, sentence: string): void =>
    expect(wrongOf(schema.safeParse({ ...form(), ...more }))).toBe(sentence)

describe('what is in the books, put into its form and read again, is the same', () => {
  test.each(['en-GB', 'de-DE', 'pl-PL'])('in %s', (locale) => {
    page(locale)
    for (const one of demoWorld.locations)
      expect(withLocationValues(one, locationForm.parse(locationFormOf(one)))).toEqual(one)
    for (const one of demoWorld.presets) expect(withPresetValues(one, presetForm.parse(presetFormOf(one)))).toEqual(one)
    for (const one of demoWorld.tariffs) {
      const zones = Object.keys(one.zones)
      expect(withPrices(one, priceForm.parse(priceFormOf(one)), zones)).toEqual(one)
    }
    const seller = {
      seller: { name: 'Mossgill', mail: 'hello@mossgill.example', units: 'metric', paper: 'A4' },
      home: 'EUR',
      micro: { GBP: 1_163_500, PLN: 234_567 },
    } as const
    expect(withSellerValues(sellerForm.parse(sellerFormOf(seller)))).toEqual(seller)
  })

  test('prices of any currency, also those without minor units and those with three', () => {
    const bands = fc.uniqueArray(fc.integer({ min: 1, max: 300 }), { minLength: 1, maxLength: 8 })
    fc.assert(
      fc.property(
        fc.constantFrom('EUR', 'JPY', 'TND'),
        bands,
        fc.nat(100_000),
        fc.constantFrom('en-GB', 'fr-FR', 'de-CH'),
        (currency, tens, price, locale) => {
          page(locale)
          const own = [...tens].sort((a, b) => a - b).map((n, i) => ({ upTo: n * 100, price: price + i }))
          const tariff = { ...blankTariff('heron-road', currency, '2026-01-01'), zones: { R1: { bands: own } } }
          expect(withPrices(tariff as never, priceForm.parse(priceFormOf(tariff as never)), ['R1'])).toEqual(tariff)
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('a location', () => {
  const form = (): ReturnType<typeof locationFormOf> => locationFormOf(demoWorld.locations[0]!)
  test.each([
    [{ name: '  ' }, 'name: Give it a name.'],
    [{ country: '' }, 'country: Choose the country.'],
    [{ lines: ' \n ' }, 'lines: Enter street and number.'],
    [{ lines: 'a\nb\nc\nd\ne' }, 'lines: At most four lines fit on a label.'],
    [{ city: '' }, 'city: Enter the town.'],
    [{ openDays: [] }, 'openDays: On one day at least.'],
    [{ closedOn: '2026-12-24, Christmas' }, 'closedOn: “Christmas” is no day such as 2026-12-24.'],
    [{ closedOn: '2026-02-30x' }, 'closedOn: “2026-02-30x” is no day such as 2026-12-24.'],
  ])('%j is refused at its field', refusedBy(locationForm, form))
  test('days without a parcel are sorted and said once; every day open is not written down', () => {
    const typed = { ...form(), closedOn: '2026-12-26; 2026-12-24\n2026-12-26', openDays: [7, 1, 2, 3, 4, 5, 6] }
    const made = withLocationValues({} as Location, locationForm.parse(typed))
    expect(made.closedOn).toEqual(['2026-12-24', '2026-12-26'])
    expect(made).not.toHaveProperty('openDays')
    expect(withLocationValues({} as Location, locationForm.parse({ ...typed, openDays: [5, 1] })).openDays).toEqual([
      1, 5,
    ])
  })
})

describe('a package preset', () => {
  const form = (): ReturnType<typeof presetFormOf> => presetFormOf(demoWorld.presets[0]!)
  test.each([
    [{ inner: '30 × 20' }, 'inner: Three sides, such as 30 × 20 × 15 cm.'],
    [{ tare: '-3 g' }, 'tare: “-3 g” is no weight such as 120 g.'],
    [{ limit: '0' }, 'limit: “0” is no weight such as 10 kg.'],
    [{ cost: 'cheap' }, 'cost: “cheap” is no amount such as 0.38.'],
    [{ stock: '1.5' }, 'stock: A number of pieces, or nothing when nobody counts them.'],
  ])('%j is refused at its field', refusedBy(presetForm, form))
  test('walls are half a centimetre where nothing is said of them; no cost and no stock are none', () => {
    const read = presetForm.parse({ ...form(), inner: '30 × 20 × 10 cm', outer: '', cost: '', stock: '', tare: '' })
    const made = withPresetValues({ ...demoWorld.presets[0]!, cost: minorUnits(5), stock: 3 }, read)
    expect(made).toMatchObject({ inner: [300, 200, 100], outer: [310, 210, 110], tare: 0 })
    expect(made).not.toHaveProperty('cost')
    expect(made).not.toHaveProperty('stock')
  })
  test('sides of one unit name it once', () => {
    expect(sizeText(measured([300, 200, 150]))).toBe('30 × 20 × 15 cm')
    page('en-US', 'USD', 'imperial')
    expect(sizeText(measured([254, 254, 254]))).toMatch(/^10 × 10 × 10 in/)
    expect(wrongOf(presetForm.safeParse({ ...form(), inner: 'small' }))).toContain('12 × 9 × 4 in')
  })
})

describe('prices of a service', () => {
  const [tariff] = demoWorld.tariffs
  const zones = Object.keys(tariff!.zones)
  test.each([
    ['weight', 'heavy', '“heavy” is no weight such as 2 kg.'],
    ['weight', '0', '“0” is no weight such as 2 kg.'],
    ['R1', 'free', '“free” is no price such as 4.90.'],
    ['R1', '-1', '“-1” is no price such as 4.90.'],
    ['R1', '', undefined],
    ['R1', '0', undefined],
  ])('in the column %s “%s” says %s', (column, text, sentence) =>
    expect(wrongCell({ weight: '1 kg', [column]: text }, column, 'EUR')).toBe(sentence),
  )
  test('a cell that makes no sense keeps all from being saved; rows come into their order', () => {
    const typed = priceForm.parse({
      currency: 'EUR',
      divisor: '5000',
      roundUpTo: '',
      rows: [
        { weight: '2 kg', R1: '5' },
        { weight: '500 g', R1: '3' },
      ],
    })
    expect(withPrices(tariff!, { ...typed, rows: [...typed.rows, { weight: 'x' }] }, zones)).toBeNull()
    expect(withPrices(tariff!, typed, ['R1'])).toMatchObject({
      dimensionalDivisor: 5000,
      roundUpTo: 1,
      zones: {
        R1: {
          bands: [
            { upTo: 500, price: 300 },
            { upTo: 2000, price: 500 },
          ],
        },
      },
    })
    expect(wrongOf(priceForm.safeParse({ ...typed, divisor: '1', roundUpTo: '', rows: [] }))).toContain(
      'A whole number',
    )
  })
  test('a divisor in cubic inches that was only looked at stays as it was', () => {
    page('en-US', 'USD', 'imperial')
    const metric = { ...tariff!, dimensionalDivisor: 5000 }
    const form = priceFormOf(metric)
    expect(form.divisor).toBe('138')
    expect(withPrices(metric, priceForm.parse(form), zones)!.dimensionalDivisor).toBe(5000)
    expect(withPrices(metric, priceForm.parse({ ...form, divisor: '139' }), zones)!.dimensionalDivisor).toBeCloseTo(
      5021.6,
      0,
    )
  })
  test('the tariff of a day is the last that has begun, else the first to come', () => {
    const of = (from: string) => ({
      ...blankTariff('heron-road', 'EUR', from),
      discountPermille: Number(from.slice(8)),
    })
    const all = [of('2026-06-03'), of('2026-01-01'), of('2026-03-02')]
    expect(tariffOn(all, 'heron-road', '2026-04-01')!.from).toBe('2026-03-02')
    expect(tariffOn(all, 'heron-road', '2025-04-01')!.from).toBe('2026-01-01')
    expect(tariffOn(all, 'corvid-letter', '2026-04-01')).toBeUndefined()
  })
})

describe('the seller', () => {
  const form = { name: 'M', mail: '', home: 'eur ', units: 'metric', paper: 'A4', gs1Prefix: '', rates: [] } as const
  test('what is wrong is said at its field, of rates with their row', () => {
    expect(wrongOf(sellerForm.safeParse({ ...form, mail: 'at home' }))).toContain('mail: An e-mail address')
    expect(wrongOf(sellerForm.safeParse({ ...form, home: 'EURO' }))).toBe('home: A currency code such as EUR.')
    expect(wrongOf(sellerForm.safeParse({ ...form, gs1Prefix: '123' }))).toBe('gs1Prefix: 4 to 12 digits, or nothing.')
    const rates = [
      { currency: 'GBP', rate: '1.1635' },
      { currency: 'nix', rate: '1' },
      { currency: 'PLN', rate: '-1' },
      { currency: 'USD', rate: '' },
    ]
    const said = wrongOf(sellerForm.safeParse({ ...form, rates }))
    expect(said).toContain('Row 2: “nix” is no currency code such as GBP.')
    expect(said).toContain('Row 3: “-1” is no rate such as 1.1635.')
    expect(said).toContain('Row 4')
    expect(said).not.toContain('Row 1')
    expect(wrongRate({ currency: 'gbp', rate: '0.0000001' })).toBeDefined()
  })
  test('codes are read in small letters, rates in the reader’s own way', () => {
    page('de-DE')
    const read = sellerForm.parse({ ...form, rates: [{ currency: 'gbp', rate: '1,1635' }] })
    expect(withSellerValues(read)).toMatchObject({ home: 'EUR', micro: { GBP: 1_163_500 } })
    expect(withSellerValues(read).seller).not.toHaveProperty('gs1Prefix')
  })
})

test('an outage ends after it begins; what it is of is named with blanks in it', () => {
  const form = { of: outageName('service', 'heron road'), from: '', until: '2026-12-01T06:00', note: '' }
  expect(outageForm.safeParse(form).success).toBe(true)
  expect(outageOf(form.of)).toEqual({ what: 'service', of: 'heron road' })
  expect(wrongOf(outageForm.safeParse({ ...form, from: '2026-12-02T06:00' }))).toBe('until: It ends before it begins.')
  expect(wrongOf(outageForm.safeParse({ ...form, of: '', until: 'Monday' }))).toContain('Choose a day and a time.')
})

test('an address is typed as lines and read as lines', () => {
  const address = {
    name: 'Noor',
    company: '',
    lines: ['Kouter 1', 'Bus 2'],
    postcode: '9000',
    city: 'Gent',
    region: '',
    country: 'BE',
  }
  expect(
    addressOf(addressForm.parse({ ...addressFormOf(address as never), country: 'be', lines: ' Kouter 1 \n\n Bus 2' })),
  ).toEqual(address)
  const wrong = wrongOf(addressForm.safeParse({ ...addressFormOf(address), name: ' ', lines: '', country: 'Belgium' }))
  for (const field of ['name: ', 'lines: ', 'country: Two letters']) expect(wrong).toContain(field)
})

test('money of a tariff is of its own currency', () => {
  page('en-GB', 'GBP')
  expect(
    priceFormOf({
      ...blankTariff('s', 'JPY', '2026-01-01'),
      zones: { A: { bands: [{ upTo: grams(1000), price: money(500, 'JPY').minor }] } },
    }).rows,
  ).toEqual([{ weight: '1 kg', A: '500' }])
})
