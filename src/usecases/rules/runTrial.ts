import { addFlow, type Flow } from '@/core/rulebook/bulk'
import { addSummary, emptySummary, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Routed, Rulebook } from '@/core/rulebook/language'
import { readyWorld, type World } from '@/core/world'
import {
  addChanges,
  addJob,
  cancelJob,
  changeJob,
  changesOf,
  countPastOrders,
  editionInForce,
  forgetOldChanges,
  fromJson,
  handBack,
  jobById,
  jobByKey,
  keepLease,
  newestJob,
  newestWorld,
  orderRow,
  pinsOf,
  readDraft,
  partsOf,
  type JobRow,
} from '@/data'
import { showWorld } from './editRulebook'
import { refuse, type Answer, type Application } from '../shared/application'
import { orderInFull } from '../shared/oldOrders'
import { scopeOf, trialCaseOf, trialHand, type TrialAsked, type TrialOptions } from './trialParts'
import { threadHand } from './trialThreads'

export type { TrialOptions }

export interface TrialResult {
  readonly summary: TrialSummary
  readonly flow: Readonly<Record<string, Flow>>
  readonly ms: number
}

export interface TrialView {
  readonly id: number
  readonly state: JobRow['state']
  readonly done: number
  readonly total: number
  readonly problem: string | null
  readonly options: TrialOptions
  readonly edition: number
  readonly revision: number
  readonly result: TrialResult | null
}

/** Asks for the draft to be tried, next to the edition in force, over the orders of a range; the worker does it. */
export async function startTrial(gharry: Application, options: TrialOptions): Promise<Answer<{ id: number }>> {
  const { db } = gharry
  const now = gharry.now().toISOString()
  const edition = await editionInForce(db, now)
  const draft = await readDraft(db)
  if (!edition || !draft)
    return refuse('no-edition', 'There is no edition in force to compare the draft with: publish one first.')
  if (options.from > options.until)
    return refuse('bad-range', `The range ends (${options.until}) before it begins (${options.from}).`)
  const payload: TrialAsked = {
    ...options,
    draft: draft.rulebook,
    revision: draft.revision,
    against: edition.rulebook,
    edition: edition.number,
  }
  const total = await countPastOrders(db, scopeOf(options))
  if (total === 0) return refuse('no-orders', 'No order was placed in this range, in these channels: widen it.')
  const key = `trial-${now}-${draft.revision}`
  await addJob(db, 'trial', key, payload, now)
  const job = (await jobByKey(db, key))!
  await changeJob(db, job.id, { total: Math.ceil(total / options.everyNth) })
  return { ok: true, id: job.id }
}

export async function showTrialRun(gharry: Application, id: number | 'newest'): Promise<TrialView | null> {
  const job = id === 'newest' ? await newestJob(gharry.db, 'trial') : await jobById(gharry.db, id)
  if (job?.kind !== 'trial') return null
  const { from, until, channels, everyNth, asOf, edition, revision } = fromJson<TrialAsked>(job.payload)
  return {
    id: job.id,
    state: job.state,
    done: job.done,
    total: job.total,
    problem: job.problem,
    options: { from, until, channels, everyNth, asOf },
    edition,
    revision,
    result: job.result ? fromJson<TrialResult>(job.result) : null,
  }
}

/** The orders that a trial changes, some at a time; null when there is no such trial. */
export async function showTrialChanges(
  gharry: Application,
  id: number,
  skip: number,
  most: number,
): Promise<TrialChange[] | null> {
  if ((await jobById(gharry.db, id))?.kind !== 'trial') return null
  return changesOf(gharry.db, id, skip, most)
}

export async function cancelTrial(gharry: Application, id: number): Promise<Answer<object>> {
  return (await cancelJob(gharry.db, id)) ? { ok: true } : refuse('not-running', 'This trial is not running any more.')
}

/**
 * Runs a trial: ranges of orders → decided by both rulebooks, by as many hands as there are → what differs is kept.
 * It stops between two ranges when it is cancelled; one that a killed worker left begins again.
 */
