import { parseArgs } from 'node:util'
import { demoOrders } from '../../demo/orders'
import { seeded } from '../../demo/random'
import type { ShopOrder } from '../../standins/channels/shop'
import { nothingYet, noTrouble, outside, request } from '../acts'
import { compareBooks, readBooks } from '../books'
import { pause, percentile } from '../figures'
import { compareKept } from '../kept'
import { carrierIds, markets, openHouse } from '../house'
import { clicker, dispatcher, noAnswers, packer, printer, type Team } from './people'
import { channelOfOrder, comeIn, compareMarkets, marketIds, nothingCame } from './channels'
import { arrivedBy } from './waves'
import { look, type Seen, usualUntil } from './watch'

/*
 * npm run day -- --orders N --minutes M [--seed S] [--postgres]: a seller's whole day in M minutes, against outsides with
 * faults. Orders come in waves, are decided, bought, printed, packed, handed over, told and tracked, while people click.
 * Then every book is compared with every other. Exit code 1 when they differ.
 */
const { values } = parseArgs({
  options: {
    orders: { type: 'string', default: '100000' },
    minutes: { type: 'string', default: '20' },
    seed: { type: 'string', default: '1' },
  },
})
const [total, minutes, seed] = [Number(values.orders), Number(values.minutes), Number(values.seed)]
if (![total, seed].every(Number.isSafeInteger) || !(minutes > 0)) {
  console.error('Say how many orders in how many minutes: npm run day -- --orders 100000 --minutes 20')
  process.exit(2)
}
const dayMs = minutes * 60_000
/** What is left after the day is done within an hour, or it is stuck. */
const afterMs = 3_600_000

const house = await openHouse({ pauseMs: 2000, leaseSeconds: 20, callMs: 5000, allChannels: true })
const came = nothingCame()
/** How many orders have come, into whatever channel. */
let arrived = 0
const promised = nothingYet()
const answers = noAnswers()
const seen: Seen[] = []
let began = performance.now()
const passed = (): number => performance.now() - began
let working = true
const team = (n: number): Team => ({
  ...{ house, promised, answers, random: seeded(seed * 1000 + n) },
  open: () => working,
})

/** The orders of the day come into the channels, which are asked for them every few seconds, or send them. */
async function arrivals(): Promise<void> {
  const source = demoOrders('large', 23, new Date().toISOString().slice(0, 10))
  let copies = 0
  const nextOrder = (): ShopOrder => {
    for (;;) {
      const { value, done } = source.next()
      if (done) throw new Error('The demo has no more orders.')
      if (value.status === 'open') return { ...value, id: `day-${++copies}`, number: `D-${copies}` }
    }
  }
  while (arrived < total) {
    const due = arrivedBy(passed() / dayMs, total) - arrived
    if (due > 0) {
      const orders = Array.from({ length: Math.min(due, 400) }, nextOrder)
      const of = (channel: ReturnType<typeof channelOfOrder>): ShopOrder[] =>
        orders.filter((_, i) => channelOfOrder(arrived + i) === channel)
      const shops = of('shop')
      if (shops.length > 0 && (await outside(house, 'shop', '/admin/orders', shops))) promised.stocked.push(...shops)
      await Promise.all(markets.map((market) => comeIn(house, market, of(market), came)))
      arrived += orders.length
    }
    if (due <= 400) await pause(500)
  }
}
async function imports(): Promise<void> {
  while (working) {
    for (const channel of ['mossgill-shop', ...Object.values(marketIds)])
      await request(house, 'POST', `/api/intake/channels/${channel}/import`, {}, 15_000).catch(() => null)
    await pause(5000)
  }
}

/** Now and then an outside is slow, fails, or does the work and says nothing; parcels move on. */
async function world(): Promise<void> {
  const random = seeded(seed)
  while (working) {
    await pause(15_000)
    if (!working) return
    const which = random.pick(['shop', 'mail', 'lane', 'quill', ...carrierIds])
    await outside(house, which, '/admin/faults', {
      latencyMs: random.pick([0, 20, 60]),
      ...{ timeOutAfterWork: random.pick([0, 400]), tooManyCalls: random.pick([0, 300]) },
      ...{ serverError: random.pick([0, 200]), malformedBody: 0, twice: random.pick([0, 50]) },
    })
    await outside(house, random.pick(carrierIds), '/admin/clock', { days: 0.3 })
  }
}
async function watch(): Promise<void> {
  while (working) {
    seen.push(await look(house, Math.round(passed() / 1000)))
    const last = seen.at(-1)!
    if (seen.length % 12 === 0)
      console.log(
        `  ${last.at} s: ${arrived} orders came, ${promised.bought.size} in batches, ${last.due.labels} labels and ${last.due.posts} posts wait`,
      )
    await pause(5000)
  }
}

