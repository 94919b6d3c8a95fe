import {
  batchSummaries,
  countByState,
  ledgerTotals,
  listChannels,
  parcelsByStatus,
  pendingRefunds,
  problemsOf,
  readDraft,
  recentImports,
  recentWork,
  spendBy,
  spendByCountry,
  spendByDayAndCarrier,
  versionsInForce,
  workByState,
  labelsOfBatch,
  parcelsOfLabels,
  type BatchSummary,
  type ChannelRow,
  type ImportProblem,
  type ImportRow,
  type NoticeRow,
  type PostRow,
  type Spend,
} from '@/data'
import type { Gharry } from './gharry'

export interface LineStop {
  readonly count: number
  readonly stuck: number
}
export type LineView = Readonly<Record<'intake' | 'rules' | 'desk' | 'dispatch' | 'tracking' | 'ledger', LineStop>>

/** The live counts along the line: what waits at each stop, and what is stuck there. */
export async function showLine(gharry: Gharry): Promise<LineView> {
  const { db } = gharry
  const states = await countByState(db)
  const n = (state: Parameters<typeof states.get>[0]): number => states.get(state) ?? 0
  const [imports] = (await db('imports')
    .select({
      open: db.raw(`SUM(CASE WHEN state IN ('queued','running') THEN 1 ELSE 0 END)`),
      failed: db.raw(
        `SUM(CASE WHEN state = 'failed' OR (state IN ('queued','running') AND attempts >= 5) THEN 1 ELSE 0 END)`,
      ),
    })
    .where('requested_at', '>', new Date(gharry.now().getTime() - 3 * 86_400_000).toISOString())) as {
    open: number | null
    failed: number | null
  }[]
  const [stuckLabels] = (await db('labels').where({ state: 'queued' }).where('attempts', '>', 2).count({ n: '*' })) as {
    n: number
  }[]
  const posts = await workByState(db, 'posts')
  const notices = await workByState(db, 'notices')
  const draft = await readDraft(db)
  const { edition } = await versionsInForce(db, gharry.now().toISOString())
  const [refunds] = (await db('ledger').where({ kind: 'refund pending' }).count({ n: '*' })) as { n: number }[]
  return {
    intake: { count: Number(imports?.open ?? 0), stuck: Number(imports?.failed ?? 0) },
    rules: { count: draft?.rulebook.rules.length ?? 0, stuck: edition === 0 ? 1 : 0 },
    desk: { count: n('attention') + n('held') + n('ready'), stuck: n('attention') },
    dispatch: { count: n('ready') + n('buying'), stuck: Number(stuckLabels?.n ?? 0) },
    tracking: { count: n('labelled') + n('dispatched'), stuck: (posts.failed ?? 0) + (notices.failed ?? 0) },
    ledger: { count: Number(refunds?.n ?? 0), stuck: 0 },
  }
}

export interface IntakeView {
  readonly channels: readonly ChannelRow[]
  readonly imports: readonly ImportRow[]
}
export const showIntake = async (gharry: Gharry): Promise<IntakeView> => ({
  channels: await listChannels(gharry.db),
  imports: await recentImports(gharry.db),
})
export const showImportProblems = (gharry: Gharry, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)

export interface BatchView {
  readonly summary: BatchSummary
  readonly labels: readonly {
    readonly id: number
    readonly order_id: number
    readonly number: string
    readonly buyer: string
    readonly state: string
    readonly service: string
    readonly quoted: number
    readonly charged: number | null
    readonly numbers: readonly string[]
    readonly problem: string | null
    readonly status: string | null
  }[]
}

export const showBatches = (gharry: Gharry): Promise<BatchSummary[]> => batchSummaries(gharry.db)

/** One batch with its labels, in print order. */
export async function showBatch(gharry: Gharry, id: number): Promise<BatchView | null> {
  const [summary] = await batchSummaries(gharry.db, id)
  if (!summary) return null
  const names = new Map(
    (
      (await gharry
        .db('labels')
        .join('orders', 'orders.id', 'labels.order_id')
        .where('labels.batch_id', id)
        .select('orders.id', 'orders.number', 'orders.buyer')) as { id: number; number: string; buyer: string }[]
    ).map((row) => [row.id, row]),
  )
  const rows = await labelsOfBatch(gharry.db, id)
  const parcels = await parcelsOfLabels(
    gharry.db,
    rows.map((label) => label.id),
  )
  const labels = rows.map(({ id: labelId, order_id, state, service, quoted, charged, problem, status }) => ({
    id: labelId,
    order_id,
    number: names.get(order_id)?.number ?? '',
    buyer: names.get(order_id)?.buyer ?? '',
    state,
    service,
    quoted,
    charged,
    numbers: (parcels.get(labelId) ?? []).flatMap(({ tracking_number }) => tracking_number ?? []),
    problem,
    status,
  }))
  return { summary, labels }
}

export interface TrackingView {
  readonly posts: readonly (PostRow & { number: string })[]
  readonly notices: readonly (NoticeRow & { number: string })[]
  readonly postStates: Readonly<Record<string, number>>
  readonly noticeStates: Readonly<Record<string, number>>
  readonly parcels: readonly { readonly status: string; readonly count: number }[]
}

export async function showTracking(gharry: Gharry, state: string | null): Promise<TrackingView> {
  const { db } = gharry
  return {
    posts: await recentWork<PostRow>(db, 'posts', state, 300),
    notices: await recentWork<NoticeRow>(db, 'notices', state === 'queued' ? 'waiting' : state, 300),
    postStates: await workByState(db, 'posts'),
    noticeStates: await workByState(db, 'notices'),
    parcels: await parcelsByStatus(db),
  }
}

export interface LedgerView {
  readonly from: string
  readonly until: string
  readonly totals: Awaited<ReturnType<typeof ledgerTotals>>
  readonly spend: number
  readonly labels: number
  readonly byCarrier: readonly Spend[]
  readonly byService: readonly Spend[]
  readonly byZone: readonly Spend[]
  readonly byCountry: readonly Spend[]
  readonly byDay: readonly { readonly day: string; readonly carrier: string; readonly amount: number }[]
  readonly refunds: Awaited<ReturnType<typeof pendingRefunds>>
}

/** What was spent, net of refunds, in a range of days; without a range, the last 30 days there are entries for. */
export async function showLedger(gharry: Gharry, range: { from?: string; until?: string }): Promise<LedgerView> {
  const { db } = gharry
  const totals = await ledgerTotals(db)
  const until = range.until ?? totals.lastDay ?? gharry.now().toISOString().slice(0, 10)
  const from = range.from ?? new Date(Date.parse(until) - 29 * 86_400_000).toISOString().slice(0, 10)
  const byCarrier = await spendBy(db, 'carrier', from, until)
  return {
    from,
    until,
    totals,
    spend: byCarrier.reduce((sum, row) => sum + Number(row.amount), 0),
    labels: byCarrier.reduce((sum, row) => sum + Number(row.labels), 0),
    byCarrier,
    byService: await spendBy(db, 'service', from, until),
    byZone: await spendBy(db, 'zone', from, until),
    byCountry: await spendByCountry(db, from, until),
    byDay: await spendByDayAndCarrier(db, from, until),
    refunds: await pendingRefunds(db),
  }
}
