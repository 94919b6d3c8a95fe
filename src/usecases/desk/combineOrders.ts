import { closedAs, combineOrders, type Member, waitingStates } from '@/core/order'
import {
  addMembers,
  groupsByRule,
  insertOrders,
  newOrder,
  membersOf,
  orderRow,
  orderRows,
  ordersById,
  ordersWithKey,
  removeMembers,
  setFlag,
  setState,
  shipmentOf,
  writeLog,
  type Database,
  type OrderRow,
} from '@/data'
import { factHash } from '../shared/factHash'
import { refuse, type Answer, type Application } from '../shared/application'
import { decideFully, routeAndRecord } from '../shared/routeOrders'
import { rulebookInForce, type InForce } from '../shared/rulebookInForce'

/** What an order goes with, or could go with. */
export interface Togetherness {
  /** The shipment that this order goes in. */
  readonly within: TogetherOrder | null
  /** The orders that this shipment is made of. */
  readonly members: readonly TogetherOrder[]
  /** Open orders of the same buyer and address. */
  readonly others: readonly TogetherOrder[]
}
export type TogetherOrder = Pick<OrderRow, 'id' | 'number' | 'channelId' | 'state' | 'quantity'>

export async function showTogether(db: Database, row: OrderRow): Promise<Togetherness> {
  const brief = ({ id, number, channelId, state, quantity }: OrderRow): TogetherOrder => ({
    id,
    number,
    channelId,
    state,
    quantity,
  })
  const within = await shipmentOf(db, row.id)
  const shipment = within === undefined ? undefined : await orderRow(db, within)
  const others = waitingStates.includes(row.state) ? await ordersWithKey(db, row.combineKey, waitingStates, row.id) : []
  return {
    within: shipment ? brief(shipment) : null,
    members: (await orderRows(db, await membersOf(db, row.id))).map(brief),
    others: (await orderRows(db, others)).map(brief),
  }
}

/**
 * Makes one shipment of waiting orders of the same buyer and address; each channel is told of its own order later.
 * Gives the new order.
 */
export async function combine(
  gharry: Application,
  ids: readonly number[],
): Promise<Answer<{ order: number; number: string }>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  return gharry.db.transaction(async (trx): Promise<Answer<{ order: number; number: string }>> => {
    const rows = await orderRows(trx, [...new Set(ids)])
    const reason = whyNotTogether(rows)
    if (reason) return refuse('not-together', reason)
    // A shipment that is there already is opened, and made again with the others.
    const apart = await Promise.all(rows.map(async (row) => ({ row, members: await membersOf(trx, row.id) })))
    const wanted = apart.flatMap(({ row, members }) => (members.length > 0 ? members : [row.id]))
    const members = (await ordersById(trx, wanted)).map(({ id, order }): Member => ({ id, order }))
    if (new Set(members.map(({ order }) => order.paymentMethod)).size > 1)
      return refuse(
        'not-together',
        'One of them is paid on delivery, another is paid already: the carrier can collect only for all of it.',
      )
    const order = combineOrders(members, inForce.ready.world.rates)
    if (!order) return refuse('no-rate', 'Their amounts cannot be added: a currency has no exchange rate.')
    const now = gharry.now()
    const at = now.toISOString()
    for (const { row, members: inside } of apart)
      if (inside.length > 0) await close(trx, row.id, gharry.settings.author, at, 'Made anew with another order')
    const made = { ...order, remoteId: `combined ${wanted.join('+')} ${now.getTime()}` }
    const facts = JSON.stringify(made)
    const [id] = await insertOrders(
      trx,
      [newOrder(made, facts, factHash(made, facts), decideFully(made, inForce, now))],
      inForce.edition,
      inForce.worldVersion,
      at,
    )
    await addMembers(trx, id!, wanted, gharry.settings.author, at)
    await setState(trx, wanted, 'combined')
    await writeLog(trx, [
      { order: id!, at, author: gharry.settings.author, sentence: `Made of ${members.length} orders` },
      ...wanted.map((member) => ({
        order: member,
        at,
        author: gharry.settings.author,
        sentence: `Goes with ${made.number}`,
      })),
    ])
    return { ok: true, order: id!, number: made.number }
  })
}

