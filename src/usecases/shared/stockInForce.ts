import type { Item } from '@/core/order'
import type { World } from '@/core/world'
import { type Database, stockAt, stockSince, stockVersion } from '@/data'

/** What is free at each location by SKU, as of a move. */
export interface StockNow {
  readonly version: number
  readonly free: ReadonlyMap<string, Readonly<Record<string, number>>>
}

const kept = new WeakMap<object, StockNow>()

/** What is free of the stock now; what has changed since it was last asked for is read, and no more. */
export async function stockNow(db: Database): Promise<StockNow> {
  const before: StockNow = kept.get(db) ?? { version: 0, free: new Map() }
  const version = await stockVersion(db)
  if (version === before.version) return before
  const free = new Map(before.free)
  const fresh = new Map<string, Record<string, number>>()
  for (const { location, sku, onHand, reserved } of await stockSince(db, before.version)) {
    const own: Record<string, number> = fresh.get(location) ?? { ...free.get(location) }
    own[sku] = Math.max(0, onHand - reserved)
    fresh.set(location, own)
  }
  for (const [location, own] of fresh) free.set(location, own)
  const now = { version, free }
  kept.set(db, now)
  return now
}

/** The locations that keep a stock. */
export const stockKeepers = async (db: Database): Promise<ReadonlySet<string>> =>
  new Set((await stockNow(db)).free.keys())

/**
 * A world whose locations have what is free of their stock; what the set-up says of a SKU holds until it is counted.
 */
export const withStock = (world: World, { free }: StockNow): World =>
  free.size === 0
    ? world
    : {
        ...world,
        locations: world.locations.map((location) => {
          const own = free.get(location.id)
          return own ? { ...location, stock: { ...location.stock, ...own } } : location
        }),
      }

/** Pieces of each SKU among items. */
export function piecesBySku(items: readonly Item[]): ReadonlyMap<string, number> {
  const pieces = new Map<string, number>()
  for (const { sku, quantity } of items) if (sku !== '') pieces.set(sku, (pieces.get(sku) ?? 0) + quantity)
  return pieces
}

/**
 * Counts what is taken from the stock of locations by one order after the other, and says of which something is
 * missing.
 */
export async function stockTaker(
  db: Database,
  /** The locations that keep a stock. */
  keeps: ReadonlySet<string>,
  orders: readonly { readonly location: string; readonly items: readonly Item[] }[],
): Promise<(location: string, items: readonly Item[]) => { readonly sku: string; readonly left: number } | null> {
  const left = new Map<string, Map<string, number>>()
  for (const location of new Set(orders.map((order) => order.location))) {
    if (!keeps.has(location)) continue
    const skus = orders.flatMap((order) => (order.location === location ? order.items.map(({ sku }) => sku) : []))
    const rows = await stockAt(db, location, skus)
    left.set(location, new Map([...rows].map(([sku, { onHand, reserved }]) => [sku, onHand - reserved])))
  }
  return (location, items) => {
    const own = left.get(location)
    if (!own) return null
    // What was never counted here is not known to be missing.
    const wanted = [...piecesBySku(items)].filter(([sku]) => own.has(sku))
    for (const [sku, n] of wanted) if (own.get(sku)! < n) return { sku, left: Math.max(0, own.get(sku)!) }
    for (const [sku, n] of wanted) own.set(sku, own.get(sku)! - n)
    return null
  }
}
