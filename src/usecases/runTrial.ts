import { waitingStates, type OrderState } from '@/core/order'
import { compileRulebook, emptySummary, manyDecider, movedTo, orderMemory, readyWorld, route, tallyMany, type Flow, type ManyDecider, type Program, type ReadyWorld, type Routed, type Rulebook, type TrialCase, type TrialChange, type TrialSummary, type World } from '@/core/rulebook'
import { addChanges, addJob, cancelJob, changeJob, changesOf, countTrialOrders, editionInForce, forgetOldChanges, fromJson, jobById, jobByKey, keepLease, newestJob, newestWorld, pageOfTrialOrders, pinsOf, readDraft, type JobRow, type TrialScope } from '@/data'
import { showWorld } from './editRulebook'
import { refuse, type Answer, type Gharry } from './gharry'

/** What a trial runs over, and as of when. */
export interface TrialOptions {
  /** First and last day on which the orders were placed. */
  readonly from: string
  readonly until: string
  /** All channels when empty. */
  readonly channels: readonly string[]
  /** Every n-th order; 1 for all. */
  readonly everyNth: number
  /** As if the orders came in around this day; empty for their own days. */
  readonly asOf: string
}

interface TrialPayload extends TrialOptions {
  readonly draft: Rulebook
  readonly revision: number
  readonly against: Rulebook
  readonly edition: number
}

export interface TrialResult { readonly summary: TrialSummary; readonly flow: Readonly<Record<string, Flow>>; readonly ms: number }

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
export async function startTrial(gharry: Gharry, options: TrialOptions): Promise<Answer<{ id: number }>> {
  const { db } = gharry
  const now = gharry.now().toISOString()
  const edition = await editionInForce(db, now)
  const draft = await readDraft(db)
  if (!edition || !draft) return refuse('no-edition', 'There is no edition in force to compare the draft with: publish one first.')
  if (options.from > options.until) return refuse('bad-range', `The range ends (${options.until}) before it begins (${options.from}).`)
  const payload: TrialPayload = { ...options, draft: draft.rulebook, revision: draft.revision, against: edition.rulebook, edition: edition.number }
  const total = await countTrialOrders(db, scopeOf(options))
  if (total === 0) return refuse('no-orders', 'No order was placed in this range, in these channels: widen it.')
  const key = `trial-${now}-${draft.revision}`
  await addJob(db, 'trial', key, payload, now)
  const job = (await jobByKey(db, key))!
  await changeJob(db, job.id, { total: Math.ceil(total / options.everyNth) })
  return { ok: true, id: job.id }
}

export async function showTrialRun(gharry: Gharry, id: number | 'newest'): Promise<TrialView | null> {
  const job = id === 'newest' ? await newestJob(gharry.db, 'trial') : await jobById(gharry.db, id)
  if (job?.kind !== 'trial') return null
  const { from, until, channels, everyNth, asOf, edition, revision } = fromJson<TrialPayload>(job.payload)
  return { id: job.id, state: job.state, done: job.done, total: job.total, problem: job.problem, options: { from, until, channels, everyNth, asOf }, edition, revision, result: job.result ? fromJson<TrialResult>(job.result) : null }
}

export const showTrialChanges = (gharry: Gharry, id: number, skip: number, most: number): Promise<TrialChange[]> => changesOf(gharry.db, id, skip, most)

export async function cancelTrial(gharry: Gharry, id: number): Promise<Answer<object>> {
  return (await cancelJob(gharry.db, id)) ? { ok: true } : refuse('not-running', 'This trial is not running any more.')
}

/**
 * Runs a trial, a page of orders at a time: read → route by both rulebooks → keep what differs. It stops between two
 * pages when it is cancelled; one that a killed worker left begins again.
 */