async function quiet(): Promise<boolean> {
  const { db } = house
  const left = await Promise.all([
    db('imports').whereIn('state', ['queued', 'running']).first('id'),
    db('orders').where({ state: 'ready' }).first('id'),
    db('labels').whereIn('state', ['queued', 'voiding']).first('id'),
    db('posts').where({ state: 'queued' }).first('id'),
    db('notices')
      .where({ state: 'waiting' })
      .where('next_at', '<', new Date(Date.now() + 90_000).toISOString())
      .first('id'),
    db('jobs').where({ state: 'queued' }).first('id'),
  ])
  return left.every((row: unknown) => row === undefined)
}

const line = (name: string, list: readonly number[], unit: string): string =>
  `  ${name.padEnd(18)} p50 ${percentile(list, 0.5).toFixed(1)}, p95 ${percentile(list, 0.95).toFixed(1)}, max ${Math.max(0, ...list).toFixed(1)} ${unit}`

const faults: string[] = []
try {
  for (const name of house.processes) while (!(await house.answers(name))) await pause(100)
  began = performance.now()
  const staff = Promise.all([
    ...[imports(), world(), watch(), dispatcher(team(1)), printer(team(2))],
    ...[1, 2, 3].map((n) => packer(team(10 + n), `Bench ${n}`)),
    ...[1, 2, 3, 4].map((n) => clicker(team(20 + n))),
  ])
  await arrivals()
  const lastCame = passed() / 1000
  while (passed() < dayMs) await pause(500)
  console.log(`All ${arrived} orders have come after ${Math.round(lastCame)} s; what is left is done.`)
  await noTrouble(house)
  for (let calm = 0; calm < 3 && passed() < dayMs + afterMs; calm = (await quiet()) ? calm + 1 : 0) await pause(2000)
  const ended = passed() / 1000
  working = false
  await staff
  await pause(6000)

  const [{ labels }] = (await house.db('labels').where({ state: 'bought' }).count({ labels: '*' })) as [
    { labels: number },
  ]
  const [{ posts }] = (await house.db('posts').where({ state: 'sent' }).count({ posts: '*' })) as [{ posts: number }]
  const [{ checks }] = (await house.db('checks').where({ state: 'done' }).count({ checks: '*' })) as [
    { checks: number },
  ]
  console.log(
    `${arrived} orders (shop ${promised.stocked.length}, ${Object.entries(came)
      .map(([name, ids]) => `${name} ${ids.size}`)
      .join(
        ', ',
      )}), ${labels} labels that travel, ${posts} posts, ${checks} parcels packed at benches, in ${Math.round(ended)} s: ${(arrived / ended).toFixed(1)} orders a second; ${Math.max(0, Math.round(ended - dayMs / 1000))} s after the end of the day`,
  )
  console.log('How long the oldest due work waited:')
  for (const table of Object.keys(seen[0]?.ages ?? {})) {
    const ages = seen.map(({ ages: all }) => all[table] ?? 0)
    if (Math.max(...ages) > 0) console.log(line(table, ages, 's'))
  }
  console.log('How long pages took:')
  for (const [name, took] of answers.took)
    console.log(`${line(name, took, 'ms')}, ${took.length} times, ${answers.wrong.get(name) ?? 0} wrong`)
  console.log('Memory, in MB, and open files (medians of two minutes): after a minute, after a third, at the end')
  for (const name of house.processes)
    console.log(
      `  ${name.padEnd(18)} ${[Math.min(0.3, 60 / ended), 1 / 3, 1].map((share) => usualUntil(seen, name, share * ended)).join(', ')}`,
    )
  const books = await readBooks(house)
  faults.push(...(await compareBooks(books, promised)), ...(await compareMarkets(house, books, came)))
  faults.push(...(await compareKept(house)))
  console.log(
    faults.length === 0
      ? 'All books agree: nothing lost, doubled, silent or stuck.'
      : `${faults.length} differences:\n${faults
          .slice(0, 50)
          .map((fault) => `  ${fault}`)
          .join('\n')}`,
  )
} catch (error) {
  faults.push(String(error))
  console.error(error)
} finally {
  working = false
  await house.close(false)
}
process.exit(faults.length > 0 ? 1 : 0)
