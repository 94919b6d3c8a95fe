import { dayOf, instantAt, localTime, weekday } from '@/core/calendar'
import { tradeBetween } from '@/core/address'
import { continentOf, type Order, type OrderProblem, postcodeKey } from '@/core/order'
import type { Parcel } from '@/core/packing'
import { leastCost, type Location, type Offer, type Service, type Shipment } from '@/core/rating'
import { toHome, minorUnits, type MinorUnits } from '@/core/units'
import {
  type Case,
  type Decisions,
  type Hold,
  type HoldUntil,
  type Insurance,
  weekdays,
} from '@/core/rulebook/language'
import { firstLocation, type ReadyWorld } from '@/core/world'

/*
 * What follows for an order from the decisions of a stage. Deciding one order with its trail and deciding many at once
 * rest on the same functions.
 */

/** What an order lacks, whatever its channel or file said of it: without it, nothing can be decided to the end. */
export function lacks(order: Order): OrderProblem[] {
  const has = (code: string): boolean => order.problems.some((problem) => problem.code === code)
  return [
    ...(order.items.length === 0 && !has('no-items')
      ? [{ code: 'no-items', sentence: 'The order has no items: ask the channel for it again, or cancel it.' }]
      : []),
    ...(order.shipTo.country === '' && !has('unknown-country')
      ? [{ code: 'unknown-country', sentence: 'The order has no country to go to: correct its address.' }]
      : []),
    ...(has('no-weight')
      ? []
      : order.items
          .filter(({ unitWeight }) => unitWeight === null)
          .slice(0, 1)
          .map(({ sku, line }) => ({
            code: 'no-weight',
            sentence: `${sku || `Line ${line}`} has no weight: set the weight of the order by hand or add it to the item list.`,
          }))),
  ]
}

export interface Held {
  readonly reason: string | null
  readonly ends: number | null
}

const free: Held = { reason: null, ends: null }

/** Why an order is held and until when; `reason` is null when it is not, or not any more. */
export function heldBy(hold: Hold | null, c: Case): Held {
  if (hold === null) return free
  if (typeof hold === 'string') return { reason: hold, ends: null }
  const ends = momentOf(hold.until, c.order, c.zone, c.now)
  // A hold counts until its moment has come.
  return ends <= c.now ? free : { reason: hold.reason, ends }
}

/** When an order may leave: not before a moment that is decided, nor while it is held, nor before now. */
export function leavesAt(shipOn: HoldUntil | null, held: Held, c: Case): number {
  const day = shipOn === null ? 0 : momentOf(shipOn, c.order, c.zone, c.now)
  return Math.max(c.now, held.ends ?? 0, day)
}

function momentOf(until: HoldUntil, order: Order, zone: string, now: number): number {
  const placed = Date.parse(order.placedAt) || now
  if ('hours' in until) return placed + until.hours * 3_600_000
  if ('days' in until) return placed + until.days * 86_400_000
  if ('day' in until) return instantAt(dayOf(until.day), 0, zone)
  const day = localTime(placed, zone).day
  const ahead = (weekdays.findIndex((name) => name === until.weekday) + 1 - weekday(day) + 7) % 7
  return instantAt(day + (ahead === 0 ? 7 : ahead), 0, zone)
}

/**
 * Of several ways to pack, the one that costs least with its packaging, sent from the first location; the first among
 * equals.
 */
export function cheapestPacking(
  c: Case,
  ready: ReadyWorld,
  ways: readonly (readonly Parcel[])[],
): { readonly parcels: readonly Parcel[]; readonly costs: readonly MinorUnits[] } {
  const { presets } = ready.world
  const from = firstLocation(ready.world)
  const packaging = (parcels: readonly Parcel[]): number =>
    parcels.reduce((sum, parcel) => sum + (presets.find(({ id }) => id === parcel.preset)?.cost ?? 0), 0)
  const costs = ways.map((parcels) =>
    minorUnits(from ? leastCost(ready.rateBook, shipmentOf(c, ready, parcels, from)) + packaging(parcels) : Infinity),
  )
  let best = 0
  for (let i = 1; i < ways.length; i++) if (costs[i]! < costs[best]!) best = i
  return { parcels: ways[best]!, costs }
}

/** Whether parcels are sent from a location: it is neither retired nor switched off. */
const isOn = ({ retired, off }: Location): boolean => !retired && off === undefined

/**
 * The location that is named, or the one that a way of finding it yields; with stock nowhere, it is looked for among
 * all. While the one that is named is switched off, it is the nearest with stock of the others.
 */
export function locationBy(wanted: string | undefined, c: Case, ready: ReadyWorld): Location | undefined {
  const { locations: all } = ready.world
  const named = all.find((candidate) => candidate.id === wanted)
  const isNamed = wanted !== 'nearest with stock' && wanted !== 'cheapest'
  if (isNamed && !(named?.off !== undefined && all.some(isOn))) return named
  // What is switched off is not looked at, unless everything is.
  const locations = all.some(isOn) ? all.filter(isOn) : all
  const stocked = locations.filter((location) => c.basket.stockedAt.includes(location.id))
  const able = stocked.length > 0 ? stocked : locations
  const ranked = able.map((location) => ({
    location,
    rank: wanted === 'cheapest' ? cheapestFrom(location, c, ready) : remoteness(location, c, ready),
  }))
  return ranked.reduce<(typeof ranked)[number] | undefined>(
    (best, next) => (!best || next.rank < best.rank ? next : best),
    undefined,
  )?.location
}

