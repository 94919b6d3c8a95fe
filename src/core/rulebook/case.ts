import { isPostOfficeBox } from '@/core/address'
import { itemsVolume, itemsWeight, type Parcel } from '@/core/packing'
import type { Order } from '@/core/order'
import type { Location, Quote } from '@/core/rating'
import { toHome, type Rates } from '@/core/units'

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
  readonly quantity: number
  readonly itemsWeight: number
  /** Cubic millimetres. */
  readonly itemsVolume: number
  tags: readonly string[]
  held: boolean
  weight: number
  parcel: Parcel | null
  location: Location | null
  trade: 'domestic' | 'customs union' | 'export' | undefined
  insured: number
  signature: boolean
  quote: Quote | null
  daysLate: number | undefined
}

export function openCase(order: Order, rates: Rates, now: number, zone: string): Case {
  const weight = itemsWeight(order.items)
  return {
    order,
    now,
    zone,
    value: toHome(order.value, rates) ?? undefined,
    shippingPaid: toHome(order.shippingPaid, rates) ?? undefined,
    discount: toHome(order.discount, rates) ?? undefined,
    postOfficeBox: isPostOfficeBox(order.shipTo.lines),
    quantity: order.items.reduce((sum, item) => sum + item.quantity, 0),
    itemsWeight: weight,
    itemsVolume: itemsVolume(order.items),
    tags: [],
    held: false,
    weight,
    parcel: null,
    location: null,
    trade: undefined,
    insured: 0,
    signature: false,
    quote: null,
    daysLate: undefined,
  }
}
