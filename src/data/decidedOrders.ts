import { reasonInBrief } from '@/core/rulebook/decide'
import { combineKey, type Order, type OrderState } from '@/core/order'
import { priorities, type Routed } from '@/core/rulebook/language'
import type { MinorUnits } from '@/core/units'
import { chunks, toJson, type Database } from './database'
import { insertMany, updateMany, writeSearch } from './engine'
import { rankOf } from './orders'

export interface Decided {
  readonly state: OrderState
  readonly routed: Routed
  /** Order value in the home currency. */
  /** Minor units of the home currency. */
  readonly value: MinorUnits | null
}
export interface Recorded extends Decided {
  readonly id: number
  readonly pinned: boolean
}

/** Columns of `orders` with where their values come from. */
type ColumnsOf<T> = Readonly<Record<string, (from: T) => unknown>>

const factColumns: ColumnsOf<Order> = {
  channelId: ({ channel }) => channel,
  remoteId: ({ remoteId }) => remoteId,
  number: ({ number }) => number,
  placedAt: ({ placedAt }) => placedAt,
  changedAt: ({ changedAt }) => changedAt,
  promisedBy: ({ promisedBy }) => promisedBy,
  buyer: ({ buyer, shipTo }) => buyer.name || shipTo.name,
  email: ({ buyer }) => buyer.email.toLowerCase(),
  country: ({ shipTo }) => shipTo.country,
  city: ({ shipTo }) => shipTo.city,
  wording: ({ wording }) => wording,
  quantity: ({ items }) => items.reduce((sum, item) => sum + item.quantity, 0),
  combineKey: combineKey,
}

const decisionColumns: ColumnsOf<Decided> = {
  state: ({ state }) => state,
  rank: ({ state }) => rankOf[state],
  value: ({ value }) => value,
  weight: ({ routed: { parcels } }) =>
    parcels.length > 0 ? parcels.reduce((sum, parcel) => sum + parcel.weight, 0) : null,
  parcels: ({ routed: { parcels } }) => Math.max(1, parcels.length),
  tags: ({ routed }) => routed.decisions.tags.join(', '),
  hold: ({ routed }) => routed.decisions.hold,
  holdUntil: ({ routed }) => routed.holdUntil,
  speed: ({ routed }) => routed.decisions.speed,
  priority: ({ routed }) => priorities.indexOf(routed.decisions.priority),
  notice: ({ routed }) => routed.decisions.notice,
  textMessage: ({ routed }) => routed.decisions.textMessage,
  toldSteps: ({ routed }) => routed.decisions.toldSteps.join(','),
  tellWhen: ({ routed }) => routed.decisions.tellWhen,
  problem: ({ routed }) => routed.problems[0]?.sentence ?? null,
  reason: ({ routed }) => reasonInBrief(routed),
  preset: ({ routed }) => routed.parcels[0]?.preset ?? null,
  location: ({ routed }) => routed.location,
  service: ({ routed }) => routed.quote?.service ?? null,
  carrier: ({ routed }) => routed.quote?.carrier ?? null,
  zone: ({ routed }) => routed.quote?.zone ?? null,
  cost: ({ routed }) => routed.quote?.cost ?? null,
  arrivesOn: ({ routed }) => routed.quote?.arrivesOn ?? null,
  daysLate: ({ routed }) => routed.daysLate,
  buyByItself: ({ routed }) => routed.decisions.buyByItself,
  combine: ({ routed }) => routed.decisions.combine,
}

const rowOf = <T>(columns: ColumnsOf<T>, from: T): Record<string, unknown> =>
  Object.fromEntries(Object.entries(columns).map(([name, read]) => [name, read(from)]))
const namesOf = <T>(columns: ColumnsOf<T>): string[] => Object.keys(columns)
const readersOf = <T>(columns: ColumnsOf<T>): ((from: T) => unknown)[] => Object.values(columns)
const factReaders = readersOf(factColumns)
const decisionReaders = readersOf(decisionColumns)
const orderColumns = [...namesOf(factColumns), ...namesOf(decisionColumns), 'pinned', 'fact_hash', 'imported_at']

const searchText = ({ number, buyer, shipTo, items }: Order): string =>
  [
    number,
    buyer.name,
    shipTo.name === buyer.name ? '' : shipTo.name,
    shipTo.company,
    buyer.email,
    buyer.phone.replace(/\D/g, ''),
    shipTo.city,
    shipTo.postcode,
    ...items.map((item) => item.sku),
  ]
    .filter(Boolean)
    .join(' ')
    .toLowerCase()

