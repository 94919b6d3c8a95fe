import { parseArgs } from 'node:util'
import { seeded, type Random } from '../demo/random'
import { acts, firstOrders, importAll, nothingYet, noTrouble, type Promised } from './acts'
import { type Books, compareBooks, readBooks } from './books'
import { pause, percentile } from './figures'
import { compareKept } from './kept'
import { befall, type Misfortune, misfortunesOf } from './misfortunes'
import { isAway } from '@/data'
import { isWorker, openHouse, type House, type Process } from './house'

/*
 * npm run campaign -- [--rounds N] [--seed S] [--misfortunes M] [--at-once K] [--keep]: works with the whole of Gharry as people do,
 * while the world outside fails and changes, kills three of its processes (K) in each round, and in each Mth locks the
 * file, fills the disk, turns the clock or cuts the network. Then every book is compared with every other. Exit code 1
 * when they differ, 3 when it could not be carried out.
 */
const { values } = parseArgs({
  options: {
    rounds: { type: 'string', default: '300' },
    seed: { type: 'string', default: '1' },
    misfortunes: { type: 'string', default: '10' },
    'at-once': { type: 'string', default: '3' },
    keep: { type: 'boolean', default: false },
  },
})
const [rounds, seed, apart] = [Number(values.rounds), Number(values.seed), Number(values.misfortunes)]
/** So many processes are killed in a round, all at once. */
const killsARound = Number(values['at-once'])
if (
  ![rounds, seed, apart, killsARound].every(Number.isSafeInteger) ||
  Math.min(rounds, apart, killsARound) < 1 ||
  killsARound > 5
) {
  console.error('Say how many rounds, and a whole number to start from: npm run campaign -- --rounds 300 --seed 1')
  process.exit(2)
}

/** How often each process is chosen. */
const howOften: readonly (readonly [Process, number])[] = [
  ['worker', 10],
  ['worker whose clock is an hour behind', 5],
  ['worker that buys and tells', 5],
  ['server', 4],
  ['carriers', 3],
  ['keeper', 2],
  ['shop', 2],
  ['mail', 1],
]
/** Far more than anything takes, also on a machine that many share. */
const stuckAfterMs = 300_000
/** Longer than any pause before another try, and the try. */
const settledWithinMs = 900_000
/** Ctrl+C ends the rounds; what was done until then is compared all the same. */
let [wanted, done] = [rounds, 0]
process.once('SIGINT', () => (wanted = 0))
const workTables = ['labels', 'posts', 'notices', 'imports', 'jobs'] as const

/** Asks the books; while they are away, again and again. */
async function patient<T>(look: () => PromiseLike<T>): Promise<T> {
  for (let tries = 0; ; tries++)
    try {
      return await look()
    } catch (error) {
      if (!isAway(error) || tries > 300) throw error
      await pause(100)
    }
}

/** What a worker held when it was killed, by the name under which it held it. */
async function held(house: House): Promise<{ table: string; id: number; owner: string }[]> {
  const found: { table: string; id: number; owner: string }[] = []
  for (const table of workTables)
    for (const { id, leaseOwner } of (await house
      .db(table)
      .whereNotNull('lease_until')
      .whereNotNull('lease_owner')
      .select('id', 'lease_owner')) as { id: number; leaseOwner: string }[])
      found.push({ table, id, owner: leaseOwner })
  return found
}

/** Seconds until each piece of work is done or is in other hands. */
async function takenUp(
  house: House,
  pieces: readonly { table: string; id: number; owner: string }[],
  since: number,
): Promise<{ table: string; after: number }[]> {
  const seconds: { table: string; after: number }[] = []
  for (let left = pieces; left.length > 0;) {
    const still: (typeof left)[number][] = []
    for (const piece of left) {
      const row = (await patient(() =>
        house.db(piece.table).where({ id: piece.id }).first('lease_owner', 'lease_until'),
      )) as { leaseOwner: string | null; leaseUntil: string | null } | undefined
      if (row?.leaseOwner === piece.owner && row.leaseUntil !== null) still.push(piece)
      else seconds.push({ table: piece.table, after: (performance.now() - since) / 1000 })
    }
    left = still
    if (performance.now() - since > stuckAfterMs)
      throw new Error(
        `after five minutes nobody has taken up ${left.map(({ table, id }) => `${table} ${id}`).join(', ')}`,
      )
    if (left.length > 0) await pause(50)
  }
  return seconds
}

