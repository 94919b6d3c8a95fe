import { type Day, dayOf, dayText, type LocalTime } from '@/core/calendar'
import { postcodeKey } from '@/core/order'
import type { Parcel } from '@/core/packing'
import { formatLength, formatMoney, formatWeight, money, type Grams, type MinorUnits, minorUnits } from '@/core/units'
import { type End, endOf, type Lane, planOn, type RateBook } from './compileRates'
import { arrivesAfter, daysOf, leavesAfter, neverLeaves } from './transitDays'
import { billableAt, lineCount, listAt, noBand, noRate, priceInto, priceSize, type Terms } from './price'
import { type Location, type Offer, type SurchargeKind, surchargeKinds } from './tariff'

export interface CostLine {
  readonly what: 'base' | SurchargeKind
  readonly minor: MinorUnits
}

export interface Quote {
  readonly service: string
  readonly carrier: string
  readonly zone: string
  /** Grams that the price is for: scales or dimensional weight, the greater, of all parcels. */
  readonly billable: Grams
  readonly lines: readonly CostLine[]
  readonly cost: MinorUnits
  /** What it would cost without the contract's discount. */
  readonly list: MinorUnits
  readonly leavesOn: string
  readonly arrivesOn: string
  /**
   * Per mille of shipments of this service to this zone that arrived by the foreseen day; null when too few are known.
   */
  readonly onTime: number | null
  readonly tracked: boolean
  /** The buyer fetches it: it is chosen only when it is named. */
  readonly fetched?: boolean
}

export type RefusalCode =
  | 'switched-off'
  | 'unprotected'
  | 'unknown-carrier'
  | 'location'
  | 'not-covered'
  | 'domestic-only'
  | 'too-heavy'
  | 'too-long'
  | 'too-big'
  | 'too-voluminous'
  | 'too-many'
  | 'post-office-box'
  | 'dangerous-goods'
  | 'no-signature'
  | 'no-cover'
  | 'no-offer'
  | 'collects-less'
  | 'no-tariff'
  | 'no-band'
  | 'no-price'
  | 'no-rate'
  | 'never-collects'
  | 'too-slow'
  | 'late-for-channel'
  | 'barred'
  | 'not-allowed'
  | 'too-dear'

export interface Refusal {
  readonly service: string
  readonly carrier: string
  readonly code: RefusalCode
  readonly sentence: string
}

export interface Shipment {
  readonly parcels: readonly Parcel[]
  readonly from: Location
  readonly to: {
    readonly country: string
    readonly postcode: string
    readonly postOfficeBox: boolean
    readonly residential?: boolean
  }
  readonly dangerousGoods: readonly string[]
  readonly notStackable?: boolean
  readonly signature: boolean
  /** What the service must offer besides a signature. */
  readonly needs?: readonly Offer[]
  /** Most days from leaving to arrival. */
  readonly within?: number | null
  /** The day (`YYYY-MM-DD`) by which the channel demands arrival; empty or absent for none. */
  readonly demandedBy?: string
  /** The channel that demands a service for which it bears claims; empty or absent for none. */
  readonly protectedBy?: string
  /** The only carriers that the channel knows; null or absent where it takes any. */
  readonly carriers?: readonly string[] | null
  /** Value to be covered, and amount to collect, in minor units of the home currency; 0 for none. */
  readonly insured: MinorUnits
  readonly toCollect?: MinorUnits
  readonly ready: LocalTime
}

/** A shipment as the checks and the price read it: everything worked out once for all services. */
export interface Asked extends Terms {
  readonly location: string
  readonly from: string
  /** The postcode as it is in the address, for sentences. */
  readonly place: string
  readonly needs: readonly Offer[]
  readonly within: number
  /** Infinity when the channel demands nothing. */
  readonly demandedBy: Day
  readonly protectedBy: string
  readonly carriers: readonly string[] | null
  readonly ready: LocalTime
  readonly parcels: readonly Parcel[]
}

