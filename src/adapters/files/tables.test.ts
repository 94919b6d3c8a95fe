import { measured } from '@/core/units'
import fc from 'fast-check'
import { readSheet, csvFile, xlsxFile } from './spreadsheet'
import {
  checkTariffs,
  readTariffTable,
  type Surcharge,
  surchargeKinds,
  type Tariff,
  tariffColumns,
  writeTariffTable,
} from '@/core/rating'
import { cleanText, handlings, type ItemCard, itemColumns, readItemTable, writeItemTable } from '@/core/order'

/* What Gharry writes it reads, as a file of either kind: all values that a card or a tariff can have. */

const anyWord = fc
  .oneof(
    fc.string({ unit: 'grapheme', maxLength: 30 }),
    fc.constantFrom(
      '–',
      '-',
      '--',
      '=SUM(A1)',
      "'=x",
      "''",
      '+49 170',
      '@home',
      'a,b',
      '1,000 kg',
      '"',
      ' x ',
      '\ttab',
    ),
  )
  .map((text) => cleanText(text).slice(0, 60))
  .map((text) => cleanText(text))
// The package that writes spreadsheets keeps texts in a plain object, and stumbles over the names that objects have.
const word = anyWord.map((text) => (text in {} ? '' : text))
const tag = word.map((text) => text.replaceAll(';', '').trim()).filter((text) => text !== '')
const card: fc.Arbitrary<ItemCard> = fc
  .record({
    sku: word.filter((text) => text !== ''),
    title: word,
    weight: fc.oneof(fc.integer({ min: 0, max: 3_000_000 }), fc.constantFrom(1_000_000, 1_234_567, 1000, 999)),
    size: fc.tuple(
      fc.integer({ min: 1, max: 30_000 }),
      fc.integer({ min: 1, max: 30_000 }),
      fc.integer({ min: 1, max: 30_000 }),
    ),
    tags: fc.uniqueArray(tag, { maxLength: 3 }),
    dangerousGoods: fc.constantFrom('', 'UN 3481'),
    hsCode: fc.constantFrom('', '0602.90'),
    origin: fc.constantFrom('', 'PL'),
    handling: fc.subarray([...handlings]),
  })
  .map(({ handling, ...rest }) => measured<ItemCard>({ ...rest, ...(handling.length > 0 ? { handling } : {}) }))

const minor = fc.integer({ min: 0, max: 99_999_999 })
const surcharge: fc.Arbitrary<Surcharge> = fc
  .record({ on: fc.constantFrom(...surchargeKinds), each: fc.constantFrom('parcel' as const, 'shipment' as const) }, {})
  .chain(({ on, each }) =>
    fc
      .record(
        {
          amount: fc.integer({ min: -9_999_999, max: 9_999_999 }),
          permille: fc.integer({ min: -5000, max: 5000 }),
          perHundred: fc.integer({ min: -9999, max: 9999 }),
          over: fc.oneof(fc.constantFrom(0, 1_000_000, 12_345), fc.integer({ min: 0, max: 2_000_000 })),
          zones: fc.constant(['Z1', 'Z2']),
          classes: fc.constant(['UN 1013', 'UN 3481']),
          from: fc.constant('2026-02-28'),
          until: fc.constant('2026-12-31'),
          areas: fc.constant([
            { country: 'GB', prefixes: ['BT', 'IM1'] },
            { country: 'FR', prefixes: ['20'] },
          ]),
          months: fc.constant({ '2026-11': 85, '2026-12': -20 }),
        },
        { requiredKeys: [] },
      )
      .map((rest) => measured<Surcharge>({ on, each, ...rest })),
  )
const tariff: fc.Arbitrary<Tariff> = fc
  .record({
    service: fc.constantFrom('a', 'b'),
    from: fc.constantFrom('2026-01-01', '2027-01-01'),
    until: fc.constantFrom(null, '2027-12-31'),
    currency: fc.constantFrom('EUR', 'JPY', 'KWD'),
    basis: fc.constantFrom('parcel' as const, 'shipment' as const),
    dimensionalDivisor: fc.constantFrom(null, 5000),
    roundUpTo: fc.constantFrom(1, 500, 1000, 1_000_000),
    discountPermille: fc.integer({ min: 0, max: 1000 }),
    zones: fc.dictionary(
      fc.constantFrom('Z1', 'Z2', 'Z 3'),
      fc.record(
        {
          bands: fc.array(
            fc.record({
              upTo: fc.oneof(
                fc.constantFrom(1_000_000, 1_234_567, 2_000_000_000),
                fc.integer({ min: 1, max: 3_000_000 }),
              ),
              price: minor,
            }),
            { minLength: 1, maxLength: 3 },
          ),
          step: fc.record({ every: fc.constantFrom(1000, 1_000_000), price: minor }),
          perShipment: minor,
          minimum: minor,
        },
        { requiredKeys: ['bands'] },
      ),
      { minKeys: 1, maxKeys: 3, noNullPrototype: true },
    ),
    surcharges: fc.array(surcharge, { maxLength: 4 }),
  })
  .map((plain) => measured<Tariff>(plain))

const files = async (
  name: string,
  columns: readonly string[],
  rows: readonly Readonly<Record<string, string | undefined>>[],
): Promise<Buffer[]> => [csvFile(columns, rows), await xlsxFile(name, columns, rows)]

test('items', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(card, { minLength: 1, maxLength: 5, selector: ({ sku }) => sku }),
      async (cards) => {
        for (const file of await files('Items', itemColumns, writeItemTable(cards))) {
          const sheet = await readSheet(file, itemColumns, ['sku'])
          if (!sheet.ok) throw new Error(sheet.sentence)
          expect(readItemTable(sheet.rows, [])).toEqual({ cards, problems: [] })
        }
      },
    ),
    { numRuns: 12, endOnFailure: true },
  )
}, 60_000)

test('tariffs', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(tariff, { minLength: 1, maxLength: 2, selector: ({ service, from }) => `${service} ${from}` }),
      async (tariffs) => {
        // A month belongs to the last surcharge of its kind.
        fc.pre(tariffs.every(({ surcharges }) => new Set(surcharges.map(({ on }) => on)).size === surcharges.length))
        for (const file of await files('Tariffs', tariffColumns, writeTariffTable(tariffs))) {
          const sheet = await readSheet(file, tariffColumns, ['row'])
          if (!sheet.ok) throw new Error(sheet.sentence)
          expect(readTariffTable(sheet.rows)).toEqual({ tariffs, problems: [] })
        }
      },
    ),
    { numRuns: 12, endOnFailure: true },
  )
  expect(checkTariffs([], [], () => true)).toEqual([])
}, 60_000)
