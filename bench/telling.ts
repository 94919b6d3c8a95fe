import { grams } from '@/core/units'
import { spawn, type ChildProcess } from 'node:child_process'
import { request as ask } from 'node:http'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { type CarrierEvent, shopRawOrder } from '@/adapters'
import { addEdition, addNotices, addPosts, addWorld, insertPastLabels, addLabelParcels, putOnBoard } from '@/data'
import { saveConnection } from '@/usecases/intake/connections'
import { storeOrders } from '@/usecases/intake/storeOrders'
import { openApplication, type Application } from '@/usecases/shared/application'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { takeNews } from '@/usecases/tracking/followParcels'
import { workOnce } from '@/usecases/worker/work'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { slowOutside } from './slowOutside'

/** How fast the world is told, and told of. */
export interface TellingFigures {
  readonly posts: number
  readonly notices: number
  readonly both: number
  readonly events: number
  readonly page: {
    /** Of a thousand parcels in turns; and when each page is drawn anew. */
    readonly perSecond: number
    readonly anew: number
    readonly peer: number
    readonly kilobytes: number
    readonly packed: number
  }
}

const count = 1000
const latency = 50
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

/** Posts, notices, news and page views of so many shipments; the stand-ins take 50 ms to answer. */
export async function benchTelling(): Promise<TellingFigures> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-telling-'))
  const outside = await slowOutside(latency)
  const env = {
    ...{ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_NOTICE_WAIT_SECONDS: '0' },
    GHARRY_SMTP_CONNECTIONS: '48',
    GHARRY_SMTP_PORT: outside.smtpPort,
  }
  const gharry = await openApplication(env)
  const labels = await shipments(gharry, outside.shop)
  const now = gharry.now().toISOString()
  const queuePosts = (of: string): Promise<void> =>
    addPosts(
      gharry.db,
      labels.map(({ id, orderId }) => ({
        ...{ kind: 'fulfil' as const, orderId, labelId: id, parcel: 1, channelId: 'shop', key: `post-${of}-${id}` },
      })),
      now,
    )
  const queueNotices = (of: string): Promise<void> =>
    addNotices(
      gharry.db,
      labels.map(({ id, orderId }) => ({
        ...{ orderId, labelId: id, recipient: `buyer${id}@post.example`, key: `notice-${of}-${id}`, sendAfter: now },
      })),
      now,
    )
  const perSecond = async (n: number, work: () => Promise<unknown>): Promise<number> => {
    const began = performance.now()
    await work()
    return Math.round(n / ((performance.now() - began) / 1000))
  }
  const workAll = async (): Promise<void> => {
    while (await workOnce(gharry));
  }
  await queuePosts('a')
  const posts = await perSecond(count, workAll)
  await queueNotices('a')
  const notices = await perSecond(count, workAll)
  await queuePosts('b')
  // A notice of the hour before would hold the next one back.
  await gharry.db('notices').update({ sentAt: '2026-01-01T00:00:00.000Z' })
  await queueNotices('b')
  const both = await perSecond(2 * count, workAll)
  const [posted, mailed] = [outside.posts(), outside.mails()]
  if (posted !== 2 * count || mailed !== 2 * count) throw new Error(`${posted} posts and ${mailed} mails arrived.`)
  const events = await perSecond(4 * count, async () => {
    for (const status of ['collected', 'in transit', 'out for delivery', 'delivered'] as const)
      for (let from = 0; from < count; from += 200)
        await gharry.db.transaction((trx) =>
          takeNews(
            gharry,
            trx,
            'heron',
            labels.slice(from, from + 200).map(({ trackingNumber }): CarrierEvent => ({
              ...{ id: `${trackingNumber}-${status}`, trackingNumber, at: gharry.now().toISOString() },
              ...{ status, place: 'Brussels', text: status },
            })),
          ),
        )
  })
  await gharry.close()
  outside.close()
  const page = await views(
    env,
    labels.map(({ token }) => token),
  )
  rmSync(folder, { recursive: true })
  return { posts, notices, both, events, page }
}