/** Makes one shipment of each group; says of those that could not be why. */
export async function combineGroups(
  gharry: Application,
  groups: readonly (readonly number[])[],
): Promise<Answer<{ made: { order: number; number: string; of: readonly number[] }[]; refused: string[] }>> {
  const made: { order: number; number: string; of: readonly number[] }[] = []
  const refusals: string[] = []
  for (const ids of groups) {
    const answer = await combine(gharry, ids)
    if (answer.ok) made.push({ order: answer.order, number: answer.number, of: ids })
    else refusals.push(answer.sentence)
  }
  return made.length === 0 && refusals[0] ? refuse('not-together', refusals[0]) : { ok: true, made, refused: refusals }
}

function whyNotTogether(rows: readonly OrderRow[]): string | null {
  if (rows.length < 2) return 'One order alone cannot be combined: choose another of the same buyer and address.'
  const late = rows.find((row) => !waitingStates.includes(row.state))
  if (late) return `Order ${late.number} is ${late.state}: only orders that still wait can be combined.`
  const pinned = rows.find((row) => row.pinned)
  if (pinned)
    return `Order ${pinned.number} has decisions by hand: release them first, as they cannot hold for the whole shipment.`
  if (rows.some((row) => row.combineKey === '' || row.combineKey !== rows[0]!.combineKey))
    return 'They go to different buyers or addresses: only orders to the same buyer and address can be combined.'
  return null
}

/** Takes a shipment of several orders apart, as long as it has not been bought. */
export async function takeApart(gharry: Application, id: number): Promise<Answer<object>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const row = await orderRow(trx, id)
    if (!row || (await membersOf(trx, id)).length === 0)
      return refuse('not-combined', 'This order is not made of several.')
    if (!waitingStates.includes(row.state)) return refuse('not-waiting', `It is ${row.state}: void the label first.`)
    await openShipment(trx, id, gharry.settings.author, gharry.now(), inForce, 'Taken apart')
    return { ok: true }
  })
}

/** Sends the orders of a shipment on their own way again, and closes it. */
export async function openShipment(
  db: Database,
  id: number,
  author: string,
  now: Date,
  inForce: InForce,
  why: string,
): Promise<void> {
  const members = await membersOf(db, id)
  await close(db, id, author, now.toISOString(), why)
  const stored = await ordersById(db, members)
  await routeAndRecord(
    db,
    stored.filter(({ order }) => closedAs(order.status) === null),
    inForce,
    now,
  )
  // What the channel took back meanwhile is not sent after all.
  for (const { id: member, order } of stored) {
    const closed = closedAs(order.status)
    if (closed !== null) await setState(db, [member], closed)
    await setFlag(db, member, null)
  }
  await writeLog(
    db,
    members.map((member) => ({
      order: member,
      at: now.toISOString(),
      author,
      sentence: `${why}: is shipped separately again`,
    })),
  )
}

async function close(db: Database, id: number, author: string, at: string, why: string): Promise<void> {
  await removeMembers(db, id)
  await setState(db, [id], 'cancelled')
  await writeLog(db, [{ order: id, at, author, sentence: why }])
}

const maxGroups = 50
/** Groups that cannot go together, so that they are not tried at every round. */
const refused = new Set<string>()

/** Combines what a rule wants to go together; gives how many shipments were made. */
export async function combineByRule(gharry: Application): Promise<number> {
  let made = 0
  for (const ids of await groupsByRule(gharry.db, maxGroups)) {
    const group = ids.join()
    if (refused.has(group)) continue
    const answer = await combine(gharry, ids)
    if (answer.ok) made++
    else {
      refused.add(group)
      gharry.log.info({ orders: ids, why: answer.sentence }, 'not combined')
    }
  }
  return made
}
