import type { Database } from './database'

/** By what spend can be told apart. */
export const reportDimensions = [
  'channel',
  'carrier',
  'service',
  'zone',
  'country',
  'location',
  'rule',
  'week',
  'month',
] as const
export type ReportDimension = (typeof reportDimensions)[number]

/** What shipments of one kind came to. Amounts in minor units of the home currency, weights in grams. */
export interface ReportRow {
  readonly key: string
  /** Shipments that were bought and not voided. */
  readonly shipments: number
  readonly weight: number
  /** Net of voids and of what was granted of claims. */
  readonly spend: number
  /** What the same would have cost at list price, and what was spent on those of which that is known. */
  readonly list: number
  readonly spendOfListed: number
  /** What buyers paid for their shipping, and what was spent on those of which that is known. */
  readonly paid: number
  readonly spendOfPaid: number
  /** Of those that arrived with a foreseen day: how many, and how many came later. */
  readonly arrived: number
  readonly late: number
  /** Granted of claims. */
  readonly claimed: number
  /** What return labels cost that were used; part of the spend. */
  readonly returns: number
  /**
   * What carriers' invoices charged more than was written down, less what they charged too little; not part of the
   * spend.
   */
  readonly corrected: number
}

const columns: Readonly<Record<Exclude<ReportDimension, 'week' | 'month'>, string>> = {
  channel: 'orders.channel_id',
  carrier: 'ledger.carrier',
  service: 'ledger.service',
  zone: 'ledger.zone',
  country: 'orders.country',
  location: 'labels.location',
  rule: 'labels.rule',
}

const correctionColumns: typeof columns = {
  ...columns,
  ...{ carrier: 'bookings.carrier', service: 'labels.service', zone: 'labels.zone' },
}

/** Spend by a dimension over days, both included; the dearest first, by week and month in their order. */
export async function reportBy(
  db: Database,
  dimension: ReportDimension,
  from: string,
  until: string,
): Promise<ReportRow[]> {
  const inTime = dimension === 'week' || dimension === 'month'
  // Weeks are made of days outside: only there it is known where one begins.
  const key = inTime ? 'ledger.day' : columns[dimension]
  const once = `ledger.kind = 'buy' AND labels.state <> 'voided'`
  const sum = (what: string, when: string): string => `SUM(CASE WHEN ${when} THEN ${what} ELSE 0 END)`
  const came = `${once} AND labels.delivered_at IS NOT NULL AND labels.arrives_on IS NOT NULL`
  const rows = (await db('ledger')
    .join('labels', 'labels.id', 'ledger.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .whereBetween('ledger.day', [from, until])
    .groupBy(key)
    .orderBy(inTime ? key : 'spend', inTime ? 'asc' : 'desc')
    .select({
      key,
      ...{ shipments: db.raw(sum('1', once)), weight: db.raw(sum('COALESCE(labels.weight, 0)', once)) },
      spend: db.raw('SUM(ledger.amount)'),
      list: db.raw(sum('labels.list_price', `${once} AND labels.list_price IS NOT NULL`)),
      spendOfListed: db.raw(sum('ledger.amount', `${once} AND labels.list_price IS NOT NULL`)),
      paid: db.raw(sum('labels.buyer_paid', `${once} AND labels.buyer_paid IS NOT NULL`)),
      spendOfPaid: db.raw(sum('ledger.amount', `${once} AND labels.buyer_paid IS NOT NULL`)),
      arrived: db.raw(sum('1', came)),
      late: db.raw(sum('1', `${came} AND SUBSTR(labels.delivered_at, 1, 10) > labels.arrives_on`)),
      claimed: db.raw(sum('-ledger.amount', `ledger.kind LIKE 'claim %'`)),
      returns: db.raw(sum('ledger.amount', `ledger.kind LIKE 'return %'`)),
    })) as (Record<Exclude<keyof ReportRow, 'key' | 'corrected'>, number> & { key: string | null })[]
  const corrected = await correctedBy(db, inTime ? 'bookings.day' : correctionColumns[dimension], from, until)
  const known = new Set(rows.map(({ key: of }) => of ?? ''))
  const others = [...corrected]
    .filter(([of]) => !known.has(of))
    .map(([of, amount]) => ({ ...emptyReportRow, key: of, corrected: amount }))
  const found = rows.map(({ key: of, ...row }) => ({
    key: of ?? '',
    corrected: corrected.get(of ?? '') ?? 0,
    ...(Object.fromEntries(Object.entries(row).map(([name, value]) => [name, Number(value)])) as Omit<
      ReportRow,
      'key' | 'corrected'
    >),
  }))
  const all = [...found, ...others]
  // Days in their order, also those on which there were corrections alone.
  return inTime ? all.sort((a, b) => (a.key < b.key ? -1 : 1)) : all
}

/** A row of nothing, to be added to. */
export const emptyReportRow: ReportRow = {
  ...{ key: '', shipments: 0, weight: 0, spend: 0, list: 0, spendOfListed: 0, paid: 0, spendOfPaid: 0 },
  ...{ arrived: 0, late: 0, claimed: 0, returns: 0, corrected: 0 },
}

/** What corrections by invoices came to. Those of voids that were refused are in the spend already. */
async function correctedBy(
  db: Database,
  key: string,
  from: string,
  until: string,
): Promise<ReadonlyMap<string, number>> {
  const rows = (await db('bookings')
    .join('labels', 'labels.id', 'bookings.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .where('bookings.kind', 'correction')
    .whereNot('bookings.key', 'like', 'label-%')
    .whereBetween('bookings.day', [from, until])
    .groupBy(key)
    .select({
      key,
      amount: db.raw(`SUM(CASE WHEN bookings.debit = 'shipping' THEN bookings.amount ELSE -bookings.amount END)`),
    })) as {
    key: string | null
    amount: number
  }[]
  return new Map(rows.map((row) => [row.key ?? '', Number(row.amount)]))
}

/**
 * What shipping cost that is of no label: collections outside the usual times, and what invoices charge for labels that
 * nobody bought.
 */
export async function costOfNoLabel(db: Database, from: string, until: string): Promise<number> {
  const [row] = (await db('bookings')
    .whereNull('label_id')
    .where((side) => void side.where({ debit: 'shipping' }).orWhere({ credit: 'shipping' }))
    .whereBetween('day', [from, until])
    .select({ amount: db.raw(`SUM(CASE WHEN debit = 'shipping' THEN amount ELSE -amount END)`) })) as {
    amount: number | null
  }[]
  return Number(row?.amount ?? 0)
}

/** A booking as it is handed to those who keep the accounts. */
export interface JournalRow {
  readonly id: number
  readonly day: string
  readonly kind: string
  readonly carrier: string
  readonly debit: string
  readonly credit: string
  readonly amount: number
  readonly note: string
  readonly number: string | null
  readonly trackingNumber: string | null
}
/** The bookings of some days, in their order. */
export const journalBetween = (db: Database, from: string, until: string, most: number): Promise<JournalRow[]> =>
  db('bookings')
    .leftJoin('labels', 'labels.id', 'bookings.label_id')
    .leftJoin('orders', 'orders.id', 'labels.order_id')
    .whereBetween('bookings.day', [from, until])
    .orderBy('bookings.id')
    .limit(most)
    .select('bookings.*', { number: 'orders.number', trackingNumber: 'labels.tracking_number' })