export async function runTrial(gharry: Application, job: JobRow, partSize = 2000): Promise<void> {
  const { db } = gharry
  const asked = fromJson<TrialAsked>(job.payload)
  const world = await newestWorld(db)
  if (!world) return
  const began = performance.now()
  const now = gharry.now().getTime()
  const { trialThreads: threads } = gharry
  // Threads take a while to begin; the orders are divided meanwhile.
  const hands = threads
    ? Array.from({ length: Math.max(1, Math.min(threads.count, Math.ceil(job.total / partSize))) }, () =>
        threadHand(threads.script, { books: gharry.settings.books, job: job.id, world: world.version, now }),
      )
    : [trialHand(db, asked, world.world, now)]
  const summary = emptySummary()
  const flow: Record<string, Flow> = {}
  let goesOn = true
  try {
    const parts = [...(await partsOf(db, scopeOf(asked), partSize)).parts]
    await Promise.all(
      hands.map(async (hand) => {
        let kept = Promise.resolve()
        try {
          for (let part = parts.shift(); part && goesOn; part = parts.shift()) {
            const found = await hand.decide(part)
            addSummary(summary, found.summary)
            await kept
            // While a range is written down, the next one is decided.
            kept = keep(gharry, job, found.changes, summary.orders).then((lives) => {
              if (!lives) goesOn = false
            })
          }
        } finally {
          await kept
        }
        addFlow(flow, await hand.flow())
      }),
    )
  } finally {
    for (const hand of hands) await hand.leave()
  }
  if (gharry.stopping?.()) return handBack(db, 'jobs', job, gharry.now())
  if (!goesOn) return
  const result: TrialResult = { summary, flow, ms: Math.round(performance.now() - began) }
  await changeJob(db, job.id, { result: JSON.stringify(result), total: summary.orders })
  await forgetOldChanges(db, 'trial', 5)
}

/** How many changes are read at once for the file. */
const pageSize = 4000

/** Keeps what a range gave, and that the trial lives; false when it was cancelled. */
const keep = (gharry: Application, job: JobRow, changes: readonly TrialChange[], done: number): Promise<boolean> =>
  gharry.db.transaction(async (trx) => {
    await addChanges(trx, job.id, changes)
    await keepLease(trx, 'jobs', job, gharry.now(), gharry.settings.leaseSeconds)
    await changeJob(trx, job.id, { done })
    return !gharry.stopping?.() && (await jobById(trx, job.id))?.state === 'queued'
  })

/**
 * One order of a trial, decided by both rulebooks, for their trails side by side. Without a trial: edition in force
 * and draft.
 */
export interface Compared {
  readonly number: string
  readonly before: Routed
  readonly after: Routed
  readonly rulebooks: { readonly before: Rulebook; readonly after: Rulebook }
  readonly world: World
}

export async function compareTrails(
  gharry: Application,
  orderId: number,
  trial: number | null,
): Promise<Compared | null> {
  const { db } = gharry
  const job = trial === null ? undefined : await jobById(db, trial)
  const payload = job?.kind === 'trial' ? fromJson<TrialAsked>(job.payload) : undefined
  const before = payload?.against ?? (await editionInForce(db, gharry.now().toISOString()))?.rulebook
  const after = payload?.draft ?? (await readDraft(db))?.rulebook ?? before
  const world = await newestWorld(db)
  const row = await orderRow(db, orderId)
  const full = row && (await orderInFull(gharry, orderId))
  if (!before || !after || !world || !full) return null
  const stored = { id: orderId, state: row.state, order: full.order }
  const ready = readyWorld(world.world)
  const pins = (await pinsOf(db, [orderId])).get(orderId)
  const { order, now, pins: own } = trialCaseOf(stored, pins, payload ?? { asOf: '' }, gharry.now().getTime())
  const decide = (rulebook: Rulebook): Routed =>
    route(order, compileRulebook(rulebook, world.world.rates), ready, { now, pins: own })
  return {
    number: stored.order.number,
    before: decide(before),
    after: decide(after),
    rulebooks: { before, after },
    world: await showWorld(gharry),
  }
}

/** All changes of a trial, the biggest first, a page at a time. */
export async function* allTrialChanges(gharry: Application, id: number): AsyncGenerator<TrialChange> {
  for (let skip = 0; ; skip += pageSize) {
    const page = await changesOf(gharry.db, id, skip, pageSize)
    yield* page
    if (page.length < pageSize) return
  }
}
