import { measured } from '@/core/units'
import { demoServices, demoTariffs } from '../../../demo/carriers'
import { checkTariffs } from './checkTariffs'
import type { Tariff } from './tariff'
import { differencesOf, mergeTariffs } from './tariffDifference'
import { readTariffTable, type TableRow, tariffColumns, writeTariffTable } from './tariffTable'

const rowsOf = (tariffs: readonly Tariff[]): { line: number; cells: TableRow }[] =>
  writeTariffTable(tariffs).map((cells, i) => ({ line: i + 2, cells }))
const read = (...rows: TableRow[]): ReturnType<typeof readTariffTable> =>
  readTariffTable(rows.map((cells, i) => ({ line: i + 2, cells })))
const head: TableRow = { row: 'tariff', service: 'heron-road', from: '2027-01-01' }
const row = (kind: string, more: TableRow): TableRow => ({
  row: kind,
  service: 'heron-road',
  from: '2027-01-01',
  ...more,
})

test('a tariff written as a table and read again is the same', () => {
  expect(readTariffTable(rowsOf(demoTariffs))).toEqual({ tariffs: demoTariffs, problems: [] })
  for (const cells of writeTariffTable(demoTariffs))
    expect(Object.keys(cells).filter((name) => !tariffColumns.some((column) => column === name))).toEqual([])
})

test('what cannot be read is named with its line and column', () => {
  const { problems } = read(
    row('price', { zone: 'R1', weight: '2 kg', price: '4.90' }),
    head,
    head,
    row('price', { zone: 'R1', weight: 'two kilos', price: '4.90' }),
    row('price', { zone: 'R1', weight: '2 kg', price: '-4.90' }),
    row('price', { weight: '2 kg', price: '4,9o' }),
    row('surcharge', { on: 'weather' }),
    row('surcharge', { on: 'long', over: '120 kg' }),
    row('month', { on: 'fuel', month: '2026-13' }),
    row('surcharge', { on: 'remote', areas: 'France 20' }),
    row('total', {}),
    { row: 'tariff', service: 'x', from: '2026-02-30', currency: 'euro' },
    { ...row('tariff', {}), from: '2027-02-01', discount: 'much', basis: 'pallet', until: 'never' },
  )
  expect(problems.map(({ line, column }) => `${line} ${column}`)).toEqual([
    '2 row',
    '4 row',
    '5 weight',
    '6 price',
    '7 zone',
    '7 price',
    '8 on',
    '9 over',
    '10 on',
    '11 areas',
    '12 row',
    '13 from',
    '14 basis',
    '14 until',
    '14 discount',
  ])
  expect(problems.every(({ sentence }) => sentence.length > 10)).toBe(true)
})

test('the demo’s tariffs are sound; gaps, overlaps, negative prices and missing zones are told', () => {
  const rate = (currency: string): boolean => currency === 'EUR' || currency === 'USD'
  expect(checkTariffs(demoTariffs, demoServices, rate).filter(({ severity }) => severity === 'error')).toEqual([])
  const [letter] = demoTariffs.filter(({ service }) => service === 'corvid-letter')
  const wrong = measured<Tariff>({
    ...letter!,
    until: '2024-01-01',
    currency: 'XTS',
    zones: {
      P1: {
        bands: [
          { upTo: 1000, price: 500 },
          { upTo: 500, price: -1 },
          { upTo: 500, price: 400 },
        ],
      },
      P2: { bands: [] },
      Q: { bands: [{ upTo: 2000, price: 1 }] },
    },
    surcharges: [
      { on: 'long', each: 'parcel' },
      { on: 'remote', each: 'parcel', amount: 1 },
      { on: 'peak', each: 'parcel', amount: 1, from: '2026-02-01', until: '2026-01-01', zones: ['nowhere'] },
    ],
  })
  const sentences = checkTariffs([wrong, wrong, { ...letter!, service: 'gone' }], demoServices, rate).map(
    ({ severity, sentence }) => `${severity}: ${sentence}`,
  )
  for (const part of [
    'no exchange rate for XTS',
    'before it begins',
    'negative',
    'two bands up to 500 g',
    'comes after',
    'Zone P3 has no prices',
    'no zone Q',
    'no weight band',
    'above what it is due',
    'has no areas',
    'ends before it begins',
    'names zone nowhere',
    'no service "gone"',
    'Two tariffs begin',
    'never offered',
  ])
    expect(sentences.some((sentence) => sentence.includes(part))).toBe(true)
  const gap = checkTariffs(
    [
      { ...letter!, until: '2025-06-30' },
      { ...letter!, from: '2025-08-01', until: '2026-12-31' },
      { ...letter!, from: '2026-10-01' },
    ],
    demoServices,
    rate,
  )
    .filter(({ service }) => service === 'corvid-letter')
    .map(({ sentence }) => sentence)
  expect(gap).toEqual([
    'From 2025-07-01 to the day before 2025-08-01 there is no tariff.',
    'It and the one from 2026-10-01 hold on the same days: the later one counts.',
  ])
})

test('a file’s tariffs take the place of their own kind, and the difference is readable', () => {
  const [, road] = demoTariffs
  const dearer = measured<Tariff>({
    ...road!,
    zones: {
      ...road!.zones,
      R1: { bands: road!.zones.R1!.bands.map((band, i) => (i === 0 ? { ...band, price: 510 } : band)), minimum: 500 },
    },
    surcharges: road!.surcharges.slice(1),
  })
  const later: Tariff = { ...dearer, from: '2027-01-01' }
  const merged = mergeTariffs(demoTariffs, [dearer, later])
  expect(merged).toHaveLength(demoTariffs.length + 1)
  const found = differencesOf(demoTariffs, merged)
  expect(found).toContainEqual({
    kind: 'changed',
    service: 'heron-road',
    from: '2026-10-01',
    what: 'zone R1 up to 2 kg',
    before: '4.90',
    after: '5.10',
  })
  expect(found).toContainEqual({
    kind: 'added',
    service: 'heron-road',
    from: '2026-10-01',
    what: 'zone R1 minimum',
    before: '',
    after: '5.00',
  })
  expect(found.filter(({ what }) => what.startsWith('fuel in') || what === 'surcharge fuel')).toHaveLength(4)
  expect(found.filter(({ what }) => what === 'the whole tariff')).toEqual([
    expect.objectContaining({ kind: 'added', from: '2027-01-01' }),
  ])
  expect(differencesOf(demoTariffs, mergeTariffs(demoTariffs, [...demoTariffs]))).toEqual([])
})
