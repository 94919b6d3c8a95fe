import { chunks, type Database } from './database'

/** What a carrier owes for a label that it has taken back. */
export interface RefundRow {
  readonly labelId: number
  readonly carrier: string
  /** Home minor units. */
  readonly amount: number
  /** `refused`: the carrier does not pay, or a person has let it go. */
  readonly state: 'pending' | 'granted' | 'refused'
  readonly voidedAt: string
  /** The day by which the carrier has promised it. */
  readonly dueOn: string
  /** When the carrier is asked by message; null where a person asks. */
  readonly nextAsk: string | null
  readonly askedAt: string | null
  /** How often it was asked for. */
  readonly asked: number
  readonly settledAt: string | null
  readonly granted: number | null
  /** What the carrier said, or a person. */
  readonly note: string
}
/** A refund with what names it. */
export type RefundLine = RefundRow & {
  readonly orderId: number
  readonly number: string
  readonly trackingNumber: string
  readonly service: string
  readonly location: string
  readonly account: string | null
}

/** Writes that a refund is due; nothing is due for nothing. */
export async function addRefund(
  trx: Database,
  row: Pick<RefundRow, 'labelId' | 'carrier' | 'amount' | 'voidedAt' | 'dueOn' | 'nextAsk'>,
): Promise<void> {
  if (row.amount > 0)
    await trx('refunds')
      .insert({ ...row, state: 'pending' })
      .onConflict('label_id')
      .ignore()
}

const lines = (db: Database): ReturnType<Database> =>
  db('refunds')
    .join('labels', 'labels.id', 'refunds.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .select('refunds.*', 'labels.order_id', 'orders.number', 'labels.service', 'labels.location', 'labels.account', {
      trackingNumber: db.raw(`COALESCE(labels.tracking_number, '')`),
    }) as ReturnType<Database>

/** Refunds that are pending, those that are due first first, or what was settled last; of a carrier, or of all. */
export async function refundsIn(
  db: Database,
  settled: boolean,
  carrier: string | undefined,
  most: number,
): Promise<RefundLine[]> {
  const query = lines(db).limit(most)
  if (settled) void query.whereIn('refunds.state', ['granted', 'refused']).orderBy('refunds.settled_at', 'desc')
  else void query.where('refunds.state', 'pending').orderBy(['refunds.due_on', 'refunds.label_id'])
  if (carrier !== undefined) void query.where('refunds.carrier', carrier)
  return (await query) as RefundLine[]
}

/** A refund; undefined when there is none. */
export const refundOf = async (db: Database, label: number): Promise<RefundLine | undefined> =>
  (await lines(db).where('refunds.label_id', label).first()) as RefundLine | undefined

/** Refunds of which the carrier is to be asked by now. */
export const refundsToAsk = async (db: Database, now: string, most: number): Promise<RefundLine[]> =>
  (await lines(db)
    .where('refunds.state', 'pending')
    .where('refunds.next_ask', '<=', now)
    .orderBy('refunds.next_ask')
    .limit(most)) as RefundLine[]

/** What is pending, by carrier and how long ago the label was voided; ages in whole days, counted up to a day. */
export async function pendingByAge(
  db: Database,
  today: string,
): Promise<
  { carrier: string; age: 'week' | 'fortnight' | 'month' | 'older'; n: number; amount: number; due: number }[]
> {
  const before = (days: number): string =>
    new Date(Date.parse(`${today}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10)
  const rows = (await db('refunds')
    .where({ state: 'pending' })
    .select('carrier', {
      age: db.raw(
        `CASE WHEN voided_at >= ? THEN 'week' WHEN voided_at >= ? THEN 'fortnight' WHEN voided_at >= ? THEN 'month' ELSE 'older' END`,
        [before(7), before(14), before(31)],
      ),
    })
    .groupByRaw('1, 2')
    .orderBy('carrier')
    .count({ n: '*' })
    .sum({ amount: 'amount' })
    .select({ due: db.raw('SUM(CASE WHEN due_on <= ? THEN amount ELSE 0 END)', [today]) })) as {
    carrier: string
    age: 'week' | 'fortnight' | 'month' | 'older'
    n: number
    amount: number
    due: number
  }[]
  return rows.map((row) => ({ ...row, n: Number(row.n), amount: Number(row.amount), due: Number(row.due) }))
}

/** How many refunds are pending, and what they come to. */
export async function pendingSum(db: Database): Promise<{ n: number; amount: number }> {
  const [row] = (await db('refunds').where({ state: 'pending' }).count({ n: '*' }).sum({ amount: 'amount' })) as {
    n: number
    amount: number | null
  }[]
  return { n: Number(row?.n ?? 0), amount: Number(row?.amount ?? 0) }
}

/** Settles a refund that is pending; false when somebody else did. */
export async function moveRefund(
  trx: Database,
  label: number,
  from: RefundRow['state'],
  change: Partial<RefundRow>,
): Promise<boolean> {
  return (await trx('refunds').where({ labelId: label, state: from }).update(change)) === 1
}

/** Writes that refunds were asked for once more; gives how many are pending still. */
export async function markRefundsAsked(
  db: Database,
  labels: readonly number[],
  at: string,
  next: { readonly nextAsk: string | null; readonly dueOn?: string; readonly note?: string },
): Promise<number> {
  let moved = 0
  for (const part of chunks(labels, 400))
    moved += await db('refunds')
      .whereIn('label_id', part)
      .where({ state: 'pending' })
      .update({ askedAt: at, asked: db.raw('asked + 1'), ...next })
  return moved
}

/** A label that its carrier has never scanned. */
export interface UnseenLabel {
  readonly labelId: number
  readonly orderId: number
  readonly number: string
  readonly carrier: string
  readonly service: string
  readonly location: string
  readonly trackingNumber: string
  readonly shipOn: string
  readonly dispatchedAt: string | null
  readonly charged: number
}

/** Labels that were to leave by a day and that no carrier has scanned since, the dearest first. */
export const unseenLabels = (db: Database, until: string, most: number): Promise<UnseenLabel[]> =>
  db('labels')
    .join('orders', 'orders.id', 'labels.order_id')
    .whereRaw(`COALESCE(labels.status, 'announced') = 'announced' AND labels.delivered_at IS NULL`)
    .where('labels.state', 'bought')
    .where('labels.ship_on', '<=', until)
    .orderBy([{ column: 'labels.charged', order: 'desc' }, { column: 'labels.id' }])
    .limit(most)
    .select({
      ...{ labelId: 'labels.id', orderId: 'orders.id', number: 'orders.number', carrier: 'labels.carrier' },
      ...{ service: 'labels.service', location: 'labels.location', shipOn: 'labels.ship_on' },
      ...{ trackingNumber: 'labels.tracking_number', dispatchedAt: 'labels.dispatched_at', charged: 'labels.charged' },
    }) as unknown as Promise<UnseenLabel[]>
