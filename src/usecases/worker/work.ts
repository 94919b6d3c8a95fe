import { emptySummary, type TrialSummary } from '@/core/rulebook/change'
import {
  addChanges,
  changeHeld,
  changeJob,
  collectionOfRow,
  forgetAnswers,
  forgetSignIns,
  forgetBoard,
  forgetHours,
  forgetLooseParts,
  forgetMessages,
  forgetOldChanges,
  forgetOldUses,
  fromJson,
  handBack,
  holdsThatEnd,
  jobById,
  keepLease,
  keepParts,
  letterOfRow,
  learnSilence,
  newestWorld,
  openStates,
  takeDue,
  type HandOverRow,
  type ImportRow,
  type ManifestRow,
  type JobRow,
  type NoticeRow,
  type PostRow,
  type PrintJobRow,
  type StoredCollection,
  type StoredLetter,
  type StoredReturn,
  type WebhookMessage,
  type WorkTable,
  forgetWebhookMessages,
  countItemDays,
  countWaiting,
  ordersToBuy,
  lapseReturns,
  returnOfRow,
} from '@/data'
import { compareWithCarriers } from '../backups/afterRestore'
import { buyBatch } from '../dispatch/buyBatch'
import { combineByRule } from '../desk/combineOrders'
import { workEdit } from '../desk/editMany'
import { deliverWebhook } from '../open/webhooks'
import { deliverPrint } from '../dispatch/bench/benchPrinter'
import { bookAgreed } from '../dispatch/collections/agreements'
import { deliverCollection, seeCollections } from '../dispatch/collections/askCarrier'
import { deliverManifest } from '../dispatch/door/deliverManifest'
import { deliverHandOver } from '../dispatch/handOver'
import { hearPartners } from '../dispatch/partnerNews'
import { keepStockTold } from '../dispatch/stock/channelsStock'
import { routeForStock } from '../dispatch/stock/routeForStock'
import { countFlow } from '../rules/countFlow'
import { deliverPost } from '../tracking/deliverMessages'
import { checkPosts } from '../tracking/checkPosts'
import { deliverLetter } from '../tracking/deliverLetter'
import { deliverNotice } from '../tracking/deliverNotice'
import { makeReturnLabel } from '../tracking/returns/makeReturnLabel'
import { hearMessenger } from '../tracking/noticeNews'
import { tellDelays } from '../tracking/tellDelays'
import { followParcels } from '../tracking/followParcels'
import type { Application } from '../shared/application'
import { workMessages } from '../intake/messages'
import { forgetLeft } from '../intake/importFile'
import { fetchedChannels, importOrders, requestImport } from '../intake/importOrders'
import { every, onceFor } from '../shared/dueSteps'
import { heedOutages } from '../shared/heedOutages'
import { buyingLanes, type Lanes } from './buyingQueue'
import { guarded, type Piece } from './guarded'
import { learnWorld } from './learnWorld'
import { findClaims } from '../ledger/claims'
import { askForRefunds } from '../ledger/refunds'
import { topUpByMark } from '../ledger/balances'
import { forgetByDays } from '../privacy/byDays'
import { planBatch } from '../dispatch/planBatch'
import { routeAgain, routeByEdition, routeNextPage } from '../shared/routeOrders'
import { waitsForCarriers } from './wentBack'
import { rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'
import { askRuleCosts, workRuleCosts } from '../rules/ruleCosts'
import { askOldMonths, workOldMonths } from '../oldMonths/moveOut'
import { askPastDays, workPastDays } from '../rules/pastDays'
import { runTrial } from '../rules/runTrial'

const atOnce = 8
/** Posts and notices wait for the other side most of their time. */
const toldAtOnce = 80

const lanesOf = new WeakMap<object, Lanes>()

/**
 * Buys and voids what is due, each carrier in a lane of its own; true when something was due. Lanes go on behind it.
 */
export async function startBuying(gharry: Application): Promise<boolean> {
  // What is bought could not be written down.
  if (gharry.readOnly() !== null) return false
  // What the carriers know and the books do not is found first.
  if (await waitsForCarriers(gharry)) return false
  const lanes = lanesOf.get(gharry.db) ?? buyingLanes(gharry)
  lanesOf.set(gharry.db, lanes)
  return lanes.start()
}
/** Until all that was begun is bought, or put off. */
export const buyingDone = (gharry: Application): Promise<void> => lanesOf.get(gharry.db)?.done() ?? Promise.resolve()

/** One round of everything that is due; true when something was done, so that the next round may follow at once. */
export async function workOnce(gharry: Application): Promise<boolean> {
  const bought = await startBuying(gharry)
  const [told] = await Promise.all([tellOnce(gharry), buyingDone(gharry)])
  return bought || told
}

/** What is told to others, by its tables. */
export const toldTables: readonly WorkTable[] = [
  ...(['posts', 'notices', 'letters', 'webhook_messages', 'print_jobs'] as const),
  ...(['handovers', 'manifests', 'collections', 'returns'] as const),
]

/** One round of all that is told; true when something was. */
export async function tellOnce(gharry: Application): Promise<boolean> {
  const { db, now, settings } = gharry
  const lease = settings.leaseSeconds
  let worked = false
  const each = async <Row extends Piece & { readonly state: string }>(
    table: WorkTable,
    most: number,
    work: (row: Row) => Promise<void>,
  ): Promise<void> => {
    const rows = await takeDue<Row>(db, table, { states: openStates[table] }, now(), most, lease)
    if (rows.length > 0) worked = true
    await Promise.all(rows.map((row) => guarded(gharry, table, row, () => work(row))))
  }
  await Promise.all([
    each<PostRow>('posts', toldAtOnce, (post) => deliverPost(gharry, post)),
    each<NoticeRow>('notices', toldAtOnce, (notice) => deliverNotice(gharry, notice)),
    each<StoredLetter>('letters', atOnce, (row) => deliverLetter(gharry, letterOfRow(row))),
    each<WebhookMessage>('webhook_messages', atOnce, (row) => deliverWebhook(gharry, row)),
    each<PrintJobRow>('print_jobs', atOnce, (row) => deliverPrint(gharry, row)),
    each<HandOverRow>('handovers', atOnce, (row) => deliverHandOver(gharry, row)),
    each<ManifestRow>('manifests', atOnce, (row) => deliverManifest(gharry, row)),
    each<StoredCollection>('collections', atOnce, (row) => deliverCollection(gharry, collectionOfRow(row))),
    each<StoredReturn>('returns', atOnce, (row) => makeReturnLabel(gharry, returnOfRow(row))),
  ])
  return worked
}

/** One import, if one is due. */
export async function workImport(gharry: Application): Promise<boolean> {
  const { db, now, settings } = gharry
  const rows = await takeDue<ImportRow>(db, 'imports', { states: openStates.imports }, now(), 1, settings.leaseSeconds)
  for (const row of rows) await guarded(gharry, 'imports', row, () => importOrders(gharry, row))
  return rows.length > 0
}

/**
 * One job, if one is due: short ones (`quick`) do not wait behind a trial, and of trials the one that was asked for
 * last is the one that somebody waits for.
 */
export async function workOneJob(gharry: Application, quick: boolean): Promise<boolean> {
  const { db, now, settings } = gharry
  const rows = await takeDue<JobRow>(
    db,
    'jobs',
    {
      states: ['queued'],
      kinds: quick
        ? ['route again', 'stock', 'count flow', 'edit orders']
        : ['trial', 'rule costs', 'past days', 'old months'],
      newest: !quick,
    },
    now(),
    1,
    settings.leaseSeconds,
  )
  for (const row of rows) await guarded(gharry, 'jobs', row, () => workJob(gharry, row))
  return rows.length > 0
}

/** One round of the long work: messages of channels, an import, short jobs, a trial. */
export async function workLong(gharry: Application): Promise<boolean> {
  const heard = await workMessages(gharry)
  const [imported, quick] = [await workImport(gharry), await workOneJob(gharry, true)]
  return (await workOneJob(gharry, false)) || heard || imported || quick
}

async function workJob(gharry: Application, job: JobRow): Promise<void> {
  const work = {
    'count flow': () => countFlow(gharry),
    'edit orders': () => workEdit(gharry, fromJson<{ edit: number }>(job.payload).edit),
    'route again': () => routeWaiting(gharry, job),
    stock: () => routeForStock(gharry, job),
    trial: () => runTrial(gharry, job),
    'rule costs': () => workRuleCosts(gharry, job),
    'past days': () => workPastDays(gharry, job),
    'old months': () => workOldMonths(gharry, job),
  }
  await work[job.kind]()
  if (gharry.stopping?.()) return handBack(gharry.db, 'jobs', job, gharry.now())
  if ((await jobById(gharry.db, job.id))?.state !== 'cancelled')
    await changeHeld(gharry.db, 'jobs', job, {
      state: 'done',
      sentAt: gharry.now().toISOString(),
      leaseUntil: null,
      problem: null,
    })
}

/**
 * Routes every waiting order again, a page a transaction; where it stands and what it changed is kept, so a killed
 * worker goes on there.
 */
async function routeWaiting(gharry: Application, job: JobRow): Promise<void> {
  const { db } = gharry
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return
  const payload = fromJson<{ after: number }>(job.payload)
  const summary = job.result ? fromJson<TrialSummary>(job.result) : emptySummary()
  const n = await countWaiting(db)
  let done = job.done
  for (let after = payload.after; ;) {
    const from = after
    const step = await db.transaction(async (trx) => {
      const page = await routeNextPage(gharry, trx, inForce, from, summary)
      if (page) {
        await addChanges(trx, job.id, page.changes)
        await changeJob(trx, job.id, {
          payload: JSON.stringify({ ...payload, after: page.last }),
          done: done + page.count,
          total: Number(n),
          result: JSON.stringify(summary),
        })
      }
      await keepLease(trx, 'jobs', job, gharry.now(), gharry.settings.leaseSeconds)
      return page
    })
    if (!step) return forgetOldChanges(db, 'route again', 20)
    if (gharry.stopping?.() || (await jobById(db, job.id))?.state === 'cancelled') return
    after = step.last
    done += step.count
    await new Promise((resolve) => setImmediate(resolve))
  }
}

/**
 * What time alone brings about: imports by schedule, labels that buy themselves, news of parcels. One that fails does
 * not hold up the others.
 */
export async function workBySchedule(gharry: Application): Promise<void> {
  const step = async (name: string, work: () => Promise<unknown>): Promise<void> => {
    if (gharry.stopping?.()) return
    try {
      await work()
    } catch (error) {
      gharry.log.error({ step: name, err: error }, 'a step of the schedule failed')
    }
  }
  await step('imports', () => importBySchedule(gharry))
  await step('learning', () => learnDaily(gharry))
  await step('items by day', () => countItems(gharry))
  await step('rule costs', () => askRuleCosts(gharry))
  await step('past orders', () => askPastDays(gharry))
  await step('old months', () => askOldMonths(gharry))
  await step('editions', () => bringIntoForce(gharry))
  await step('personal data', () => forgetDaily(gharry))
  await step('outages', () => heedOutages(gharry))
  await step('holds', () => releaseHolds(gharry))
  await step('top-ups', () => topUpByMark(gharry))
  await step('combining', () => combineByRule(gharry))
  await step('after a restore', () => compareWithCarriers(gharry))
  await step('buying', () => buyByItself(gharry))
  for (const carrier of (await newestWorld(gharry.db))?.world.carriers ?? [])
    await step(`parcels of ${carrier.id}`, () => followParcels(gharry, carrier.id))
  await step('refunds', () => inTime('refunds', gharry, () => askForRefunds(gharry)))
  await step('delays', () => tellDelays(gharry))
  await step('collections', () => inTime('agreed', gharry, () => bookAgreed(gharry)))
  await step('collections seen', () => inTime('collections', gharry, () => seeCollections(gharry)))
  await step('posts read back', () => inTime('posts', gharry, () => checkPosts(gharry)))
  await step('text messages', () => inTime('texts', gharry, () => hearMessenger(gharry)))
  // Last, as a server that hangs takes its time.
  await step('stock', () => inTime('stock', gharry, () => keepStockTold(gharry)))
  await step('partners', () => inTime('partners', gharry, () => hearPartners(gharry)))
}

async function importBySchedule(gharry: Application): Promise<void> {
  const now = gharry.now().getTime()
  for (const channel of await fetchedChannels(gharry)) {
    // A clock that was set back has not made the last import later than now.
    const since = Math.abs(now - Date.parse(channel.lastImportAt ?? '1970-01-01'))
    if (channel.everyMinutes > 0 && since >= channel.everyMinutes * 60_000) await requestImport(gharry, channel.id)
  }
}

const hourMs = 3_600_000
const dayMs = 24 * hourMs

/** Each look at answers of others is a call of its own: not at every round. */
const inTime = (step: string, gharry: Application, hear: () => Promise<void>): Promise<void> =>
  every(gharry, step, 4 * gharry.outside.pauseMs, hear)

/** Once an hour, orders of days that are over are counted by SKU; at first some days at each round. */
const countItems = (gharry: Application): Promise<void> =>
  every(gharry, 'items by day', hourMs, async () => {
    const now = gharry.now()
    const since = new Date(now.getTime() - 92 * dayMs).toISOString().slice(0, 10)
    const most = 10
    if ((await countItemDays(gharry.db, since, now.toISOString().slice(0, 10), most)) >= most) return 'more'
  })

/** Once a day, and when the worker starts. */
const learnDaily = (gharry: Application): Promise<void> =>
  every(gharry, 'learning', dayMs, async () => {
    const now = gharry.now().getTime()
    await learnWorld(gharry)
    await findClaims(gharry)
    await lapseReturns(gharry.db, await sellersDay(gharry, gharry.db))
    await learnSilence(gharry.db, new Date(now - 90 * dayMs).toISOString(), 20_000)
    await forgetWebhookMessages(gharry.db, new Date(now - 30 * dayMs).toISOString())
    await forgetAnswers(gharry.db, new Date(now - dayMs).toISOString())
    await forgetSignIns(gharry.db, new Date(now).toISOString())
    await forgetOldUses(gharry.db, gharry.now())
    await forgetBoard(gharry.db, new Date(now - 120 * dayMs).toISOString())
    await forgetLeft(gharry)
    if ((await keepParts(gharry.db)) > 0)
      gharry.log.warn('parts of large tables are missing: their rows are in the part for the rest')
    await forgetLooseParts(gharry.db, new Date(now - dayMs).toISOString())
    await forgetMessages(gharry.db, new Date(now - 7 * dayMs).toISOString())
    await forgetHours(gharry.db, new Date(now - 7 * dayMs).toISOString().slice(0, 13))
  })

/** Once an hour what says whose orders were is taken out when its days are over; page by page until all is done. */
const forgetDaily = (gharry: Application): Promise<void> =>
  every(gharry, 'personal data', hourMs, async () => {
    if ((await forgetByDays(gharry)) > 0) return 'more'
  })

/** An edition whose moment has come routes the waiting orders; the same one is asked for once. */
async function bringIntoForce(gharry: Application): Promise<void> {
  const edition = (await rulebookInForce(gharry))?.edition
  if (edition !== undefined)
    await onceFor(gharry, 'editions', edition, () => routeByEdition(gharry.db, edition, gharry.now().toISOString()))
}

/** Orders that were held until a moment that has come are decided anew. */
async function releaseHolds(gharry: Application): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  const ids = await holdsThatEnd(gharry.db, gharry.now().toISOString(), 500)
  if (inForce && ids.length > 0) await gharry.db.transaction((trx) => routeAgain(gharry, trx, ids, inForce))
}

/** Buys what a rule said should be bought by itself. */
export async function buyByItself(gharry: Application): Promise<void> {
  const ids = await ordersToBuy(gharry.db, 200)
  if (ids.length === 0) return
  const plan = await planBatch(gharry, ids)
  const orders = plan.labels.map((label) => label.order)
  if (orders.length > 0) await buyBatch(gharry, orders, plan.total)
}
