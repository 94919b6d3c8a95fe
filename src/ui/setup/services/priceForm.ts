import { z } from 'zod'
import type { Tariff, ZonePrice } from '@/core/rating'
import { grams, minorDigits } from '@/core/units'
import { weightText } from '../../kit/format'
import { notation, units } from '../../kit/locale'
import { typedAmount, typedWeight } from '../../kit/read'
import type { CellRow } from '../../kit/CellTable'
import { orEmpty, weightField } from '../../kit/typedFields'

/** Prices as they are typed: a row for each weight, a column for each zone. */
export const priceForm = z.object({
  currency: z.string(),
  divisor: orEmpty(
    z
      .string()
      .regex(/^\s*\d{2,5}\s*$/, 'A whole number, as the carrier’s papers say it.')
      .transform(Number),
    null,
  ),
  roundUpTo: orEmpty(weightField('100 g'), grams(1)),
  rows: z.array(z.record(z.string(), z.string())),
})
export type PriceForm = z.input<typeof priceForm>
export type PriceValues = z.output<typeof priceForm>

// 1 in³ for a pound, in cm³ for a kilogram (1959 yard and pound agreement).
const perImperial = 2.54 ** 3 / 0.45359237
const divisorUnit = (): number => (units() === 'imperial' ? perImperial : 1)

/** A tariff of a service that has none, from a day on. */
export const blankTariff = (service: string, currency: string, from: string): Tariff => ({
  ...{ service, from, until: null, currency, basis: 'parcel', dimensionalDivisor: null, roundUpTo: grams(1) },
  ...{ discountPermille: 0, zones: {}, surcharges: [] },
})

/** The tariff that holds on a day, else the first one to come. */
export const tariffOn = (tariffs: readonly Tariff[], service: string, day: string): Tariff | undefined => {
  const own = tariffs.filter((tariff) => tariff.service === service).sort((a, b) => (a.from < b.from ? -1 : 1))
  return own.filter(({ from }) => from <= day).at(-1) ?? own[0]
}

const priceText = (minor: number, currency: string): string =>
  notation().number(minor / 10 ** minorDigits(currency), minorDigits(currency))

export function priceFormOf(tariff: Tariff): PriceForm {
  const weights = [...new Set(Object.values(tariff.zones).flatMap(({ bands }) => bands.map(({ upTo }) => upTo)))]
  return {
    currency: tariff.currency,
    divisor: tariff.dimensionalDivisor === null ? '' : String(Math.round(tariff.dimensionalDivisor / divisorUnit())),
    roundUpTo: tariff.roundUpTo <= 1 ? '' : weightText(tariff.roundUpTo),
    rows: weights
      .sort((a, b) => a - b)
      .map((upTo) => ({
        weight: weightText(upTo),
        ...Object.fromEntries(
          Object.entries(tariff.zones).flatMap(([zone, { bands }]) => {
            const band = bands.find((each) => each.upTo === upTo)
            return band ? [[zone, priceText(band.price, tariff.currency)]] : []
          }),
        ),
      })),
  }
}

/** What is wrong with a cell; undefined when nothing is. An empty price is none for that weight. */
export function wrongCell(row: CellRow, column: string, currency: string): string | undefined {
  const text = (row[column] ?? '').trim()
  if (column === 'weight')
    return (typedWeight(text, 'kg') ?? 0) > 0 ? undefined : `“${text}” is no weight such as ${weightText(2000)}.`
  if (text === '') return undefined
  return (typedAmount(text, currency) ?? -1) >= 0 ? undefined : `“${text}” is no price such as 4.90.`
}

/** The tariff with what was typed; null while a cell makes no sense. What else it holds stays. */
export function withPrices(tariff: Tariff, values: PriceValues, zones: readonly string[]): Tariff | null {
  const { currency, rows } = values
  if (rows.some((row) => ['weight', ...zones].some((column) => wrongCell(row, column, currency) !== undefined)))
    return null
  const weighed = rows
    .map((row) => ({ row, upTo: typedWeight(row.weight ?? '', 'kg')! }))
    .sort((a, b) => a.upTo - b.upTo)
  const priced = zones.flatMap((zone): [string, ZonePrice][] => {
    const bands = weighed.flatMap(({ row, upTo }) => {
      const text = (row[zone] ?? '').trim()
      return text === '' ? [] : [{ upTo, price: typedAmount(text, currency)! }]
    })
    return bands.length === 0 ? [] : [[zone, { ...tariff.zones[zone], bands }]]
  })
  return {
    ...tariff,
    currency,
    dimensionalDivisor: divisorOf(tariff, values.divisor),
    roundUpTo: values.roundUpTo,
    zones: Object.fromEntries(priced),
  }
}

/** The divisor as it was where it is still the one that was shown. */
function divisorOf(tariff: Tariff, typed: number | null): number | null {
  if (typed === null) return null
  return priceFormOf(tariff).divisor === String(typed) ? tariff.dimensionalDivisor : typed * divisorUnit()
}
