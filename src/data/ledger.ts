import { book, type Booking } from './bookings'
import { chunks, type Database } from './database'

export interface LedgerEntry {
  readonly labelId: number
  readonly kind: 'buy' | 'refund pending' | 'refund refused' | `claim ${number}` | `return ${number}`
  readonly at: string
  readonly day: string
  readonly carrier: string
  readonly service: string
  readonly zone: string
  /** Minor units of the home currency; a refund is negative. */
  readonly amount: number
}

/** Writes what labels cost and what is due back, in the spend by label and in the books. */
export async function addLedger(db: Database, entries: readonly LedgerEntry[]): Promise<void> {
  for (const part of chunks(entries, 100)) await db('ledger').insert(part).onConflict(['label_id', 'kind']).ignore()
  await book(
    db,
    entries.map(({ labelId, kind, at, day, carrier, amount }): Booking => ({
      key: `label-${labelId}-${kind}`,
      at,
      day,
      ...waysOf(kind),
      carrier,
      amount: Math.abs(amount),
      labelId,
      author: 'Gharry',
      note: '',
    })),
  )
}

/** From which account to which each kind goes. What is granted of a claim stands at the carrier. */
function waysOf(kind: LedgerEntry['kind']): Pick<Booking, 'kind' | 'debit' | 'credit'> {
  if (kind === 'buy') return { kind: 'purchase', debit: 'shipping', credit: 'balance' }
  if (kind === 'refund pending') return { kind: 'void', debit: 'refunds due', credit: 'shipping' }
  if (kind === 'refund refused') return { kind: 'correction', debit: 'shipping', credit: 'refunds due' }
  if (kind.startsWith('return')) return { kind: 'return', debit: 'shipping', credit: 'balance' }
  return { kind: 'claim', debit: 'balance', credit: 'shipping' }
}

export interface Spend {
  readonly key: string
  readonly labels: number
  readonly amount: number
}

/** Spend net of refunds, grouped by a column, from one day to another (both included). */
export async function spendBy(
  db: Database,
  column: 'carrier' | 'service' | 'zone' | 'day',
  from: string,
  until: string,
): Promise<Spend[]> {
  return db('ledger')
    .select<Spend[]>(
      `${column} AS key`,
      db.raw('SUM(amount) AS amount'),
      db.raw(`SUM(CASE WHEN kind = 'buy' THEN 1 ELSE 0 END) AS labels`),
    )
    .whereBetween('day', [from, until])
    .groupBy(column)
    .orderBy(column === 'day' ? 'day' : 'amount', column === 'day' ? 'asc' : 'desc')
}

/** The same by the country that the parcels went to. */
export async function spendByCountry(db: Database, from: string, until: string): Promise<Spend[]> {
  return db('ledger')
    .join('labels', 'labels.id', 'ledger.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .select<Spend[]>(
      'orders.country AS key',
      db.raw('SUM(amount) AS amount'),
      db.raw(`SUM(CASE WHEN ledger.kind = 'buy' THEN 1 ELSE 0 END) AS labels`),
    )
    .whereBetween('ledger.day', [from, until])
    .groupBy('orders.country')
    .orderBy('amount', 'desc')
}

/** What was spent on each day with each carrier, home minor units, from and until included. */
export async function spendByDayAndCarrier(
  db: Database,
  from: string,
  until: string,
): Promise<{ day: string; carrier: string; amount: number }[]> {
  return db('ledger')
    .select<{ day: string; carrier: string; amount: number }[]>('day', 'carrier', db.raw('SUM(amount) AS amount'))
    .whereBetween('day', [from, until])
    .groupBy('day', 'carrier')
    .orderBy('day')
}

/** What was spent, home minor units, and the days of the first and the last booking. */
export async function ledgerTotals(
  db: Database,
): Promise<{ spend: number; labels: number; firstDay: string | null; lastDay: string | null }> {
  const [row] = (await db('ledger')
    .sum({ spend: 'amount' })
    .min({ firstDay: 'day' })
    .max({ lastDay: 'day' })
    .select({
      labels: db.raw(`COALESCE(SUM(CASE WHEN kind = 'buy' THEN 1 ELSE 0 END), 0)`),
    })) as { spend: number | null; labels: number; firstDay: string | null; lastDay: string | null }[]
  return {
    spend: Number(row?.spend ?? 0),
    labels: Number(row?.labels ?? 0),
    firstDay: row?.firstDay ?? null,
    lastDay: row?.lastDay ?? null,
  }
}
