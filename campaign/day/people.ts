import { buffer } from 'node:stream/consumers'
import { Readable } from 'node:stream'
import type { Random } from '../../demo/random'
import { request, type Promised } from '../acts'
import { pause } from '../figures'
import type { House } from '../house'

/** How long each kind of call took, in milliseconds, and how many of them went wrong. */
export interface Answers {
  readonly took: Map<string, number[]>
  readonly wrong: Map<string, number>
}
export const noAnswers = (): Answers => ({ took: new Map(), wrong: new Map() })

/** Whoever works in the house on that day. */
export interface Team {
  readonly house: House
  readonly random: Random
  readonly promised: Promised
  readonly answers: Answers
  /** Whether the day goes on. */
  readonly open: () => boolean
}

/** A call as a page makes it, with its time noted under a name; undefined where no good answer came. */
async function call<T>(
  { house, answers, promised }: Team,
  name: string,
  method: 'GET' | 'POST',
  path: string,
  body?: unknown,
): Promise<T | undefined> {
  const began = performance.now()
  const wrong = (): undefined => {
    answers.wrong.set(name, (answers.wrong.get(name) ?? 0) + 1)
    return undefined
  }
  try {
    const answer = await request(house, method, path, body, 60_000)
    const isJson = (answer.headers.get('content-type') ?? '').includes('json')
    const said = isJson
      ? ((await answer.json()) as T & { ok?: boolean })
      : await buffer(Readable.fromWeb(answer.body as never))
    const list = answers.took.get(name) ?? []
    list.push(performance.now() - began)
    answers.took.set(name, list)
    // A call that cannot be read is a fault of this script.
    if (answer.status >= 500 || answer.status === 400) return wrong()
    if (answer.ok && !(isJson && (said as { ok?: boolean }).ok === false)) return said as T
    promised.asked.refused++
    return undefined
  } catch {
    promised.asked.unanswered++
    return wrong()
  }
}

/** Plans what is ready and buys it, up to 500 orders at a time. */
export async function dispatcher(team: Team): Promise<void> {
  const { house, promised } = team
  while (team.open()) {
    const ready = (await house.db('orders').where({ state: 'ready' }).orderBy('id').limit(500).select('id')) as {
      id: number
    }[]
    const ids = ready.map(({ id }) => id)
    const plan =
      ids.length === 0
        ? undefined
        : await call<{ labels: { order: number }[]; total: number }>(team, 'plan', 'POST', '/api/dispatch/plan', {
            orders: ids,
          })
    const orders = plan?.labels.map(({ order }) => order) ?? []
    const bought =
      plan &&
      orders.length > 0 &&
      (await call(team, 'buy', 'POST', '/api/dispatch/batches', { orders, expected: plan.total }))
    if (bought) {
      promised.asked.batches++
      for (const order of orders) promised.bought.add(order)
    } else await pause(2000)
  }
}

/** Prints each batch when all of it is bought, and hands it over to its carriers. */
export async function printer(team: Team): Promise<void> {
  const { house, promised } = team
  const done = new Set<number>()
  while (team.open()) {
    const batches = (await house.db('batches').orderBy('id').select('id')) as { id: number }[]
    for (const { id } of batches.filter((batch) => !done.has(batch.id))) {
      const waits: unknown = await house
        .db('labels')
        .where({ batchId: id })
        .whereIn('state', ['queued', 'voiding'])
        .first('id')
      if (waits) continue
      const made = await call<{ file: string }>(team, 'print', 'POST', `/api/dispatch/batches/${id}/print`, {})
      if (made) await call(team, 'print file', 'GET', `/api/dispatch/prints/${made.file}`)
      const there = (await house.db('labels').where({ batchId: id, state: 'bought' }).select('id')) as { id: number }[]
      if (await call(team, 'hand over', 'POST', `/api/dispatch/batches/${id}`, { dispatched: true })) {
        promised.asked.handedOver++
        for (const label of there) promised.handedOver.add(label.id)
      }
      done.add(id)
    }
    await pause(1000)
  }
}

/** Packs at a bench: opens a printed parcel by its label, scans each of its pieces. */
export async function packer(team: Team, bench: string): Promise<void> {
  const { house } = team
  let after = 0
  while (team.open()) {
    const label = (await house
      .db('labels')
      .where({ state: 'bought' })
      .whereNotNull('tracking_number')
      .whereNull('dispatched_at')
      .where('id', '>', after)
      .orderBy('id')
      .first('id', 'tracking_number')) as { id: number; trackingNumber: string } | undefined
    if (!label) {
      await pause(1000)
      continue
    }
    after = label.id + 3
    type Opened = { view?: { check: number; parcel: { lines: { sku: string; quantity: number }[] } } }
    const opened = await call<Opened>(team, 'open parcel', 'POST', '/api/dispatch/bench', {
      ...{ bench, code: label.trackingNumber, take: true },
    })
    const { check, parcel } = opened?.view ?? {}
    for (const { sku, quantity } of parcel?.lines ?? [])
      for (let i = 0; i < Math.min(quantity, 5); i++)
        await call(team, 'scan', 'POST', '/api/dispatch/bench/scans', {
          check,
          scans: [{ key: `day ${label.id} ${sku} ${i}`, code: sku, typed: null, at: new Date().toISOString() }],
        })
    await pause(500)
  }
}

const pages: readonly (readonly [string, string])[] = [
  ['Desk', '/api/desk'],
  ['Desk, what waits', '/api/desk?state=attention'],
  ['Desk, spread', '/api/desk/spread'],
  ['Rules', '/api/rules/rulebook'],
  ['batches', '/api/dispatch/batches'],
  ['board', '/api/tracking/board'],
  ['Ledger', '/api/ledger'],
  ['Health', '/api/health'],
]

/** Clicks through the pages, as people do who look how the day goes. */
export async function clicker(team: Team): Promise<void> {
  const { house, random } = team
  while (team.open()) {
    const [name, path] = random.pick(pages)
    await call(team, name, 'GET', path)
    const [{ high }] = (await house.db('orders').max({ high: 'id' })) as [{ high: number | null }]
    if (high !== null) {
      const id = 1 + random.below(high)
      await call(team, 'one order', 'GET', `/api/desk/orders/${id}`)
    }
    await pause(300 + random.below(900))
  }
}
