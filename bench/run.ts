import { cpus, totalmem } from 'node:os'
import { benchAddresses } from './addresses'
import { benchDesk } from './desk'
import { benchIntake } from './intake'
import { benchPacking } from './packing'
import { benchPage } from './page'
import { benchPapers } from './papers'
import { benchQuotes } from './quotes'
import { benchRulebook } from './rulebook'
import { benchRules } from './rules'
import { benchTrial } from './trial'

/** Prints every figure that docs/performance.md keeps. */
const which = process.argv.slice(2)
const wanted = (name: string): boolean => which.length === 0 || which.includes('all') || which.includes(name)
console.log(`Node ${process.versions.node}, ${cpus().length} × ${cpus()[0]?.model ?? 'unknown'}, ${Math.round(totalmem() / 2 ** 30)} GiB`)

if (wanted('papers')) {
  await benchPapers(20)
  const made = await benchPapers(1000)
  console.log(`papers: 1,000 slips + labels as one PDF in ${made.seconds} s (${made.pages} pages, ${made.megabytes} MB, ${Math.round(process.memoryUsage().rss / 2 ** 20)} MB resident after it)`)
}
if (wanted('quotes')) benchQuotes(100_000, (line) => console.log(line))
if (wanted('packing')) benchPacking((line) => console.log(line))
if (wanted('addresses')) benchAddresses(100_000, (line) => console.log(line))
if (wanted('rules')) await benchRules((line) => console.log(line))
if (wanted('rulebook')) benchRulebook((line) => console.log(line))
if (wanted('page')) {
  const { scripts, kilobytes } = await benchPage()
  console.log(`page: first load of Desk ${kilobytes} kB of compressed JavaScript in ${scripts} files`)
}
if (wanted('intake') || wanted('desk') || wanted('trial')) {
  const result = await benchIntake(100_000, async (db, folder) => {
    if (wanted('trial')) {
      const trial = await benchTrial(db, folder)
      console.log(`trial: ${trial.orders} orders, 300 rules, both rulebooks, in ${trial.seconds} s (${trial.changed} change), at most ${trial.peakMb} MB resident`)
    }
    if (!wanted('desk')) return
    const { page, search, spread } = await benchDesk(db)
    console.log(`desk, 100,000 orders: first page of ${JSON.stringify(page)} ms, search ${JSON.stringify(search)} ms, distributions ${JSON.stringify(spread)} ms`)
  })
  console.log(`intake: ${result.orders} orders in ${result.seconds} s, ${result.perSecond} orders/s, at most ${result.peakMb} MB resident`)
}