/**
 * How far a location is from the buyer: around the corner, the same country, the same customs union, the same
 * continent, the rest.
 */
function remoteness({ country, address }: Location, c: Case, { unionMembers }: ReadyWorld): number {
  const { country: to, postcode } = c.order.shipTo
  if (country === to) return isNear(address.postcode, postcode) ? -1 : 0
  if (unionMembers.has(country) && unionMembers.has(to)) return 1
  return continentOf(country) === continentOf(to) ? 2 : 3
}

/** What the cheapest service costs from a location, before any rule of Protection or Service; Infinity without any. */
const cheapestFrom = (location: Location, c: Case, ready: ReadyWorld): number =>
  c.parcels.length === 0 || !c.order.shipTo.country
    ? Infinity
    : leastCost(ready.rateBook, shipmentOf(c, ready, c.parcels, location))

/** Takes the location, and what follows from it, into the facts. */
export function shipFrom(location: Location, c: Case, way: Way): void {
  c.location = location
  c.zone = location.timeZone
  c.trade = way.trade
  c.distance = way.distance
}

/** Whether two postcodes of one country begin with the same two characters. */
const isNear = (one: string, other: string): boolean => postcodeKey(one).slice(0, 2) === postcodeKey(other).slice(0, 2)

/**
 * What a way between a location and a place is, for customs and in distance; unknown where the place has no country.
 */
export type Way = Pick<Case, 'trade' | 'distance'>

/** Trade and distance from a location to an address; both undefined while the country is not known. */
export function wayBetween(
  location: Location,
  to: { readonly country: string; readonly postcode: string },
  ready: ReadyWorld,
): Way {
  if (!to.country) return { trade: undefined, distance: undefined }
  const home = to.country === location.country
  const within = isNear(location.address.postcode, to.postcode) ? 'local' : 'domestic'
  return {
    trade: tradeBetween({ country: location.country, postcode: location.address.postcode }, to, ready.unionMembers),
    distance: home ? within : abroad(location.country, to.country),
  }
}

/** Home minor units to cover, given the order's value in them; null without an exchange rate. */
export function amountToInsure(
  insurance: Insurance,
  value: MinorUnits | null | undefined,
  { world }: ReadyWorld,
): MinorUnits | null {
  switch (insurance.cover) {
    case 'none':
      return minorUnits(0)
    case 'order value':
      return value ?? null
    case 'amount':
      return toHome(insurance.amount, world.rates)
  }
}

/** What is asked of services so far: before Protection, only what the order itself needs. */
export function shipmentOf(c: Case, ready: ReadyWorld, parcels: readonly Parcel[], from: Location): Shipment {
  const { shipTo, channel, promisedBy, paymentMethod } = c.order
  const demand = ready.demands.get(channel)
  const needs = withOwnNeeds(c)
  return {
    parcels,
    from,
    to: {
      country: shipTo.country,
      postcode: shipTo.postcode,
      postOfficeBox: c.postOfficeBox,
      residential: c.residential,
    },
    dangerousGoods: c.basket.dangerousGoods,
    notStackable: c.basket.notStackable,
    signature: c.signature,
    needs: demand?.offers ? [...new Set([...needs, ...demand.offers])] : needs,
    within: c.within,
    demandedBy: demand?.byPromise ? promisedBy : '',
    protectedBy: demand?.protected ? channel : '',
    carriers: demand?.carriers ?? null,
    insured: c.insured,
    toCollect: minorUnits(paymentMethod === 'cash on delivery' ? (c.value ?? 0) : 0),
    ready: localTime(c.leaves, from.timeZone),
  }
}

/** What rules ask of services; duties that we pay, only where there are any. */
export function neededOffers(
  { duties, needs }: Pick<Decisions, 'duties' | 'needs'>,
  { trade }: Pick<Case, 'trade'>,
): readonly Offer[] {
  return duties === 'DDP' && trade === 'export' && !needs.includes('duties paid') ? [...needs, 'duties paid'] : needs
}

/** What rules need, and what the order needs by itself. */
function withOwnNeeds(c: Case): readonly Offer[] {
  const collect = c.order.paymentMethod === 'cash on delivery' && !c.needs.includes('cash on delivery')
  const live = c.basket.live && !c.needs.includes('live goods')
  return collect || live
    ? [...c.needs, ...(collect ? (['cash on delivery'] as const) : []), ...(live ? (['live goods'] as const) : [])]
    : c.needs
}

/** Whether a service gives return labels. */
export const offersReturn = ({ offers }: Pick<Service, 'offers'>): boolean => offers.includes('return label')

/** What customs will ask of an item and nobody knows, as sentences by item. */
export function missingForCustoms(order: Order): string[] {
  return order.items.flatMap(({ sku, line, hsCode, origin }) => {
    const missing = [...(hsCode === '' ? ['HS code'] : []), ...(origin === '' ? ['country of origin'] : [])]
    return missing.length > 0
      ? [`${sku || `Line ${line}`} has no ${missing.join(' and no ')}, which customs need: add it to the item list.`]
      : []
  })
}

const abroad = (from: string, to: string): Way['distance'] =>
  continentOf(to) === continentOf(from) ? 'same continent' : 'overseas'
