import { isPostOfficeBox } from '@/core/address'
import { itemsVolume, itemsWeight, sumParcels, type Parcel, type ParcelSums } from '@/core/packing'
import type { Order } from '@/core/order'
import type { Location, Offer, Quote } from '@/core/rating'
import { toHome } from '@/core/units'
import type { Priority, Speed } from './decisionKinds'
import type { FactValue } from './facts'
import type { ReadyWorld } from './world'

/** One order on its way through the stages: its facts, and what the stages settled so far. */
export interface Case {
  readonly order: Order
  /** Milliseconds since 1970, UTC. */
  readonly now: number
  /** The zone of the location, of the first one until Origin has settled it. */
  zone: string
  /** Amounts in minor units of the home currency; undefined when there is no rate. */
  readonly value: number | undefined
  readonly shippingPaid: number | undefined
  readonly discount: number | undefined
  readonly postOfficeBox: boolean
  /** No company in the address, unless a rule says otherwise. */
  residential: boolean
  readonly remoteArea: boolean
  /** Locations that have every item. */
  readonly stockedAt: readonly string[]
  readonly quantity: number
  readonly itemsWeight: number
  /** Cubic millimetres. */
  readonly itemsVolume: number
  tags: readonly string[]
  held: boolean
  speed: Speed | null
  priority: Priority
  weight: number
  parcels: readonly Parcel[]
  /** What the parcels come to; null until they are packed. */
  packed: ParcelSums | null
  location: Location | null
  trade: 'domestic' | 'customs union' | 'export' | undefined
  distance: 'local' | 'domestic' | 'same continent' | 'overseas' | undefined
  insured: number
  signature: boolean
  needs: readonly Offer[]
  quote: Quote | null
  runnerUp: Quote | null
  daysLate: number | undefined
  /** What tests on items came to, by their number in the program: several stages ask the same. */
  told: (FactValue | null)[]
}

export function openCase(order: Order, ready: ReadyWorld, now: number): Case {
  const { rates, locations } = ready.world
  const weight = itemsWeight(order.items)
  return {
    order,
    now,
    zone: locations[0]?.timeZone ?? 'UTC',
    value: toHome(order.value, rates) ?? undefined,
    shippingPaid: toHome(order.shippingPaid, rates) ?? undefined,
    discount: toHome(order.discount, rates) ?? undefined,
    postOfficeBox: isPostOfficeBox(order.shipTo.lines),
    residential: order.shipTo.company === '',
    remoteArea: ready.isRemote(order.shipTo.country, order.shipTo.postcode),
    stockedAt: locations.filter((location) => hasStock(location, order)).map((location) => location.id),
    quantity: order.items.reduce((sum, item) => sum + item.quantity, 0),
    itemsWeight: weight,
    itemsVolume: itemsVolume(order.items),
    tags: [],
    held: false,
    speed: null,
    priority: 'normal',
    weight,
    parcels: [],
    packed: null,
    location: null,
    trade: undefined,
    distance: undefined,
    insured: 0,
    signature: false,
    needs: [],
    quote: null,
    runnerUp: null,
    daysLate: undefined,
    told: [],
  }
}

/** Takes the parcels into the facts. */
export function setParcels(c: Case, parcels: readonly Parcel[]): void {
  c.parcels = parcels
  c.packed = parcels.length > 0 ? sumParcels(parcels) : null
}

/** Whether a location has every item of an order; one that keeps no stock list has everything. */
export function hasStock({ stock }: Location, order: Order): boolean {
  return stock === undefined || order.items.every((item) => (stock[item.sku] ?? 0) >= item.quantity)
}