/** Quotes every service for a shipment; each one that cannot carry it is refused with its reason and by how much. */
export function quoteAll(book: RateBook, shipment: Shipment): { quotes: Quote[]; refusals: Refusal[] } {
  const quotes: Quote[] = []
  const refusals: Refusal[] = []
  const asked = askedOf(shipment)
  for (const lane of book.lanes) {
    const result = quoteOne(book, lane, asked, shipment.from)
    if ('code' in result) refusals.push(result)
    else quotes.push(result)
  }
  return { quotes, refusals }
}

/** Where the arrival day stands in what `costOf` writes. */
export const arrivesAt = priceSize
export const costSize = priceSize + 1

/** Not quoted: the service does not take the shipment, or has no price for it. */
export const noQuote = -1

/**
 * What a service asks for a shipment, in minor units of the home currency; `noQuote` when it does not take it. Lines
 * and arrival day are written to `out`; nothing is allocated.
 */
export function costOf(book: RateBook, lane: Lane, end: End | null, asked: Asked, out: Float64Array): number {
  if (obstacle(lane, end, asked) !== null) return noQuote
  const days = daysOf(book, lane, asked.location, asked.from, asked.country, end!, asked.ready)
  if (tooLate(days, asked) !== null) return noQuote
  const leaves = asked.ready.day + leavesAfter(days)
  const plan = planOn(lane, leaves)
  const cost = plan
    ? priceInto(out, plan, end!.zone, asked.parcels, asked, lane.service.cover.included, leaves)
    : noQuote
  out[arrivesAt] = asked.ready.day + arrivesAfter(days)
  return cost < 0 ? noQuote : cost
}

/** Where a shipment ends for a service; null when it does not collect at the location, or does not go there. */
export const endFor = (lane: Lane, from: Location, country: string, postcode: string): End | null =>
  lane.collections.has(from.id) ? endOf(lane, from.country, country, postcodeKey(postcode)) : null

/**
 * The least that any service that sends asks for a shipment, in minor units of the home currency; Infinity when none
 * carries it.
 */
export function leastCost(book: RateBook, shipment: Shipment): number {
  const asked = askedOf(shipment)
  let least = Infinity
  for (const lane of book.lanes) {
    if (lane.service.fetched) continue
    const cost = costOf(book, lane, endFor(lane, shipment.from, asked.country, asked.postcode), asked, scratch)
    if (cost !== noQuote && cost < least) least = cost
  }
  return least
}

const scratch = new Float64Array(costSize)

/** A shipment as `costOf` and `quoteOne` read it. */
export function askedOf(shipment: Shipment): Asked {
  const { to, from } = shipment
  const needs = shipment.needs ?? []
  return {
    country: to.country,
    postcode: postcodeKey(to.postcode),
    place: to.postcode,
    postOfficeBox: to.postOfficeBox,
    residential: to.residential ?? false,
    notStackable: shipment.notStackable ?? false,
    dangerousGoods: shipment.dangerousGoods,
    signature: shipment.signature,
    dutiesPaid: needs.includes('duties paid'),
    insured: shipment.insured,
    toCollect: shipment.toCollect ?? minorUnits(0),
    location: from.id,
    from: from.country,
    needs,
    protectedBy: shipment.protectedBy ?? '',
    carriers: shipment.carriers ?? null,
    within: shipment.within ?? Infinity,
    demandedBy: shipment.demandedBy ? dayOf(shipment.demandedBy) : Infinity,
    ready: shipment.ready,
    parcels: shipment.parcels,
  }
}

/**
 * What keeps a service from taking a shipment, apart from days and prices; the gravest first. Null when nothing does.
 */
