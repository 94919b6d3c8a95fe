import type { ArrivalBook } from '@/core/arrival'
import { isPostOfficeBox } from '@/core/address'
import { itemsVolume, itemsWeight, type Parcel, type ParcelSums, sumParcels } from '@/core/packing'
import { isHandled, type Item, type Order, unNumbers } from '@/core/order'
import type { Location, Offer, Quote, Speed } from '@/core/rating'
import { toHome, type Grams, type MinorUnits, minorUnits } from '@/core/units'
import type { Priority } from './decisionKinds'
import type { FactValue } from './facts'
import { firstZone, type ReadyWorld } from '@/core/world'

const nothingInsured = minorUnits(0)

/** What follows from the items of an order alone; orders with equal items can share it. */
export interface Basket {
  /** Locations that have every item. */
  readonly stockedAt: readonly string[]
  readonly quantity: number
  readonly itemsWeight: Grams
  /** Cubic millimetres. */
  readonly itemsVolume: number
  /** Whether every item has a weight, and a size: else the sums above are not the order's. */
  readonly weighed: boolean
  readonly measured: boolean
  /** UN numbers. */
  readonly dangerousGoods: readonly string[]
  readonly live: boolean
  readonly notStackable: boolean
}

/** What follows from the items alone: sums, where all of them are in stock, what is live or dangerous. */
export function basketOf(items: readonly Item[], { world }: ReadyWorld): Basket {
  return {
    stockedAt: world.locations.filter((location) => hasStock(location, items)).map((location) => location.id),
    quantity: items.reduce((sum, item) => sum + item.quantity, 0),
    itemsWeight: itemsWeight(items),
    itemsVolume: itemsVolume(items),
    weighed: items.every((item) => item.unitWeight !== null),
    measured: items.every((item) => item.size !== null),
    dangerousGoods: unNumbers(items),
    live: items.some((item) => isHandled(item, 'live')),
    notStackable: items.some((item) => isHandled(item, 'not stackable')),
  }
}

/** One order on its way through the stages: its facts, and what the stages settled so far. */
export interface Case {
  readonly order: Order
  /** Milliseconds since 1970, UTC. */
  readonly now: number
  /** The zone of the location, of the first one until Origin has settled it. */
  zone: string
  /** Amounts in minor units of the home currency; undefined when there is no rate. */
  readonly value: MinorUnits | undefined
  readonly shippingPaid: MinorUnits | undefined
  readonly discount: MinorUnits | undefined
  /** What of it comes back was sold for. */
  readonly returned: MinorUnits | undefined
  readonly postOfficeBox: boolean
  /** There is no company in the address. */
  readonly atHome: boolean
  /** The same, unless a rule says otherwise. */
  residential: boolean
  readonly remoteArea: boolean
  readonly basket: Basket
  tags: readonly string[]
  held: boolean
  speed: Speed | null
  priority: Priority
  /** Grams with corrections; undefined when an item has no weight, and no person has said what it is. */
  weight: Grams | undefined
  parcels: readonly Parcel[]
  /** What the parcels come to; null until they are packed. */
  packed: ParcelSums | null
  location: Location | null
  trade: 'domestic' | 'customs union' | 'export' | undefined
  distance: 'local' | 'domestic' | 'same continent' | 'overseas' | undefined
  insured: MinorUnits
  signature: boolean
  /** Most days from leaving to arrival. */
  within: number | null
  /** The moment from which it can leave: now, or when its hold ends. */
  leaves: number
  needs: readonly Offer[]
  quote: Quote | null
  runnerUp: Quote | null
  readonly arrivals: ArrivalBook
  daysLate: number | undefined
  /** What tests on items came to, by their number in the program that asked last: several stages ask the same. */
  told: (FactValue | null)[]
  toldTo: object | null
}

// One for all cases: a hundred thousand of them are opened again and again.
const nothing: readonly never[] = []

/**
 * Opens the case of an order: its facts before any stage has settled anything. `now` in milliseconds since 1970, UTC.
 */