async function untilItAnswers(house: House, name: Process, since: number): Promise<number> {
  while (!(await house.answers(name))) {
    if (performance.now() - since > stuckAfterMs) throw new Error(`after five minutes the ${name} does not answer`)
    await pause(50)
  }
  return (performance.now() - since) / 1000
}

async function someWork(house: House, random: Random, promised: Promised): Promise<void> {
  for (let n = 3 + random.below(5); n > 0; n--) await random.weighted(acts)(house, random, promised)
}

/**
 * Works on without faults until all books agree; what they still say in fifteen minutes is so. A machine that is busy
 * takes its time, and a piece of work that failed often is tried again after minutes: neither is a difference.
 */
async function finish(house: House, promised: Promised): Promise<{ books: Books; differ: string[] }> {
  await noTrouble(house)
  const end = performance.now() + settledWithinMs
  // Once more, for what the shop changed while the first went on; and the news of the last parcels.
  for (let round = 0; round < 2; round++) {
    await importAll(house, promised)
    await nothingOpen(house, end)
  }
  const since = performance.now()
  for (;;) {
    await pause(6000)
    const books = await readBooks(house)
    const differ = await compareBooks(books, promised)
    if (differ.length === 0 || performance.now() > end) return { books, differ }
    console.log(
      `  ${differ.length} differences after ${Math.round((performance.now() - since) / 1000)} s, the first: ${differ[0]}`,
    )
  }
}

/** Waits until no work is open, for some seconds in a row. */
async function nothingOpen(house: House, end: number): Promise<void> {
  for (let quiet = 0; performance.now() < end && quiet < 4;) {
    await pause(1000)
    const open = await Promise.all([
      house.db('labels').whereIn('state', ['queued', 'voiding']).first('id'),
      house.db('posts').where({ state: 'queued' }).first('id'),
      house.db('imports').whereIn('state', ['queued', 'running']).first('id'),
      house.db('jobs').where({ state: 'queued' }).first('id'),
      house.db('topups').where({ state: 'asked' }).first('id'),
      house.db('orders').where({ state: 'ready', buyByItself: true }).first('id'),
    ])
    quiet = open.some(Boolean) ? 0 : quiet + 1
  }
}

