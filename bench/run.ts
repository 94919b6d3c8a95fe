import { execFileSync } from 'node:child_process'
import { cpus, totalmem } from 'node:os'
import { benchAddresses } from './addresses'
import { benchArrivals } from './arrivals'
import { benchTelling } from './telling'
import { benchBackups } from './backups'
import { benchBenches, benchDoors } from './benches'
import { benchBoard } from './board'
import { benchBuying } from './buying'
import { benchEngines } from './engines'
import { benchFloor } from './floor'
import { benchDeciding } from './deciding'
import { startCluster } from './cluster'
import { benchDesk, benchDeskOf } from './desk'
import { benchFind } from './find'
import { benchFindings } from './findings'
import { benchIntake } from './intake'
import { benchMessages } from './messages'
import { benchPacking } from './packing'
import { benchDoor } from './door'
import { benchPage } from './page'
import { benchPapers } from './papers'
import { benchQuotes } from './quotes'
import { benchRulebook } from './rulebook'
import { benchRules } from './rules'
import { say } from './say'
import type { TrialFigures } from './trial'
import { benchTyping } from './typing'

/*
 * Prints every figure that docs/performance.md keeps, or those that are named. Each kind is measured in a process of
 * its own: what one leaves in memory, and in the engine's guesses about the code, is none of the next one's business.
 */
const kinds = [
  'papers',
  'quotes',
  'packing',
  'addresses',
  'rules',
  'findings',
  'rulebook',
  'page',
  'typing',
  'messages',
  'arrivals',
  'telling',
  'board',
  'find',
  'growth',
  'deciding',
  'buying',
  'floor',
  'engines',
  'benches',
  'doors',
  'backups',
  'intake desk trial',
]
const which = process.argv.slice(2).filter((word) => word !== 'all')
const wanted = (name: string): boolean => which.includes(name)
if (which.length === 0) {
  console.log(
    `Node ${process.versions.node}, ${cpus().length} × ${cpus()[0]?.model ?? 'unknown'}, ${Math.round(totalmem() / 2 ** 30)} GiB; in brackets the nanoseconds for one addition in a loop, just after each figure`,
  )
  for (const kind of kinds)
    execFileSync('node', ['--expose-gc', 'scripts/run.mjs', 'bench/run.ts', ...kind.split(' ')], { stdio: 'inherit' })
}

if (wanted('papers')) {
  await benchPapers(20)
  const made = await benchPapers(1000)
  say(
    `papers: 1,000 slips + labels as one PDF in ${made.seconds} s (${made.pages} pages, ${made.megabytes} MB, ${Math.round(process.memoryUsage().rss / 2 ** 20)} MB resident after it)`,
  )
}
if (wanted('quotes')) benchQuotes(100_000, say)
if (wanted('packing')) benchPacking(say)
if (wanted('addresses')) benchAddresses(100_000, say)
if (wanted('rules')) await benchRules(say)
if (wanted('findings')) await benchFindings(say)
if (wanted('rulebook')) benchRulebook(say)
if (wanted('page')) {
  const { scripts, kilobytes } = await benchPage()
  say(`page: first load of Desk ${kilobytes} kB of compressed JavaScript in ${scripts} files`)
}
if (wanted('backups')) {
  const of = await benchBackups(100_000)
  say(
    `backups: ${of.megabytes} MB of books of 100,000 orders are copied, looked through and sealed (${of.sealed} MB) in ${of.backup} s while somebody writes (at most ${of.longestWriteMs} ms for one line), and restored and looked through in ${of.restore} s; a plain copy of the file ${of.plainCopy} s, VACUUM INTO ${of.vacuumInto} s`,
  )
}
if (wanted('door')) {
  const { byTheDoor, without } = await benchDoor(4000)
  say(`the door: a signed-in call ${JSON.stringify(byTheDoor)} ms, without asking who ${JSON.stringify(without)} ms`)
}
if (wanted('typing'))
  for (const rules of [300, 1000]) {
    const { key, slowest, busy } = await benchTyping(rules)
    say(
      `typing: the page of Rules with ${rules} rules, from key to screen ${key} ms (median; slowest ${slowest}), busy at one go for at most ${busy} ms`,
    )
  }
if (wanted('arrivals')) {
  const { parcels, bins, microseconds } = benchArrivals()
  say(
    `arrivals: ${parcels} parcels of a held-out month, ${microseconds} µs a question; ${bins.map(({ said, predictions, came }) => `of ${predictions} said ${said}, ${came} % came`).join('; ')}`,
  )
}
if (wanted('telling')) {
  const { posts, notices, both, events, page } = await benchTelling()
  say(
    `telling: ${posts} posts/s and ${notices} notices/s against stand-ins that take 50 ms, ${both} of both together; ${events} events/s with parcels and board; the customer’s page: ${page.perSecond}/s on one core, ${page.anew}/s when each is drawn anew (a server that sends the same bytes: ${page.peer}/s), ${page.kilobytes} kB, ${page.packed} kB packed`,
  )
}
if (wanted('board'))
  for (const parcels of [100_000, 300_000]) {
    const { page, needs, spread } = await benchBoard(parcels)
    say(
      `board, ${parcels.toLocaleString('en')} parcels on their way: first page of ${JSON.stringify(page)} ms, what needs a person ${JSON.stringify(needs)} ms, a distribution ${JSON.stringify(spread)} ms`,
    )
  }