export function openCase(order: Order, ready: ReadyWorld, now: number, basket = basketOf(order.items, ready)): Case {
  const { rates } = ready.world
  return {
    order,
    now,
    zone: firstZone(ready.world),
    value: toHome(order.value, rates) ?? undefined,
    shippingPaid: toHome(order.shippingPaid, rates) ?? undefined,
    discount: toHome(order.discount, rates) ?? undefined,
    returned: order.comesBack?.value && (toHome(order.comesBack.value, rates) ?? undefined),
    postOfficeBox: isPostOfficeBox(order.shipTo.lines),
    atHome: order.shipTo.company === '',
    residential: order.shipTo.company === '',
    remoteArea: ready.isRemote(order.shipTo.country, order.shipTo.postcode),
    basket,
    tags: nothing,
    held: false,
    speed: null,
    priority: 'normal',
    weight: basket.weighed ? basket.itemsWeight : undefined,
    parcels: nothing,
    packed: null,
    location: null,
    trade: undefined,
    distance: undefined,
    insured: nothingInsured,
    signature: false,
    within: null,
    leaves: now,
    needs: nothing,
    quote: null,
    runnerUp: null,
    arrivals: ready.arrivals,
    daysLate: undefined,
    told: [],
    toldTo: null,
  }
}

/** The corrected weight; where an item has none it is missing, unless a person has corrected it. */
export const correctedWeight = (
  { weighed, itemsWeight: goods }: Pick<Basket, 'weighed' | 'itemsWeight'>,
  correction: number,
  byHand: boolean,
): Grams | undefined => (weighed || (byHand && correction > 0) ? (Math.max(0, goods + correction) as Grams) : undefined)

/** Takes the parcels into the facts. */
export function setParcels(c: Case, parcels: readonly Parcel[]): void {
  c.parcels = parcels
  c.packed = parcels.length > 0 ? sumParcels(parcels) : null
}

/** Whether a location has every item of an order; one that keeps no stock list has everything. */
function hasStock({ stock }: Location, items: readonly Item[]): boolean {
  if (stock === undefined) return true
  // Several lines may ask for the same SKU.
  const wanted = new Map<string, number>()
  for (const { sku, quantity } of items) wanted.set(sku, (wanted.get(sku) ?? 0) + quantity)
  return [...wanted].every(([sku, quantity]) => (stock[sku] ?? 0) >= quantity)
}

/**
 * Takes up another order in a case that has one already: as `openCase` would make it. Deciding many orders, one case
 * that stays at hand is written again and again, instead of one for each order. Of `opened`, which no stage has
 * touched, only what the order itself says is read.
 */
export function takeUp(c: Case, opened: Case, now: number, itemsWeight: Grams, zone: string): void {
  const into = c as { -readonly [K in keyof Case]: Case[K] }
  into.order = opened.order
  into.now = now
  into.value = opened.value
  into.shippingPaid = opened.shippingPaid
  into.discount = opened.discount
  into.returned = opened.returned
  into.postOfficeBox = opened.postOfficeBox
  into.atHome = opened.atHome
  into.remoteArea = opened.remoteArea
  into.basket = opened.basket
  into.zone = zone
  into.residential = opened.atHome
  into.tags = nothing
  into.held = false
  into.speed = null
  into.priority = 'normal'
  into.weight = opened.basket.weighed ? itemsWeight : undefined
  into.parcels = nothing
  into.packed = null
  into.location = null
  into.trade = undefined
  into.distance = undefined
  into.insured = nothingInsured
  into.signature = false
  into.within = null
  into.leaves = now
  into.needs = nothing
  into.quote = null
  into.runnerUp = null
  into.daysLate = undefined
  into.toldTo = null
}

/** The chance, per mille, that a quote's service keeps the promised day; null when there is none, or nobody knows. */
export function promiseChance({ order, location, arrivals }: Case, quote: Quote): number | null {
  if (order.promisedBy === '' || !location) return null
  const way = { service: quote.service, location: location.id, zone: quote.zone, country: order.shipTo.country }
  return arrivals.chance(way, quote.arrivesOn, order.promisedBy)
}