const random = seeded(seed)
const promised = nothingYet()
const kills = new Map<Process, number>()
const befell = new Map<Misfortune, number>()
const recovery: { work: { table: string; after: number }[]; first: number[]; pages: number[] } = {
  work: [],
  first: [],
  pages: [],
}
const faults: string[] = []
let carriedOut = true
const house = await openHouse()
const victims = howOften.filter(([name]) => house.processes.includes(name))
const began = performance.now()
try {
  for (const name of house.processes) await untilItAnswers(house, name, performance.now())
  await firstOrders(house, random, promised)
  for (let round = 1; round <= wanted; round++) {
    done = round
    // Two people at once, each with chances of their own: how the one fares does not change what the other does.
    const working = Promise.all(
      [1, 2].map((person) => someWork(house, seeded(seed * 1_000_003 + round * 2 + person), promised)),
    ).catch((error: unknown) => {
      if (isAway(error)) promised.asked.unanswered++
      else faults.push(String(error))
    })
    await pause(100 + random.below(1500))
    if (round % apart === 0) {
      const possible = misfortunesOf(house)
      const what = possible[random.below(possible.length)]!
      befell.set(what, (befell.get(what) ?? 0) + 1)
      await befall(what, house, random)
    }
    const dying = new Set<Process>()
    while (dying.size < killsARound) dying.add(random.weighted(victims))
    for (const victim of dying) {
      await house.kill(victim)
      kills.set(victim, (kills.get(victim) ?? 0) + 1)
    }
    const dead = [...dying].filter(isWorker)
    const pieces = dead.length > 0 ? await patient(() => held(house)) : []
    const restarted = performance.now()
    for (const victim of dying) house.start(victim)
    const back = async (victim: Process): Promise<void> => {
      if (victim === dead[0]) {
        const taken = await takenUp(house, pieces, restarted)
        recovery.work.push(...taken)
        if (taken.length > 0) recovery.first.push(Math.min(...taken.map(({ after }) => after)))
      }
      if (!isWorker(victim))
        (victim === 'server' ? recovery.pages : []).push(await untilItAnswers(house, victim, restarted))
    }
    await Promise.all([...dying].map(back))
    await working
    if (round % 25 === 0) {
      const [{ n }] = (await house.db('labels').where({ state: 'bought' }).count({ n: '*' })) as [{ n: number }]
      console.log(
        `  ${round * killsARound} kills after ${Math.round((performance.now() - began) / 1000)} s: ${promised.stocked.length} orders, ${Number(n)} labels`,
      )
    }
  }
  const { books, differ } = await finish(house, promised)
  faults.push(...differ, ...(await compareKept(house)))
  const { asked } = promised
  const never = Object.entries({ ...asked, pins: promised.pins.length, published: promised.published.length })
    .filter(([what, n]) => n === 0 && what !== 'unanswered' && what !== 'refused')
    .map(([what]) => what)
  if (done >= 50 && never.length > 0) faults.push(`never tried: ${never.join(', ')}`)
  const count = (list: readonly { state: string }[], state: string): number =>
    list.filter((row) => row.state === state).length
  console.log(
    `${done * killsARound} kills (${house.processes.map((name) => `${name} ${kills.get(name) ?? 0}`).join(', ')}), seed ${seed}, in ${Math.round((performance.now() - began) / 1000)} s; ${[...befell].map(([what, n]) => `${what} ${n} times`).join(', ')}`,
  )
  console.log(
    `orders ${books.orders.length}; labels ${count(books.labels, 'bought')} travel, ${count(books.labels, 'voided')} voided, ${count(books.labels, 'failed')} refused; posts ${count(books.posts, 'sent')} sent, ${count(books.posts, 'failed')} refused; letters ${books.mails.length}`,
  )
  console.log(
    `asked for: ${asked.batches} batches, ${asked.voids} voids (${books.labels.filter(({ problem }) => problem?.startsWith('The carrier does not void')).length} refused by the carrier), ${asked.changes} changes in the shop, ${asked.topUps} top-ups, ${asked.handedOver} hand-overs, ${asked.publishing} editions, ${promised.pins.length} pins; ${asked.unanswered} without an answer, ${asked.refused} refused with a sentence`,
  )
  const said = (list: readonly number[]): string =>
    `${percentile(list, 0.5).toFixed(1)} s (median of ${list.length}), p95 ${percentile(list, 0.95).toFixed(1)} s`
  console.log(
    `after a restart the first piece of work in hand at the kill was taken up after ${said(recovery.first)}; pages answered after ${said(recovery.pages)}`,
  )
  for (const table of ['', ...workTables]) {
    const pieces = recovery.work.filter((piece) => table === '' || piece.table === table).map(({ after }) => after)
    if (pieces.length > 0) console.log(`  of ${table || 'all'} each piece was taken up after ${said(pieces)}`)
  }
  console.log(
    faults.length === 0
      ? 'All books agree: nothing lost, doubled, silent or stuck.'
      : `${faults.length} differences:\n${faults.map((fault) => `  ${fault}`).join('\n')}`,
  )
  if (faults.length > 0) for (const line of house.failures()) console.log(`  the server's log: ${line}`)
} catch (error) {
  carriedOut = false
  console.error(error)
}
const folder = await house.close(values.keep)
if (values.keep) console.log(`The books are in ${folder}.`)
if (faults.length > 0) process.exit(1)
process.exit(carriedOut ? 0 : 3)
