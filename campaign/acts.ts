import { randomUUID } from 'node:crypto'
import { demoOrders } from '../demo/orders'
import type { Random } from '../demo/random'
import type { ShopOrder } from '../standins/channels/shop'
import { pause } from './figures'
import { carrierIds, type House } from './house'

/** What was asked for and answered with yes: none of it may be undone by a kill. */
export interface Promised {
  readonly stocked: ShopOrder[]
  readonly published: number[]
  readonly asked: {
    publishing: number
    topUps: number
    voids: number
    batches: number
    changes: number
    handedOver: number
    unanswered: number
    refused: number
  }
  readonly handedOver: Set<number>
  readonly pins: { order: number; value: string }[]
  /** Asked for without an answer: they may be there, or not. */
  readonly unansweredPins: { order: number; value: string }[]
  readonly bought: Set<number>
}

export const nothingYet = (): Promised => ({
  stocked: [],
  published: [],
  asked: { publishing: 0, topUps: 0, voids: 0, batches: 0, changes: 0, handedOver: 0, unanswered: 0, refused: 0 },
  handedOver: new Set(),
  pins: [],
  unansweredPins: [],
  bought: new Set(),
})

export type Act = (house: House, random: Random, promised: Promised) => Promise<void>

/** A call of the server as its pages make it, by whoever is signed in. */
export const request = (
  house: House,
  method: 'GET' | 'POST' | 'PUT',
  path: string,
  body: unknown,
  waitMs: number,
): Promise<Response> =>
  fetch(`${house.url}${path}`, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    headers: { cookie: house.cookie, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    signal: AbortSignal.timeout(waitMs),
  })

/** Asks the server as its pages do; undefined when no answer came. */
export async function ask<T>(
  house: House,
  promised: Promised,
  method: 'GET' | 'POST' | 'PUT',
  path: string,
  body?: unknown,
): Promise<T | undefined> {
  const answer = await request(house, method, path, body, 15_000).catch(() => null)
  if (!answer) {
    promised.asked.unanswered++
    return undefined
  }
  const said = (await answer.json().catch(() => undefined)) as (T & { ok?: boolean; sentence?: string }) | undefined
  if (answer.status >= 500 && answer.status !== 503)
    throw new Error(`${method} ${path} answered ${answer.status}: ${JSON.stringify(said)}`)
  if (answer.ok && said?.ok !== false) return said
  promised.asked.refused++
  return undefined
}

/** Asks a stand-in's back door; nothing when it is not there at the moment. */
export async function outside<T>(house: House, which: string, path: string, body?: unknown): Promise<T | undefined> {
  const answer = await fetch(
    `${house.outside(which)}${path}`,
    body === undefined
      ? {}
      : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
  ).catch(() => null)
  // It may be killed in the middle of its answer.
  return answer?.ok ? ((await answer.json().catch(() => undefined)) as T | undefined) : undefined
}

const waiting = async (house: House, states: readonly string[], most: number): Promise<number[]> =>
  (
    (await house.db('orders').whereIn('state', states).orderBy('id', 'desc').limit(most).select('id')) as {
      id: number
    }[]
  ).map(({ id }) => id)

let stock: Iterator<ShopOrder> | null = null
const stockShop: Act = async (house, random, { stocked }) => {
  stock ??= demoOrders('large', 23, new Date().toISOString().slice(0, 10))
  const orders: ShopOrder[] = []
  // The shop's articles with large boxes and long rods are in it as in life; the oldest orders only come first.
  for (let n = 5 + random.below(15); n > 0;) {
    const { value, done } = stock.next()
    if (done) throw new Error('The demo has no more orders.')
    if (value.status === 'open') {
      orders.push(value)
      n--
    }
  }
  if (await outside(house, 'shop', '/admin/orders', orders)) stocked.push(...orders)
}

const askForImport = (house: House, promised: Promised): Promise<object | undefined> =>
  ask(house, promised, 'POST', '/api/intake/channels/mossgill-shop/import', {})
const importOrders: Act = async (house, _random, promised) => void (await askForImport(house, promised))

const buy: Act = async (house, random, promised) => {
  const ids = (await waiting(house, ['ready'], 40)).filter(() => random.chance(0.7))
  if (ids.length === 0) return
  const plan = await ask<{ labels: { order: number }[]; total: number }>(
    house,
    promised,
    'POST',
    '/api/dispatch/plan',
    { orders: ids },
  )
  const orders = plan?.labels.map(({ order }) => order) ?? []
  if (!plan || orders.length === 0) return
  promised.asked.batches++
  if (await ask(house, promised, 'POST', '/api/dispatch/batches', { orders, expected: plan.total }))
    for (const order of orders) promised.bought.add(order)
}

const voidSome: Act = async (house, random, promised) => {
  const rows = (await house
    .db('labels')
    .where({ state: 'bought' })
    .whereNull('delivered_at')
    .orderBy('id', 'desc')
    .limit(30)
    .select('id')) as { id: number }[]
  for (const { id } of rows.filter(() => random.chance(0.15))) {
    promised.asked.voids++
    await ask(house, promised, 'POST', `/api/dispatch/labels/${id}/void`, {})
  }
}

