import { emptySummary, type TrialSummary } from '@/core/rulebook'
import { addChanges, changeJob, forgetOldChanges, fromJson, holdsThatEnd, jobById, keepLease, listChannels, newestWorld, putBack, takeDue, type ImportRow, type JobRow, type LabelRow, type NoticeRow, type PostRow, type WorkTable } from '@/data'
import { buyBatch } from './buyBatch'
import { combineByRule } from './combineOrders'
import { buyLabel } from './buyLabels'
import { countFlow } from './countFlow'
import { deliverNotice, deliverPost } from './deliver'
import { followParcels } from './followParcels'
import type { Gharry } from './gharry'
import { importOrders, requestImport } from './importOrders'
import { learnWorld } from './learnWorld'
import { topUpByMark } from './money'
import { planBatch } from './planBatch'
import { routeAgain, routeByEdition, routeNextPage } from './routeOrders'
import { rulebookInForce } from './rulebookInForce'
import { runTrial } from './runTrial'
import { voidLabel } from './voidLabel'

const atOnce = 8

/** One round of everything that is due; true when something was done, so that the next round may follow at once. */
export async function workOnce(gharry: Gharry): Promise<boolean> {
  const { db, now, settings } = gharry
  const lease = settings.leaseSeconds
  let worked = false
  const each = async <Row extends Piece>(table: WorkTable, rows: readonly Row[], work: (row: Row) => Promise<void>): Promise<void> => {
    if (rows.length > 0) worked = true
    await Promise.all(rows.map((row) => guarded(gharry, table, row, () => work(row))))
  }
  await each('labels', await takeDue<LabelRow>(db, 'labels', ['queued', 'voiding'], now(), atOnce, lease), (label) => (label.state === 'voiding' ? voidLabel(gharry, label) : buyLabel(gharry, label)))
  await each('posts', await takeDue<PostRow>(db, 'posts', ['queued'], now(), atOnce, lease), (post) => deliverPost(gharry, post))
  await each('notices', await takeDue<NoticeRow>(db, 'notices', ['waiting'], now(), atOnce, lease), (notice) => deliverNotice(gharry, notice))
  return worked
}

/** One round of the long work: an import, or a job. */
export async function workLong(gharry: Gharry): Promise<boolean> {
  const { db, now, settings } = gharry
  const imports = await takeDue<ImportRow>(db, 'imports', ['queued', 'running'], now(), 1, settings.leaseSeconds)
  const jobs = await takeDue<JobRow>(db, 'jobs', ['queued'], now(), 1, settings.leaseSeconds)
  for (const row of imports) await guarded(gharry, 'imports', row, () => importOrders(gharry, row))
  for (const row of jobs) await guarded(gharry, 'jobs', row, () => workJob(gharry, row))
  return imports.length + jobs.length > 0
}

type Piece = { readonly id: number; readonly attempts: number }

/** Does one piece of work. Nothing is swallowed: when it fails, its row keeps the reason and comes back later. */
async function guarded(gharry: Gharry, table: WorkTable, row: Piece, work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    gharry.log.error({ table, id: row.id, err: error }, 'work failed')
    await putBack(gharry.db, table, row.id, row.attempts, gharry.now(), `An error in Gharry: ${error instanceof Error ? error.message.slice(0, 200) : 'unknown'}`)
  }
}

async function workJob(gharry: Gharry, job: JobRow): Promise<void> {
  const work = { 'count flow': () => countFlow(gharry), 'route again': () => routeWaiting(gharry, job), trial: () => runTrial(gharry, job) }
  await work[job.kind]()
  if ((await jobById(gharry.db, job.id))?.state !== 'cancelled') await changeJob(gharry.db, job.id, { state: 'done', sent_at: gharry.now().toISOString(), lease_until: null, problem: null })
}

/** Routes every waiting order again, a page a transaction; where it stands and what it changed is kept, so a killed worker goes on there. */
async function routeWaiting(gharry: Gharry, job: JobRow): Promise<void> {
  const { db } = gharry
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return
  const payload = fromJson<{ after: number }>(job.payload)
  const summary = job.result ? fromJson<TrialSummary>(job.result) : emptySummary()
  const [{ n }] = (await db('orders').whereIn('state', ['attention', 'held', 'ready']).count({ n: '*' })) as [{ n: number }]
  let done = job.done
  for (let after = payload.after; ;) {
    const from = after
    const step = await db.transaction(async (trx) => {
      const page = await routeNextPage(gharry, trx, inForce, from, summary)
      if (page) {
        await addChanges(trx, job.id, page.changes)
        await changeJob(trx, job.id, { payload: JSON.stringify({ ...payload, after: page.last }), done: done + page.count, total: Number(n), result: JSON.stringify(summary) })
      }
      await keepLease(trx, 'jobs', job.id, gharry.now(), gharry.settings.leaseSeconds)
      return page
    })
    if (!step) return forgetOldChanges(db, 'route again', 20)
    after = step.last
    done += step.count
    await new Promise((resolve) => setImmediate(resolve))
  }
}

/** What time alone brings about: imports by schedule, labels that buy themselves, news of parcels. */
export async function workBySchedule(gharry: Gharry): Promise<void> {
  const now = gharry.now().getTime()
  for (const channel of await listChannels(gharry.db))
    if (channel.kind === 'shop' && channel.every_minutes > 0 && now - Date.parse(channel.last_import_at ?? '1970-01-01') >= channel.every_minutes * 60_000) await requestImport(gharry, channel.id)
  await learnDaily(gharry)
  await bringIntoForce(gharry)
  await releaseHolds(gharry)
  await topUpByMark(gharry)
  await combineByRule(gharry)
  await buyByItself(gharry)
  for (const carrier of (await newestWorld(gharry.db))?.world.carriers ?? []) await followParcels(gharry, carrier.id)
}

const learned = new WeakMap<object, number>()

/** Once a day, and when the worker starts. */
async function learnDaily(gharry: Gharry): Promise<void> {
  const now = gharry.now().getTime()
  if (now - (learned.get(gharry.db) ?? 0) < 86_400_000) return
  learned.set(gharry.db, now)
  await learnWorld(gharry)
}

const brought = new WeakMap<object, number>()

/** An edition whose moment has come routes the waiting orders; the same one is asked for once. */
async function bringIntoForce(gharry: Gharry): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce || brought.get(gharry.db) === inForce.edition) return
  await routeByEdition(gharry.db, inForce.edition, gharry.now().toISOString())
  brought.set(gharry.db, inForce.edition)
}

/** Orders that were held until a moment that has come are decided anew. */
async function releaseHolds(gharry: Gharry): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  const ids = await holdsThatEnd(gharry.db, gharry.now().toISOString(), 500)
  if (inForce && ids.length > 0) await gharry.db.transaction((trx) => routeAgain(gharry, trx, ids, inForce))
}

/** Buys what a rule said should be bought by itself. */
export async function buyByItself(gharry: Gharry): Promise<void> {
  const ids = ((await gharry.db('orders').where({ state: 'ready', buy_by_itself: true }).orderBy('placed_at').limit(200).select('id')) as { id: number }[]).map((row) => row.id)
  if (ids.length === 0) return
  const plan = await planBatch(gharry, ids)
  const orders = plan.labels.map((label) => label.order)
  if (orders.length > 0) await buyBatch(gharry, orders, plan.total)
}

