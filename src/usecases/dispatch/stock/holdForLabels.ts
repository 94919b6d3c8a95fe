import type { Order } from '@/core/order'
import { type Database, holdStock, labelsOfBatch, stockAt } from '@/data'
import { piecesBySku } from '../../shared/stockInForce'

/** What a batch buys labels for is promised to them from now on, at locations that keep a stock. */
export async function holdForBatch(
  trx: Database,
  batch: number,
  orders: ReadonlyMap<number, Order>,
  keeps: ReadonlySet<string>,
  now: string,
): Promise<void> {
  if (keeps.size === 0) return
  const labels = (await labelsOfBatch(trx, batch)).filter(({ location }) => keeps.has(location))
  const held = labels.flatMap(({ id, orderId, location }) => heldBy(id, location, orders.get(orderId)))
  await holdStock(trx, await counted(trx, held), 'held', now)
}

/** What left under numbers of somebody else is gone. */
export async function takeForOwn(
  trx: Database,
  label: { readonly id: number; readonly location: string },
  order: Order,
  now: string,
): Promise<void> {
  await holdStock(trx, await counted(trx, heldBy(label.id, label.location, order)), 'sent', now)
}

/** Those that were ever counted where they are. */
async function counted(trx: Database, held: readonly Held[]): Promise<Held[]> {
  const known = new Set<string>()
  for (const location of new Set(held.map((one) => one.location)))
    for (const sku of (
      await stockAt(
        trx,
        location,
        held.flatMap((one) => (one.location === location ? [one.sku] : [])),
      )
    ).keys())
      known.add(`${location} ${sku}`)
  return held.filter(({ location, sku }) => known.has(`${location} ${sku}`))
}

interface Held {
  readonly labelId: number
  readonly location: string
  readonly sku: string
  readonly quantity: number
}

const heldBy = (labelId: number, location: string, order: Order | undefined): Held[] =>
  [...piecesBySku(order?.items ?? [])].map(([sku, quantity]) => ({ labelId, location, sku, quantity }))