if (wanted('find'))
  for (const orders of [100_000, 1_000_000]) {
    const times = await benchFind(orders)
    say(
      `the one box, ${orders.toLocaleString('en')} orders: ${Object.entries(times)
        .map(([what, took]) => `${what} ${JSON.stringify(took)}`)
        .join(', ')} ms`,
    )
  }
if (wanted('growth')) {
  const cluster = await startCluster()
  process.on('exit', () => cluster?.stop())
  for (const orders of [100_000, 1_000_000])
    for (const engine of cluster ? ['SQLite', 'PostgreSQL'] : ['SQLite']) {
      const address = engine === 'SQLite' ? undefined : cluster!.database(`growth_${orders}`)
      const { page, search, spread, slowest, counted, items } = await benchDeskOf(orders, address)
      say(
        `growth, the Desk with ${orders.toLocaleString('en')} orders on ${engine}: first page of ${JSON.stringify(page)} ms (slowest: ${slowest}), search ${JSON.stringify(search)} ms, distributions ${JSON.stringify(spread)} ms, Items ${JSON.stringify(items)} ms (90 days counted once in ${Math.round(counted)} ms)`,
      )
    }
}
if (wanted('deciding')) {
  const { orders, chosen, first, preview, applied, undone, exceptions, ways } = await benchDeciding(75_000)
  say(
    `deciding: ${orders} orders edited at once: made ready when they are chosen in ${Math.round(chosen)} ms, looked at in ${Math.round(first)} ms, again in ${Math.round(preview)} ms, applied in ${Math.round(applied)} ms, put back in ${Math.round(undone)} ms; ways out of ${exceptions} exceptions in ${Math.round(ways)} ms`,
  )
}
if (wanted('buying')) {
  const { labels, perSecond, peer, beside } = await benchBuying(1500)
  say(
    `buying: ${labels} labels at six carriers that take 50 ms, ${perSecond}/s (the calls alone: ${peer}/s); while the largest takes 8 s for each, ${beside}/s of the others`,
  )
}
if (wanted('floor')) {
  const { labels, posts, notices, printedMegabytes, seconds, boughtAfter, printedAfter } = await benchFloor(10_000)
  say(
    `floor: ${labels} labels bought (after ${boughtAfter} s), printed with their slips (${printedMegabytes} MB, after ${printedAfter} s) and told (${posts} posts, ${notices} notices) in ${seconds} s, against an outside that takes 50 ms to answer`,
  )
}
if (wanted('engines')) {
  const all = await benchEngines(10_000, 1000, 2)
  if (!all) say('engines: PostgreSQL is not installed (npm run test:postgres installs it where it may)')
  for (const { engine, imported, bought, workers } of all ?? [])
    say(
      `engines, ${engine}: ${imported} orders/s imported, ${bought} labels/s bought at carriers that take 50 ms${workers.length > 0 ? ` (by one and by two worker processes: ${workers.join(', ')})` : ''}`,
    )
}
if (wanted('benches')) {
  const benches = 20
  const { scans, median, p95, most } = await benchBenches(benches, 400)
  say(
    `benches: ${benches} at once, ${scans} scans, from scan to answer ${median} ms (median; 95 of 100 below ${p95} ms, most ${most} ms)`,
  )
}
if (wanted('doors')) {
  const { scans, median, p95, most } = await benchDoors(5000)
  say(
    `doors: ${scans} parcels loaded, from scan to answer ${median} ms (median; 95 of 100 below ${p95} ms, most ${most} ms)`,
  )
}
if (wanted('messages')) {
  const { median, p95, decided, orders, peer } = await benchMessages()
  say(
    `messages: 1,000 in 10 s answered in ${median} ms (median; 95 of 100 below ${p95} ms; a server that only keeps them: ${peer.median} and ${peer.p95} ms), ${orders} orders decided ${decided} s after the first`,
  )
}
if (wanted('intake') || wanted('desk') || wanted('trial') || wanted('year')) {
  const result = await benchIntake(100_000, async (db, folder) => {
    const tried = (...more: string[]): void => {
      const made = execFileSync('node', ['scripts/run.mjs', 'bench/trial.ts', folder, ...more], { encoding: 'utf8' })
      const trial = JSON.parse(made) as TrialFigures
      const from = trial.keptMb > 0 ? `columns (${trial.keptMb} MB, made in ${trial.keptIn} s)` : 'the books'
      say(
        `trial: ${trial.orders} orders from ${from}, 300 rules, both rulebooks, in ${trial.seconds} s (${trial.changed} change), at most ${trial.peakMb} MB resident (${trial.beforeMb} MB before it)`,
      )
    }
    if (wanted('trial')) {
      tried()
      tried('0', 'kept')
    }
    if (wanted('year')) tried('1000000', 'kept')
    if (!wanted('desk')) return
    const { page, search, spread } = await benchDesk(db)
    say(
      `desk, 100,000 orders: first page of ${JSON.stringify(page)} ms, search ${JSON.stringify(search)} ms, distributions ${JSON.stringify(spread)} ms`,
    )
  })
  say(
    `intake: ${result.orders} orders in ${result.seconds} s, ${result.perSecond} orders/s, at most ${result.peakMb} MB resident`,
  )
}
