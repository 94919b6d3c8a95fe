import { correctAll } from '@/core/address'
import { waitingStates } from '@/core/order'
import { type HandEdit, type WayOut, waysOut } from '@/core/rulebook/change'
import { orderRows, ordersById, pinsOf } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { decide } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'
import { correctAddress } from './correctAddress'
import { editMany, type EditDone } from './editMany'

/** Most orders whose ways out are looked for at once. */
export const mostSolved = 1000
/** So many orders before others are served. */
const portion = 25

/** One change, and the orders that it would let go. */
export interface SharedWay extends Pick<WayOut, 'key' | 'words' | 'edits' | 'address'> {
  readonly orders: readonly number[]
  /** What it costs for all of them, in home minor units. */
  readonly cost: number
  /** How many arrive after their promised day. */
  readonly late: number
  /** By which services they go, the most frequent first. */
  readonly services: readonly string[]
  /** The day on which the last of them arrives. */
  readonly arrivesOn: string
  /** Until when they wait first; null when they go at once. */
  readonly holdUntil: string | null
}

export interface WaysView {
  readonly ok: true
  /** How many of the orders need attention. */
  readonly stuck: number
  /** What frees the most orders comes first; of equals, the cheapest. */
  readonly ways: readonly SharedWay[]
  /** How many have no way out by what can be decided by hand. */
  readonly without: number
}

/** The ways out of what keeps orders from going, each tried by the engine; equal ones of several orders are one. */
export async function showWays(gharry: Application, orders: readonly number[]): Promise<Answer<WaysView>> {
  if (orders.length > mostSolved)
    return refuse(
      'batch-too-large',
      `Ways out are looked for of at most ${mostSolved.toLocaleString('en')} orders at once.`,
    )
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const { db } = gharry
  const rows = await orderRows(db, [...new Set(orders)])
  const ids = rows.filter(({ state }) => waitingStates.includes(state)).map(({ id }) => id)
  const pins = await pinsOf(db, ids)
  const now = gharry.now()
  const deciding = { program: inForce.program, ready: inForce.ready, now: now.getTime() }
  const found = new Map<string, (WayOut & { readonly order: number })[]>()
  let [stuck, without, worked] = [0, 0, 0]
  for (const { id, order } of await ordersById(db, ids)) {
    const own = pins.get(id) ?? {}
    const routed = decide(order, inForce, now, own)
    if (routed.problems.length === 0) continue
    stuck++
    const ways = waysOut(order, routed, own, deciding)
    if (ways.length === 0) without++
    for (const way of ways) {
      const same = found.get(way.key)
      if (same) same.push({ ...way, order: id })
      else found.set(way.key, [{ ...way, order: id }])
    }
    if (++worked % portion === 0) await new Promise((resolve) => setImmediate(resolve))
  }
  const ways = [...found.values()].map(shared)
  ways.sort((a, b) => b.orders.length - a.orders.length || a.cost - b.cost)
  return { ok: true, stuck, without, ways: ways.slice(0, 9) }
}

function shared(ways: readonly (WayOut & { readonly order: number })[]): SharedWay {
  const { key, words, edits, address, holdUntil } = ways[0]!
  const counts = new Map<string, number>()
  for (const { service } of ways) counts.set(service, (counts.get(service) ?? 0) + 1)
  return {
    ...{ key, words, edits, address, holdUntil },
    orders: ways.map(({ order }) => order),
    cost: ways.reduce((sum, { cost }) => sum + cost, 0),
    late: ways.filter(({ daysLate }) => (daysLate ?? 0) > 0).length,
    services: [...counts].sort(([, a], [, b]) => b - a).map(([service]) => service),
    arrivesOn: ways.reduce((last, { arrivesOn }) => (arrivesOn > last ? arrivesOn : last), ''),
  }
}

/** Takes a way out for orders: their addresses first, then what is decided by hand. */
export async function takeWay(
  gharry: Application,
  given: {
    readonly key: string
    readonly orders: readonly number[]
    readonly edits: readonly HandEdit[]
    readonly address: WayOut['address']
  },
): Promise<Answer<Omit<EditDone, 'edit'> & { readonly edit: number | null }>> {
  const { orders, edits, address, key } = given
  if (orders.length === 0) return refuse('no-orders', 'Choose the orders first.')
  if (orders.length > mostSolved)
    return refuse('batch-too-large', `At most ${mostSolved.toLocaleString('en')} orders at once.`)
  let changed = 0
  if (address !== null)
    for (const { id, order } of await ordersById(gharry.db, orders)) {
      const answer = await correctAddress(gharry, id, address === 'as it is' ? null : correctAll(order.shipTo))
      if (!answer.ok && orders.length === 1) return answer
      if (answer.ok) changed++
    }
  if (edits.length > 0) return editMany(gharry, { key, orders, edits })
  return { ok: true, edit: null, changed, left: [] }
}