function changed(order: ShopOrder, random: Random): Partial<ShopOrder> {
  if (random.chance(0.15)) return { status: 'cancelled' }
  if (random.chance(0.5))
    return { ship_to: { ...order.ship_to, city: `${order.ship_to.city.split(' ·')[0]} ·${random.below(1000)}` } }
  return { lines: order.lines.map((line, i) => (i === 0 ? { ...line, quantity: line.quantity + 1 } : line)) }
}

/** Another city, another wording, one more piece, or the end: before and after the purchase. */
const changeUpstream: Act = async (house, random, promised) => {
  const some = await outside<ShopOrder[]>(house, 'shop', '/admin/orders?most=60')
  for (const order of (some ?? []).filter(() => random.chance(0.08))) {
    promised.asked.changes++
    await outside(house, 'shop', `/admin/orders/${order.id}`, changed(order, random))
  }
}

const pin: Act = async (house, random, promised) => {
  for (const order of (await waiting(house, ['ready', 'attention', 'held'], 20)).filter(() => random.chance(0.1))) {
    const value = `note ${random.below(1_000_000)}`
    if (await ask(house, promised, 'POST', `/api/desk/orders/${order}/pins`, { decision: 'reference', value }))
      promised.pins.push({ order, value })
    else promised.unansweredPins.push({ order, value })
  }
}

const publish: Act = async (house, random, promised) => {
  const shown = await ask<{ draft: object; revision: number }>(house, promised, 'GET', '/api/rules/rulebook')
  if (!shown) return
  const saved = await ask<{ revision: number }>(house, promised, 'PUT', '/api/rules/rulebook', {
    rulebook: { ...shown.draft, name: `Campaign ${random.below(1_000_000)}` },
    revision: shown.revision,
  })
  if (!saved) return
  // Twice at once, as a second click does.
  promised.asked.publishing++
  const answers = await Promise.all(
    [1, 2].map(() =>
      ask<{ edition: number }>(house, promised, 'POST', '/api/rules/rulebook/publish', {
        revision: saved.revision,
        note: 'campaign',
      }),
    ),
  )
  for (const answer of answers) if (answer) promised.published.push(answer.edition)
}

const topUp: Act = async (house, random, promised) => {
  const [carrier, amount, key] = [random.pick(carrierIds), 100 * (1 + random.below(900)), randomUUID()]
  promised.asked.topUps++
  await ask(house, promised, 'POST', '/api/ledger/balance/top-up', { carrier, amount, key })
  if (random.chance(0.3)) await ask(house, promised, 'POST', '/api/ledger/balance/top-up', { carrier, amount, key })
}

const handOver: Act = async (house, random, promised) => {
  const batches = (await house.db('batches').orderBy('id', 'desc').limit(6).select('id')) as { id: number }[]
  for (const { id } of batches.filter(() => random.chance(0.3))) {
    const there = (await house.db('labels').where({ batchId: id, state: 'bought' }).select('id')) as { id: number }[]
    if (!(await ask(house, promised, 'POST', `/api/dispatch/batches/${id}`, { dispatched: true }))) continue
    promised.asked.handedOver++
    for (const label of there) promised.handedOver.add(label.id)
  }
}

/** Parcels travel: some at once, as on a same-day round. */
const newsOfParcels: Act = async (house, random) =>
  void (await outside(house, random.pick(carrierIds), '/admin/clock', { days: random.pick([0.3, 1, 3]) }))

const troubles = (random: Random): object => ({
  latencyMs: random.pick([0, 0, 30, 150]),
  timeOutAfterWork: random.pick([0, 5, 9]),
  tooManyCalls: random.pick([0, 0, 7]),
  serverError: random.pick([0, 6, 11]),
  malformedBody: random.pick([0, 0, 13]),
  twice: random.pick([0, 4]),
})
const trouble: Act = async (house, random) =>
  void (await outside(house, random.pick(['shop', 'mail', ...carrierIds]), '/admin/faults', troubles(random)))

export const noTrouble = async (house: House): Promise<void> => {
  for (const which of ['shop', 'mail', 'lane', 'quill', ...carrierIds])
    await outside(house, which, '/admin/faults', {
      latencyMs: 0,
      timeOutAfterWork: 0,
      tooManyCalls: 0,
      serverError: 0,
      malformedBody: 0,
      twice: 0,
    })
}

/** With how often each is done, against the others. */
export const acts: readonly (readonly [Act, number])[] = [
  [stockShop, 6],
  [importOrders, 6],
  [buy, 8],
  [voidSome, 4],
  [changeUpstream, 4],
  [pin, 2],
  [publish, 1],
  [topUp, 3],
  [handOver, 2],
  [newsOfParcels, 2],
  [trouble, 4],
]
/** Before the first process dies there are orders to buy: a slow machine would have none after a few rounds. */
export async function firstOrders(house: House, random: Random, promised: Promised): Promise<void> {
  await stockShop(house, random, promised)
  await importAll(house, promised)
  for (const end = performance.now() + 300_000; performance.now() < end; await pause(200))
    if ((await waiting(house, ['ready'], 1)).length > 0) return
  throw new Error('after five minutes no order of the first import is ready')
}
/** Brings in all that is still outside: it is asked for until somebody answers. */
export async function importAll(house: House, promised: Promised): Promise<void> {
  for (let tries = 0; tries < 20; tries++) {
    if (await askForImport(house, promised)) return
    await pause(3000)
  }
  throw new Error('nobody answers to the wish for an import')
}