export function obstacle({ service, collections }: Lane, end: End | null, asked: Asked): RefusalCode | null {
  const { limits } = service
  const { parcels } = asked
  if (!collections.has(asked.location)) return 'location'
  if (service.off !== undefined) return 'switched-off'
  if (limits.domesticOnly && asked.country !== asked.from) return 'domestic-only'
  if (!end) return 'not-covered'
  if (asked.postOfficeBox && !limits.postOfficeBox) return 'post-office-box'
  if (limits.parcels !== undefined && parcels.length > limits.parcels) return 'too-many'
  for (let i = 0; i < parcels.length; i++) {
    const parcel = parcels[i]!
    if (parcel.weight > limits.weight) return 'too-heavy'
    if (parcel.longestSide > limits.longestSide) return 'too-long'
    if (parcel.girth > limits.girth) return 'too-big'
    if (limits.volume !== undefined && parcel.volume > limits.volume) return 'too-voluminous'
  }
  for (let i = 0; i < asked.dangerousGoods.length; i++)
    if (!limits.dangerousGoods.includes(asked.dangerousGoods[i]!)) return 'dangerous-goods'
  if (asked.signature && !service.offers.includes('signature')) return 'no-signature'
  if (asked.insured > service.cover.upTo) return 'no-cover'
  const unwanted = againstChannel(service, asked)
  if (unwanted !== null) return unwanted
  for (let i = 0; i < asked.needs.length; i++) if (!service.offers.includes(asked.needs[i]!)) return 'no-offer'
  if (limits.cashOnDelivery !== undefined && asked.toCollect > limits.cashOnDelivery) return 'collects-less'
  return null
}

/** What the channel of the order has against a service. */
function againstChannel(service: Lane['service'], { protectedBy, carriers }: Asked): RefusalCode | null {
  if (protectedBy !== '' && !service.claimsBorneBy?.includes(protectedBy)) return 'unprotected'
  return carriers !== null && !carriers.includes(service.carrier) ? 'unknown-carrier' : null
}

/** What the calendar has against it. */
export function tooLate(days: number, asked: Asked): RefusalCode | null {
  if (days === neverLeaves) return 'never-collects'
  if (arrivesAfter(days) - leavesAfter(days) > asked.within) return 'too-slow'
  return asked.ready.day + arrivesAfter(days) > asked.demandedBy ? 'late-for-channel' : null
}

/** One service's quote for a shipment from a location, or why it gives none. */
export function quoteOne(book: RateBook, lane: Lane, asked: Asked, from: Location): Quote | Refusal {
  const { service } = lane
  const end = endFor(lane, from, asked.country, asked.postcode)
  const refuse = (code: RefusalCode, arrives = 0, billable = 0, weighed = 0): Refusal => ({
    service: service.id,
    carrier: service.carrier,
    code,
    sentence: sentenceOf(code, lane, asked, {
      home: book.home,
      place: from.name,
      zone: end ? lane.zones[end.zone]! : '',
      arrives,
      billable,
      weighed,
    }),
  })
  const against = obstacle(lane, end, asked)
  if (against !== null) return refuse(against)
  const days = daysOf(book, lane, asked.location, asked.from, asked.country, end!, asked.ready)
  const late = tooLate(days, asked)
  if (late !== null) return refuse(late, days)
  const leaves = asked.ready.day + leavesAfter(days)
  const plan = planOn(lane, leaves)
  if (!plan) return refuse('no-tariff', days)
  const cost = priceInto(scratch, plan, end!.zone, asked.parcels, asked, service.cover.included, leaves)
  if (cost < 0) return refuse(noPriceCode(cost), days, scratch[billableAt], scratch[listAt])
  const lines: CostLine[] = [{ what: 'base', minor: scratch[0] as MinorUnits }]
  for (let kind = 1; kind < lineCount; kind++)
    if (scratch[kind] !== 0) lines.push({ what: surchargeKinds[kind - 1]!, minor: scratch[kind] as MinorUnits })
  const onTime = lane.onTime[end!.zone]!
  return {
    service: service.id,
    carrier: service.carrier,
    zone: lane.zones[end!.zone]!,
    billable: scratch[billableAt] as Grams,
    lines,
    cost: cost as MinorUnits,
    list: scratch[listAt] as MinorUnits,
    leavesOn: dayText(leaves),
    arrivesOn: dayText(asked.ready.day + arrivesAfter(days)),
    onTime: onTime < 0 ? null : onTime,
    tracked: service.offers.includes('tracking'),
    ...(service.fetched ? { fetched: true } : {}),
  }
}

interface Said {
  readonly home: string
  readonly place: string
  readonly zone: string
  readonly arrives: number
  readonly billable: number
  readonly weighed: number
}

