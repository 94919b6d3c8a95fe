import type { DecisionId, Pins } from '@/core/rulebook/language'
import { countAll } from './countAll'
import { chunks, type Database, toJson } from './database'
import { insertMany } from './engine'

/** What a person decided for many orders at once. */
export interface EditRow {
  readonly id: number
  /** One key for one intent. */
  readonly key: string
  readonly state: 'under way' | 'done' | 'undoing' | 'undone'
  readonly author: string
  readonly madeAt: string
  readonly edits: string
  readonly sentence: string
}

/** One order of an edit. */
export interface EditOrderRow {
  readonly editId: number
  readonly orderId: number
  /** `left`: nothing was done, and `why`; `kept`: it could not be undone. */
  readonly state: 'waiting' | 'done' | 'left' | 'undone' | 'kept'
  /** The hand pins that the edit touches, as they were and as it made them. */
  readonly before: string | null
  readonly after: string | null
  readonly why: string | null
}

/** Writes down an edit with its orders; undefined when the same intent is written down already. */
export async function addEdit(
  trx: Database,
  edit: Omit<EditRow, 'id' | 'state'>,
  orders: readonly number[],
): Promise<number | undefined> {
  const [made] = (await trx('edits')
    .insert({ ...edit, state: 'under way' })
    .onConflict('key')
    .ignore()
    .returning('id')) as { id: number }[]
  if (!made) return undefined
  await insertMany(trx, 'edit_orders', ['edit_id', 'order_id', 'state'], orders, (order) => [made.id, order, 'waiting'])
  return made.id
}

/** An edit; undefined when there is none. */
export const editById = (db: Database, id: number): Promise<EditRow | undefined> => db('edits').where({ id }).first()
/** The edit of an intent; undefined when it was never asked for. */
export const editByKey = (db: Database, key: string): Promise<EditRow | undefined> => db('edits').where({ key }).first()

/** Moves an edit on from a state; false when it is in another one. */
export const moveEdit = async (
  db: Database,
  id: number,
  from: EditRow['state'],
  state: EditRow['state'],
): Promise<boolean> => (await db('edits').where({ id, state: from }).update({ state })) === 1

/** The next orders of an edit in a state, in the order of their identifiers. */
export const ordersOfEdit = (
  db: Database,
  edit: number,
  state: EditOrderRow['state'],
  most: number,
): Promise<EditOrderRow[]> => db('edit_orders').where({ editId: edit, state }).orderBy('order_id').limit(most)

/** How many orders of an edit are in a state. */
export const countOfEdit = (db: Database, edit: number, state: EditOrderRow['state']): Promise<number> =>
  countAll(db('edit_orders').where({ editId: edit, state }))

/** Writes down what became of orders of an edit. */
export async function settleEditOrders(
  trx: Database,
  list: readonly Pick<EditOrderRow, 'editId' | 'orderId' | 'state' | 'before' | 'after' | 'why'>[],
): Promise<void> {
  await insertMany(
    trx,
    'edit_orders',
    ['edit_id', 'order_id', 'state', 'before', 'after', 'why'],
    list,
    ({ editId, orderId, state, before, after, why }) => [editId, orderId, state, before, after, why],
    ['edit_id', 'order_id'],
  )
}

/** The newest edits, each with how many of its orders are in which state. */
export async function newestEdits(
  db: Database,
  most: number,
): Promise<(EditRow & { readonly counts: Readonly<Partial<Record<EditOrderRow['state'], number>>> })[]> {
  const rows = (await db('edits').orderBy('id', 'desc').limit(most)) as EditRow[]
  const counted = (await db('edit_orders')
    .whereIn(
      'edit_id',
      rows.map(({ id }) => id),
    )
    .select('edit_id', 'state')
    .count({ n: '*' })
    .groupBy('edit_id', 'state')) as { editId: number; state: EditOrderRow['state']; n: number }[]
  return rows.map((row) => ({
    ...row,
    counts: Object.fromEntries(counted.filter(({ editId }) => editId === row.id).map(({ state, n }) => [state, n])),
  }))
}

/** Sets these decisions of orders by hand, and releases those of `touched` that `pins` has not. */
export async function writePins(
  trx: Database,
  list: readonly { readonly order: number; readonly pins: Pins }[],
  touched: readonly DecisionId[],
  author: string,
  now: string,
): Promise<void> {
  for (const part of chunks(list, 400))
    await trx('hand_pins')
      .whereIn(
        'order_id',
        part.map(({ order }) => order),
      )
      .whereIn('decision', touched)
      .delete()
  const rows = list.flatMap(({ order, pins }) =>
    touched.flatMap((decision) => (decision in pins ? [{ order, decision, value: pins[decision] }] : [])),
  )
  await insertMany(
    trx,
    'hand_pins',
    ['order_id', 'decision', 'value', 'author', 'made_at'],
    rows,
    ({ order, decision, value }) => [order, decision, toJson(value), author, now],
  )
}
