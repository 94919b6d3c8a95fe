import type { PinnedOrder } from '@/core/rulebook/decide'
import { fromJson, toJson, type Database } from './database'

interface PinnedRow {
  id: number
  name: string
  facts: string
  now: number
  expected: string
}

/** All pinned orders. */
export async function listPinned(db: Database): Promise<PinnedOrder[]> {
  const rows: PinnedRow[] = await db('pinned_orders').orderBy('id')
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    order: fromJson(row.facts),
    now: row.now,
    expected: fromJson(row.expected),
  }))
}

/** Pins an order as an example; gives its number. */
export async function addPinned(
  db: Database,
  pinned: Omit<PinnedOrder, 'id'>,
  author: string,
  now: string,
): Promise<number> {
  const [row] = (await db('pinned_orders')
    .insert({
      name: pinned.name,
      facts: toJson(pinned.order),
      now: pinned.now,
      expected: toJson(pinned.expected),
      author,
      madeAt: now,
    })
    .returning('id')) as { id: number }[]
  return row!.id
}

/** Gives an example a new outcome, with the reason. */
export async function repin(
  db: Database,
  id: number,
  expected: PinnedOrder['expected'],
  note: string,
): Promise<boolean> {
  return (
    (await db('pinned_orders')
      .where({ id })
      .update({ expected: toJson(expected), note })) === 1
  )
}

/** Unpins an order; false when it was not pinned. */
export async function removePinned(db: Database, id: number): Promise<boolean> {
  return (await db('pinned_orders').where({ id }).delete()) === 1
}