/** A refusal in words: what the service takes, and by how much this is more. */
function sentenceOf(
  code: RefusalCode,
  { service }: Lane,
  asked: Asked,
  { home, place, zone, arrives, billable, weighed }: Said,
): string {
  const { limits, cover } = service
  const most = (of: (parcel: Parcel) => number): number =>
    asked.parcels.reduce((found, parcel) => Math.max(found, of(parcel)), 0)
  const amount = (minor: number): string => formatMoney(money(minor, home))
  switch (code) {
    case 'switched-off':
      return `is switched off until ${service.off}`
    case 'location':
      return `does not collect in ${place}`
    case 'domestic-only':
      return 'stays within the country'
    case 'not-covered':
      return `does not go from ${asked.from} to ${asked.country || 'an unknown country'} ${asked.place}`.trimEnd()
    case 'post-office-box':
      return 'does not deliver to post-office boxes'
    case 'too-many':
      return `takes ${limits.parcels === 1 ? 'one parcel' : `${limits.parcels} parcels`} in a shipment, there are ${asked.parcels.length}`
    case 'too-heavy':
      return `takes ${formatWeight(limits.weight)}, the parcel is ${formatWeight(most((parcel) => parcel.weight) - limits.weight)} over`
    case 'too-long':
      return `takes sides up to ${formatLength(limits.longestSide)}, the parcel is ${formatLength(most((parcel) => parcel.longestSide) - limits.longestSide)} over`
    case 'too-big':
      return `takes ${formatLength(limits.girth)} length plus girth, the parcel is ${formatLength(most((parcel) => parcel.girth) - limits.girth)} over`
    case 'too-voluminous':
      return `takes ${litres(limits.volume ?? 0)}, the parcel is ${litres(most((parcel) => parcel.volume) - (limits.volume ?? 0))} over`
    case 'dangerous-goods':
      return `does not take ${asked.dangerousGoods.find((un) => !limits.dangerousGoods.includes(un))}`
    case 'no-signature':
      return 'has no signature'
    case 'no-cover':
      return `covers at most ${amount(cover.upTo)}, ${amount(asked.insured - cover.upTo)} too little`
    case 'unprotected':
      return `is not among the services for which ${asked.protectedBy} bears claims`
    case 'unknown-carrier':
      return 'is of a carrier that the channel does not know'
    case 'no-offer':
      return `does not ${refusedOffer(asked.needs.find((need) => !service.offers.includes(need))!)}`
    case 'collects-less':
      return `collects at most ${amount(limits.cashOnDelivery ?? 0)}, ${amount(asked.toCollect - (limits.cashOnDelivery ?? 0))} too little`
    case 'never-collects':
      return 'has no collection or delivery days'
    case 'too-slow':
      return `takes ${arrivesAfter(arrives) - leavesAfter(arrives)} days, ${arrivesAfter(arrives) - leavesAfter(arrives) - asked.within} more than allowed`
    case 'late-for-channel':
      return `arrives on ${dayText(asked.ready.day + arrivesAfter(arrives))}, ${asked.ready.day + arrivesAfter(arrives) - asked.demandedBy} days after the day that the channel demands`
    case 'no-tariff':
      return `has no tariff for ${dayText(asked.ready.day + leavesAfter(arrives))}`
    case 'no-band':
      return bandSentence(zone, billable, weighed || most((parcel) => parcel.weight))
    case 'no-price':
      return `has no price in zone ${zone} for this: its tariff comes to less than nothing`
    case 'no-rate':
      return 'has prices in a currency without an exchange rate'
    case 'barred':
    case 'not-allowed':
    case 'too-dear':
      return code
  }
}

/** For what weight there is no price, and why it is more than the scales say. */
const bandSentence = (zone: string, billable: number, weight: number): string =>
  `has no price in zone ${zone} for ${formatWeight(billable || weight)}${billable > weight ? `: that is its dimensional weight, rounded up; the scales say ${formatWeight(weight)}` : ''}`

const litres = (volume: number): string => `${Math.ceil(volume / 1e6)} l`
const refusedOffer = (need: Offer): string => {
  if (need === 'live goods') return 'take live goods'
  if (need === 'cash on delivery') return 'collect cash on delivery'
  return need === 'duties paid' ? 'pay duties' : `offer ${need}`
}

function noPriceCode(priced: number): RefusalCode {
  if (priced === noRate) return 'no-rate'
  return priced === noBand ? 'no-band' : 'no-price'
}