/** A new order as the books take it: plain values, which another thread can have made. */
export interface NewOrder {
  /** What its order decided and says, as columns of `orders`. */
  readonly values: readonly unknown[]
  /** The order as JSON. */
  readonly facts: string
  readonly hash: string
  readonly items: readonly (readonly [sku: string, quantity: number])[]
  /** What it is searched by. */
  readonly search: string
  /** What was decided, with its trail, as JSON. */
  readonly outcome: string
  readonly tags: readonly string[]
}

/** A new order with what was decided for it; `facts` is the order as JSON, and `hash` their fingerprint. */
export const newOrder = (order: Order, facts: string, hash: string, decided: Decided): NewOrder => ({
  values: [...factReaders.map((read) => read(order)), ...decisionReaders.map((read) => read(decided))],
  ...{ facts, hash },
  items: order.items.map(({ sku, quantity }) => [sku, quantity]),
  search: searchText(order),
  outcome: toJson(decided.routed),
  tags: decided.routed.decisions.tags,
})

/** Stores new orders together with what was decided for them, within a transaction; gives their ids. */
export async function insertOrders(
  trx: Database,
  list: readonly NewOrder[],
  edition: number,
  world: number,
  now: string,
): Promise<number[]> {
  const ids = await insertMany(trx, 'orders', orderColumns, list, ({ values, hash }) => [...values, false, hash, now])
  await insertMany(trx, 'order_facts', ['order_id', 'facts'], list, ({ facts }, i) => [ids[i], facts])
  await insertMany(
    trx,
    'order_items',
    ['order_id', 'sku', 'quantity'],
    list.flatMap(({ items }, i) => items.map(([sku, quantity]) => [ids[i], sku, quantity])),
    (row) => row,
  )
  await writeSearch(
    trx,
    list.map(({ search }, i) => ({ id: ids[i]!, body: search })),
    true,
  )
  await writeOutcomes(
    trx,
    list.map(({ outcome, tags }, i) => ({ id: ids[i]!, outcome, tags })),
    edition,
    world,
    now,
  )
  return ids
}

const itemRows = (orderId: number, { items }: Order): { orderId: number; sku: string; quantity: number }[] =>
  items.map(({ sku, quantity }) => ({ orderId, sku, quantity }))

/** Replaces the facts of a known order. */
export async function updateFacts(db: Database, id: number, order: Order, hash: string): Promise<void> {
  await db('orders')
    .where({ id })
    .update({ ...rowOf(factColumns, order), factHash: hash })
  // Those of an old month are in a file: what is new of them is in the books again.
  await db('order_facts')
    .insert({ orderId: id, facts: toJson(order) })
    .onConflict('order_id')
    .merge()
  await db('order_items').where({ orderId: id }).delete()
  for (const part of chunks(itemRows(id, order), 300)) await db('order_items').insert(part)
  await writeSearch(db, [{ id, body: searchText(order) }])
}
/** Writes what was decided anew for orders in the books: columns for the Desk, the outcome with its trail, and tags. */
export async function recordDecisions(
  db: Database,
  list: readonly Recorded[],
  edition: number,
  world: number,
  now: string,
): Promise<void> {
  await updateMany(db, { table: 'orders', columns: [...namesOf(decisionColumns), 'pinned'] }, list, (entry) => [
    entry.id,
    ...decisionReaders.map((read) => read(entry)),
    entry.pinned,
  ])
  for (const part of chunks(
    list.map(({ id }) => id),
    500,
  )) {
    await db('order_tags').whereIn('order_id', part).delete()
    await db('decisions').whereIn('order_id', part).delete()
  }
  await writeOutcomes(
    db,
    list.map(({ id, routed }) => ({ id, outcome: toJson(routed), tags: routed.decisions.tags })),
    edition,
    world,
    now,
  )
}

async function writeOutcomes(
  trx: Database,
  list: readonly (Pick<NewOrder, 'outcome' | 'tags'> & { readonly id: number })[],
  edition: number,
  world: number,
  now: string,
): Promise<void> {
  await insertMany(
    trx,
    'decisions',
    ['order_id', 'edition', 'world', 'decided_at', 'outcome'],
    list,
    ({ id, outcome }) => [id, edition, world, now, outcome],
  )
  await insertMany(
    trx,
    'order_tags',
    ['order_id', 'tag'],
    list.flatMap(({ id, tags }) => tags.map((tag): [number, string] => [id, tag])),
    (row) => row,
  )
}