export async function runTrial(gharry: Gharry, job: JobRow): Promise<void> {
  const { db } = gharry
  const payload = fromJson<TrialPayload>(job.payload)
  const world = await newestWorld(db)
  if (!world) return
  const began = performance.now()
  const ready = readyWorld(world.world)
  const memory = orderMemory(ready)
  const [before, after] = [payload.against, payload.draft].map((rulebook) => manyDecider(compileRulebook(rulebook, world.world.rates), memory)) as [ManyDecider, ManyDecider]
  const summary = emptySummary()
  const now = gharry.now().getTime()
  let place = { placedAt: '', id: 0 }
  for (let seen = 0; ;) {
    const page = await pageOfTrialOrders(db, scopeOf(payload), place, pageSize)
    if (page.length === 0) break
    const last = page[page.length - 1]!
    place = { placedAt: last.order.placedAt, id: last.id }
    const chosen = page.filter((_, i) => (seen + i) % payload.everyNth === 0)
    seen += page.length
    const pins = await pinsOf(db, chosen.map(({ id }) => id))
    const cases = chosen.map((stored) => caseOf(stored, pins.get(stored.id), payload, now))
    const changes = tallyMany(summary, cases, before, after)
    const goesOn = await db.transaction(async (trx) => {
      await addChanges(trx, job.id, changes)
      await keepLease(trx, 'jobs', job.id, gharry.now(), gharry.settings.leaseSeconds)
      await changeJob(trx, job.id, { done: summary.orders })
      return (await jobById(trx, job.id))?.state === 'queued'
    })
    if (!goesOn) return
  }
  const result: TrialResult = { summary, flow: after.flow(), ms: Math.round(performance.now() - began) }
  await changeJob(db, job.id, { result: JSON.stringify(result), total: summary.orders })
  await forgetOldChanges(db, 'trial', 5)
}

const pageSize = 4000
/** Nobody ships these, or not by themselves: a trial leaves them out. */
const without: readonly OrderState[] = ['cancelled', 'fulfilled elsewhere', 'combined']
const scopeOf = ({ from, until, channels }: TrialOptions): TrialScope => ({ without, from, until: `${until}T23:59:59.999Z`, channels })
const decide = ({ order, now, pins }: TrialCase, program: Program, ready: ReadyWorld): Routed => route(order, program, ready, { now, pins })

/** A past order is decided for the moment it was placed, a waiting one for now; as of another day, both are moved there. */
function caseOf({ id, order, state }: { id: number; order: TrialCase['order']; state: OrderState }, pins: TrialCase['pins'], { asOf }: TrialOptions, now: number): TrialCase {
  const own: TrialCase = { id, order, now: waitingStates.includes(state) ? now : Date.parse(order.placedAt), ...(pins ? { pins } : {}) }
  return asOf === '' ? own : movedTo(own, now, Date.parse(`${asOf}T12:00:00Z`))
}

/** One order of a trial, decided by both rulebooks, for their trails side by side. Without a trial: edition in force and draft. */
export interface Compared {
  readonly number: string
  readonly before: Routed
  readonly after: Routed
  readonly rulebooks: { readonly before: Rulebook; readonly after: Rulebook }
  readonly world: World
}

export async function compareTrails(gharry: Gharry, orderId: number, trial: number | null): Promise<Compared | null> {
  const { db } = gharry
  const job = trial === null ? undefined : await jobById(db, trial)
  const payload = job?.kind === 'trial' ? fromJson<TrialPayload>(job.payload) : undefined
  const before = payload?.against ?? (await editionInForce(db, gharry.now().toISOString()))?.rulebook
  const after = payload?.draft ?? (await readDraft(db))?.rulebook ?? before
  const world = await newestWorld(db)
  const [stored] = await pageOfTrialOrders(db, { without: [], from: '', until: '~', channels: [], only: orderId }, { placedAt: '', id: 0 }, 1)
  if (!before || !after || !world || !stored) return null
  const ready = readyWorld(world.world)
  const pins = (await pinsOf(db, [orderId])).get(orderId)
  const trialCase = caseOf(stored, pins, payload ?? { from: '', until: '', channels: [], everyNth: 1, asOf: '' }, gharry.now().getTime())
  return { number: stored.order.number, before: decide(trialCase, compileRulebook(before, world.world.rates), ready), after: decide(trialCase, compileRulebook(after, world.world.rates), ready), rulebooks: { before, after }, world: await showWorld(gharry) }
}

/** All changes of a trial, the biggest first, a page at a time. */
export async function* allTrialChanges(gharry: Gharry, id: number): AsyncGenerator<TrialChange> {
  for (let skip = 0; ; skip += pageSize) {
    const page = await changesOf(gharry.db, id, skip, pageSize)
    yield* page
    if (page.length < pageSize) return
  }
}
