import type { BenchParcel } from '@/core/bench'
import { type Handling, handlings, isHandled, type Item, type Order } from '@/core/order'
import type { World } from '@/core/world'
import {
  type CheckRow,
  type Database,
  decisionOf,
  labelById,
  type LabelParcel,
  type LabelRow,
  orderRow,
  ordersById,
  type OrderRow,
  parcelsOfLabels,
} from '@/data'
import { currentWorld } from '../../shared/changeWorld'
import { itemsIn } from '../parcelItems'
import { pictureAddresses } from '../../intake/itemPictures'

/** A parcel at a bench, with all that its packer needs to see. */
export interface BenchView {
  readonly check: number
  readonly state: CheckRow['state']
  readonly order: number
  readonly number: string
  readonly to: string
  readonly parcel: BenchParcel & {
    readonly position: number
    readonly of: number
    readonly preset: string
    readonly trackingNumber: string
  }
  readonly label: number
  readonly service: string
  /** What to watch for, in a few words each. */
  readonly watch: readonly string[]
  readonly inserts: readonly string[]
  readonly counted: readonly number[]
  /** Where the pictures of its items are, of those that have one, by SKU. */
  readonly pictures: Readonly<Record<string, string>>
  /** Grams, as it was worked out; and whether it has to be weighed here. */
  readonly computed: number
  readonly weighed: boolean
  readonly weight: number | null
}

/** A parcel of a label, with what it rests on. */
export interface ParcelFacts {
  readonly row: OrderRow
  readonly order: Order
  readonly label: LabelRow
  readonly parcel: LabelParcel
  readonly of: number
  readonly world: World
  /** What belongs in it, and the codes that name it. */
  readonly inside: BenchParcel
  /** It has to be weighed here. */
  readonly weighed: boolean
}

/** The facts of a parcel; null when it is not there. */
export async function parcelFacts(db: Database, labelId: number, position: number): Promise<ParcelFacts | null> {
  const label = await labelById(db, labelId)
  const row = label && (await orderRow(db, label.orderId))
  const stored = row && (await ordersById(db, [row.id]))[0]
  const parcels = label ? ((await parcelsOfLabels(db, [label.id])).get(label.id) ?? []) : []
  const parcel = parcels.find((one) => one.position === position)
  if (!label || !row || !stored || !parcel) return null
  const { world } = await currentWorld(db)
  const weighed = world.locations.find(({ id }) => id === label.location)?.weighed ?? false
  const inside = benchParcel(row, itemsIn(stored.order, parcel), parcel, world)
  return { row, order: stored.order, label, parcel, of: parcels.length, world, inside, weighed }
}

function benchParcel(row: OrderRow, items: readonly Item[], parcel: LabelParcel, world: World): BenchParcel {
  // Of a list of many thousands only these are asked for, at each scan.
  const asked = new Set(items.map(({ sku }) => sku))
  const cards = new Map(world.items.flatMap((card) => (asked.has(card.sku) ? [[card.sku, card] as const] : [])))
  return {
    lines: items.map(({ sku, title, quantity }) => ({
      ...{ sku, title: title || sku, quantity },
      gtins: (cards.get(sku)?.gtins ?? []).map((gtin) => gtin.padStart(14, '0')),
    })),
    own: [row.number, ...(parcel.trackingNumber ? [parcel.trackingNumber] : [])],
  }
}

const handlingWords: Readonly<Record<Handling, string>> = {
  live: 'live',
  fragile: 'fragile',
  'this side up': 'this side up',
  'own box': 'in a box of its own',
  alone: 'alone in its parcel',
  'not stackable': 'nothing on top',
}

function watchFor(order: Order, items: ReturnType<typeof itemsIn>): string[] {
  const handled = handlings.flatMap((handling) =>
    items.some((item) => isHandled(item, handling)) ? [handlingWords[handling]] : [],
  )
  const dangerous = [...new Set(items.map(({ dangerousGoods }) => dangerousGoods).filter(Boolean))]
  return [...dangerous, ...handled, ...(order.message ? [`The buyer writes: ${order.message}`] : [])]
}

/** A check as the bench shows it. */
export async function benchView(db: Database, check: CheckRow, facts: ParcelFacts): Promise<BenchView> {
  const { row, order, label, parcel, of, world, inside, weighed } = facts
  const items = itemsIn(order, parcel)
  const decided = (await decisionOf(db, row.id))?.outcome
  return {
    check: check.id,
    state: check.state,
    order: row.id,
    number: row.number,
    to: [order.shipTo.name, order.shipTo.city, order.shipTo.country].filter(Boolean).join(', '),
    parcel: {
      ...inside,
      ...{ position: parcel.position, of, trackingNumber: parcel.trackingNumber ?? '' },
      preset: world.presets.find(({ id }) => id === parcel.preset)?.name ?? parcel.preset,
    },
    label: label.id,
    service: world.services.find(({ id }) => id === label.service)?.name ?? label.service,
    watch: watchFor(order, items),
    inserts: parcel.position === 1 ? (decided?.decisions.inserts ?? []).map(({ name }) => name) : [],
    counted: check.counted,
    pictures: await pictureAddresses(
      db,
      items.map(({ sku }) => sku),
    ),
    computed: check.computed,
    weighed,
    weight: check.weight,
  }
}