/** Orders of the demo as bought shipments with a number each. */
async function shipments(
  gharry: Application,
  address: string,
): Promise<readonly { id: number; orderId: number; trackingNumber: string; token: string }[]> {
  const at = gharry.now().toISOString()
  await addWorld(gharry.db, { ...demoWorld, seller: { ...demoWorld.seller!, mail: 'hello@mossgill.example' } }, at)
  await addEdition(gharry.db, demoRulebook, '', 'bench', at)
  const saved = await saveConnection(gharry, null, {
    ...{ role: 'channel', kind: 'keyed-shop', name: 'Shop', on: true, settings: { address, key: 'k', secret: 's' } },
  })
  if (!saved.ok) throw new Error(saved.sentence)
  const inForce = (await rulebookInForce(gharry))!
  const raw = [...demoOrders('small', 7, at.slice(0, 10))].slice(0, count).map((order) => shopRawOrder(order)!)
  await gharry.db.transaction((trx) => storeOrders(trx, 'shop', raw, inForce, gharry.now()))
  const orders = await gharry.db('orders').select<{ id: number }[]>('id')
  return gharry.db.transaction(async (trx) => {
    const made = orders.map(({ id }) => ({
      ...{ orderId: id, position: 0, key: `bench-${id}`, token: `bench-token-of-order-${String(id).padStart(6, '0')}` },
      ...{ state: 'bought', carrier: 'heron', service: 'heron-road', zone: 'Z1', location: 'ghent', request: '{}' },
      ...{ quoted: 500, charged: 500, trackingNumber: number(id), symbology: 'gs1-128', routing: '', madeAt: at },
      ...{ boughtAt: at, status: 'announced', arrivesOn: at.slice(0, 10), nextAt: at },
    }))
    const ids = await insertPastLabels(trx, made)
    await addLabelParcels(
      trx,
      ids.map((labelId, i) => ({
        ...{ labelId, position: 1, preset: 'small-box', weight: grams(1000), size: [300, 200, 100], contents: [] },
        ...{ trackingNumber: made[i]!.trackingNumber, symbology: 'gs1-128' as const, routing: '', status: 'announced' },
        ...{ statusAt: at, returnNumber: null },
      })),
    )
    await putOnBoard(trx, ids)
    return ids.map((id, i) => ({ id, ...made[i]! }))
  })
}

/** A number as Heron Parcel gives them (SSCC behind its application identifier). */
function number(id: number): string {
  const digits = `35490001${String(id).padStart(9, '0')}`
  const sum = [...digits].reduce((all, digit, i) => all + Number(digit) * (i % 2 === 0 ? 3 : 1), 0)
  return `00${digits}${(10 - (sum % 10)) % 10}`
}

/**
 * How many views a second of the pages of many parcels the built server answers, held to one core; and one that only
 * sends the same.
 */
async function views(
  env: Readonly<Record<string, string>>,
  tokens: readonly string[],
): Promise<TellingFigures['page']> {
  const port = 4790
  const start = (args: readonly string[]): ChildProcess =>
    spawn('taskset', ['-c', '0', 'node', ...args], { env: { ...process.env, ...env }, stdio: 'ignore' })
  const server = start(['node_modules/next/dist/bin/next', 'start', '-p', String(port), '-H', '127.0.0.1'])
  const url = (n: number): string => `http://127.0.0.1:${port}/track/${tokens[n % tokens.length]!}`
  let body = ''
  for (let tries = 0; body === ''; tries++) {
    await pause(300)
    body = await fetch(url(0)).then(
      (answer) => answer.text(),
      () => '',
    )
    if (tries > 100) throw new Error('The server did not start: build it first (npm run build).')
  }
  // Compiled, and each page seen once: as a server is that runs for days.
  await load(url, 12_000)
  const perSecond = await load(url)
  const anew = await load((n) => `${url(n)}?said=thanks`)
  server.kill('SIGTERM')
  const plain = start([
    '-e',
    `require('http').createServer((q,r)=>r.end(${JSON.stringify(body)})).listen(${port + 1},'127.0.0.1')`,
  ])
  await pause(800)
  const peer = await load(() => `http://127.0.0.1:${port + 1}/`)
  plain.kill('SIGTERM')
  const kilobytes = Number((Buffer.byteLength(body) / 1000).toFixed(1))
  return { perSecond, anew, peer, kilobytes, packed: Number((gzipSync(body).length / 1000).toFixed(1)) }
}

/** Views a second by 16 readers at once, over connections that stay open. */
async function load(url: (n: number) => string, ms = 6000): Promise<number> {
  let seen = 0
  const view = (): Promise<void> =>
    new Promise((resolve, reject) => {
      ask(url(seen++), { agent: undefined }, (answer) => {
        answer.resume()
        answer.on('end', () =>
          answer.statusCode === 200 ? resolve() : reject(new Error(`It answered ${answer.statusCode}.`)),
        )
      })
        .on('error', reject)
        .end()
    })
  const reader = async (until: number): Promise<number> => {
    let n = 0
    while (performance.now() < until) {
      await view()
      n++
    }
    return n
  }
  const round = async (ms: number): Promise<number> => {
    const until = performance.now() + ms
    const all = await Promise.all(Array.from({ length: 16 }, () => reader(until)))
    return Math.round(all.reduce((sum, n) => sum + n, 0) / (ms / 1000))
  }
  await round(ms / 2)
  return round(ms)
}
