import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { addEdition, jobById, openDatabase, readDraft, replaceDraft } from '@/data'
import type { Application } from '@/usecases/shared/application'
import { runTrial, showTrialRun, startTrial } from '@/usecases/rules/runTrial'
import { realisticRulebook } from './realistic'

export interface TrialFigures {
  readonly orders: number
  readonly changed: number
  readonly seconds: number
  readonly peakMb: number
  readonly beforeMb: number
}

/*
 * node scripts/run.mjs bench/trial.ts FOLDER: a whole trial of all orders of the books in a folder, 300 rules, one
 * word of one rule changed. In a process of its own, as the worker's: what came before it does not count as its memory.
 */
const [dataDir] = process.argv.slice(2) as [string]
const beforeMb = Math.round(process.memoryUsage().rss / 1e6)
const db = await openDatabase(join(dataDir, 'gharry.db'))
console.log(JSON.stringify(await trialFigures()))
await db.destroy()

async function trialFigures(): Promise<TrialFigures> {
  const now = new Date('2026-11-21T08:00:00Z')
  const { bundle } = (await import(pathToFileURL(join(process.cwd(), 'scripts/bundle.mjs')).href)) as {
    bundle: (program: string) => Promise<string>
  }
  const trialThreads = { script: pathToFileURL(await bundle('cli/worker.ts')), count: availableParallelism() }
  const gharry = { db, now: () => now, settings: { leaseSeconds: 60, dataDir }, trialThreads } as unknown as Application
  const rulebook = realisticRulebook(300)
  await addEdition(db, rulebook, '', 'bench', now.toISOString())
  const draft = {
    ...rulebook,
    rules: rulebook.rules.map((rule) =>
      rule.id === 'v-express' ? { ...rule, then: [{ set: 'picks', to: [{ by: 'fastest' }] }] } : rule,
    ),
  }
  await replaceDraft(db, draft, (await readDraft(db))?.revision ?? 0, now.toISOString())
  const started = await startTrial(gharry, {
    from: '2026-01-01',
    until: '2026-12-31',
    channels: [],
    everyNth: 1,
    asOf: '',
  })
  if (!started.ok) throw new Error(started.sentence)
  let peak = 0
  const watch = setInterval(() => {
    peak = Math.max(peak, process.memoryUsage().rss)
  }, 50)
  const began = performance.now()
  await runTrial(gharry, (await jobById(db, started.id))!)
  const seconds = (performance.now() - began) / 1000
  clearInterval(watch)
  const { summary } = (await showTrialRun(gharry, started.id))!.result!
  return {
    orders: summary.orders,
    changed: summary.changed,
    seconds: Number(seconds.toFixed(1)),
    peakMb: Math.round(Math.max(peak, process.memoryUsage().rss) / 1e6),
    beforeMb,
  }
}
