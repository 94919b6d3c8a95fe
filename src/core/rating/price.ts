import { type Day, monthOf } from '@/core/calendar'
import { type Conversion, convert, leastBefore, type Grams, type Millimetres, type MinorUnits } from '@/core/units'
import type { Charge, Plan } from './compileRates'
import { surchargeKinds } from './tariff'

/** What the price of a parcel rests on. Grams, millimetres, cubic millimetres. */
export interface Load {
  readonly weight: Grams
  readonly longestSide: Millimetres
  readonly girth: Millimetres
  readonly volume: number
  /** Its own dangerous goods, and whether nothing may be put on it; what all parcels share when absent. */
  readonly dangerousGoods?: readonly string[]
  readonly notStackable?: boolean
}

/** What the price of a shipment rests on besides its parcels. */
export interface Terms {
  readonly country: string
  /** As `postcodeKey` has it. */
  readonly postcode: string
  readonly postOfficeBox: boolean
  readonly residential: boolean
  readonly notStackable: boolean
  readonly dangerousGoods: readonly string[]
  readonly signature: boolean
  readonly dutiesPaid: boolean
  /** Value to be covered, and amount to collect, in minor units of the home currency. */
  readonly insured: MinorUnits
  readonly toCollect: MinorUnits
}

/** Places in the result: 0 the base after discount, then one for each kind of surcharge, then the list price. */
export const lineCount = surchargeKinds.length + 1
export const listAt = surchargeKinds.length + 1
export const billableAt = lineCount + 1
export const priceSize = lineCount + 2

/**
 * Returned instead of a cost: the zone has no price for the weight, the currency no rate, or all lines together are
 * below nothing.
 */
export const noBand = -1
export const noRate = -2
export const belowNothing = -3

/**
 * The price of a shipment by one plan, in minor units of the home currency; each line is written to `out`, and nothing
 * is allocated. Base: the band of each parcel's billable weight (or of all together), and what is due per shipment, at
 * least the minimum; less the contract's discount. Surcharges by per mille rest on the discounted base. All amounts are
 * rounded half up to the minor unit, line by line. `included` is the value that the service covers without a fee. With
 * `noBand`, the weight that has no price stands at `billableAt`, and what the scales say of it at `listAt`.
 */
export function priceInto(
  out: Float64Array,
  plan: Plan,
  zone: number,
  parcels: readonly Load[],
  terms: Terms,
  included: number,
  day: Day,
): number {
  const prices = plan.zones[zone]
  const { tariff, conversion } = plan
  out.fill(0)
  if (!prices) return noBand
  if (!conversion) return noRate
  let list = prices.perShipment
  let together = 0
  let billableSum = 0
  for (let i = 0; i < parcels.length; i++) {
    const billable = billableWeight(parcels[i]!, tariff.dimensionalDivisor, tariff.roundUpTo)
    billableSum += billable
    if (tariff.basis === 'shipment') together += billable
    else {
      const price = bandPrice(prices.upTo, prices.price, prices.stepEvery, prices.stepPrice, billable)
      if (price < 0) return withoutBand(out, billable, parcels[i]!.weight)
      list += price
    }
  }
  if (tariff.basis === 'shipment') {
    const price = bandPrice(prices.upTo, prices.price, prices.stepEvery, prices.stepPrice, together)
    if (price < 0) return withoutBand(out, together, sumOfWeights(parcels))
    list += price
  }
  if (list < prices.minimum) list = prices.minimum
  const base = list - halfUp(list * tariff.discountPermille)
  out[0] = convert(base, conversion)
  let sum = out[0]
  let listSum = convert(list, conversion)
  const { charges } = plan
  for (let i = 0; i < charges.length; i++) {
    const charge = charges[i]!
    if (day < charge.from || day > charge.until || (charge.zones !== null && charge.zones[zone] !== 1)) continue
    const times = timesDue(charge, parcels, terms, included)
    if (times === 0) continue
    const fixed = fixedAmount(charge, terms, included, plan.hundred, conversion) * times
    const permille = permilleOf(charge, day)
    const amount = convert(fixed + halfUp(base * permille), conversion)
    out[charge.kind]! += amount
    sum += amount
    listSum += convert(fixed + halfUp(list * permille), conversion)
  }
  out[listAt] = listSum
  out[billableAt] = billableSum
  return sum < 0 ? belowNothing : sum
}

function withoutBand(out: Float64Array, billable: number, weight: number): number {
  out[billableAt] = billable
  out[listAt] = weight
  return noBand
}

function sumOfWeights(parcels: readonly Load[]): number {
  let sum = 0
  for (let i = 0; i < parcels.length; i++) sum += parcels[i]!.weight
  return sum
}

/** Thousandths to whole units, half up. */
const halfUp = (thousandths: number): number => Math.floor((thousandths + 500) / 1000)

/**
 * Dimensional weight in grams: volume over the divisor (cm³ per kg, which is mm³ per gram), rounded up to the gram.
 * The divisor is part of each carrier's tariff; the formula is the trade's.
 */
export const dimensionalWeight = (volume: number, divisor: number): Grams => Math.ceil(volume / divisor - 1e-9) as Grams

/** The weight that is paid for: scales or dimensional weight, the greater, rounded up as the tariff says. */
export function billableWeight(parcel: Load, divisor: number | null, roundUpTo: number): Grams {
  let billable = parcel.weight
  if (divisor !== null) {
    const dimensional = dimensionalWeight(parcel.volume, divisor)
    if (dimensional > billable) billable = dimensional
  }
  return roundUpTo > 1 ? ((Math.ceil(billable / roundUpTo) * roundUpTo) as Grams) : billable
}

function bandPrice(
  upTo: Int32Array,
  price: Int32Array,
  stepEvery: number,
  stepPrice: number,
  billable: number,
): number {
  const last = upTo.length - 1
  if (last < 0) return noBand
  if (billable > upTo[last]!)
    return stepEvery > 0 ? price[last]! + Math.ceil((billable - upTo[last]!) / stepEvery) * stepPrice : noBand
  let low = 0
  let high = last
  while (low < high) {
    const middle = (low + high) >>> 1
    if (upTo[middle]! >= billable) high = middle
    else low = middle + 1
  }
  return price[low]!
}

/** How often a surcharge is due: for each parcel that it concerns, or once. */
function timesDue(charge: Charge, parcels: readonly Load[], terms: Terms, included: number): number {
  const { surcharge } = charge
  const { over = 0 } = surcharge
  let concerned = 0
  switch (surcharge.on) {
    case 'long':
      for (let i = 0; i < parcels.length; i++) if (parcels[i]!.longestSide > over) concerned++
      break
    case 'big':
      for (let i = 0; i < parcels.length; i++) if (parcels[i]!.girth > over) concerned++
      break
    case 'heavy':
      for (let i = 0; i < parcels.length; i++) if (parcels[i]!.weight > over) concerned++
      break
    case 'dangerous goods':
      for (let i = 0; i < parcels.length; i++)
        if (hasClass(surcharge.classes, parcels[i]!.dangerousGoods ?? terms.dangerousGoods)) concerned++
      break
    case 'not stackable':
      for (let i = 0; i < parcels.length; i++) if (parcels[i]!.notStackable ?? terms.notStackable) concerned++
      break
    default:
      concerned = applies(charge, terms, included) ? parcels.length : 0
  }
  if (surcharge.each === 'parcel') return concerned
  return concerned > 0 ? 1 : 0
}

function applies({ surcharge, areas }: Charge, terms: Terms, included: number): boolean {
  switch (surcharge.on) {
    case 'fuel':
    case 'peak':
      return true
    case 'residential':
      return terms.residential
    case 'remote':
      return isIn(areas, terms)
    case 'signature':
      return terms.signature
    case 'insurance':
      return terms.insured > included
    case 'post-office box':
      return terms.postOfficeBox
    case 'cash on delivery':
      return terms.toCollect > 0
    case 'duties paid':
      return terms.dutiesPaid
    default:
      return false
  }
}

function isIn(areas: Charge['areas'], { country, postcode }: Terms): boolean {
  const prefixes = areas?.get(country)
  if (!prefixes) return false
  for (let i = 0; i < prefixes.length; i++) if (postcode.startsWith(prefixes[i]!)) return true
  return false
}

function hasClass(classes: readonly string[] | undefined, goods: readonly string[]): boolean {
  if (!classes) return goods.length > 0
  for (let i = 0; i < goods.length; i++) if (classes.includes(goods[i]!)) return true
  return false
}

/** The fixed part once, in the tariff's currency. */
function fixedAmount(
  { surcharge }: Charge,
  terms: Terms,
  included: number,
  hundred: number,
  conversion: Conversion,
): number {
  const { amount = 0, perHundred = 0 } = surcharge
  if (perHundred === 0) return amount
  const homeValue = surcharge.on === 'cash on delivery' ? terms.toCollect : terms.insured - included
  return amount + Math.ceil(leastBefore(homeValue, conversion) / hundred) * perHundred
}

function permilleOf({ surcharge, monthly, firstMonth }: Charge, day: Day): number {
  if (!monthly) return surcharge.permille ?? 0
  const month = monthOf(day) - firstMonth
  return month < 0 ? (surcharge.permille ?? 0) : monthly[Math.min(month, monthly.length - 1)]!
}
