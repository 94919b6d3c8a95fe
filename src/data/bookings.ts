import { chunks, type Database } from './database'

/** The accounts of the books: money at the carriers, money that carriers owe us, what shipping cost, and the bank. */
export const accounts = ['balance', 'refunds due', 'shipping', 'bank'] as const
export type Account = (typeof accounts)[number]
export const bookingKinds = ['purchase', 'void', 'refund', 'top-up', 'correction'] as const
export type BookingKind = (typeof bookingKinds)[number]

/** One booking: an amount (minor units of the home currency, above 0) from one account to another. */
export interface Booking {
  readonly key: string
  readonly at: string
  readonly kind: BookingKind
  readonly carrier: string
  readonly debit: Account
  readonly credit: Account
  readonly amount: number
  readonly label_id: number | null
  readonly author: string
  readonly note: string
}

/** Books each cause once; nothing is booked for nothing. */
export async function book(db: Database, bookings: readonly Booking[]): Promise<void> {
  for (const part of chunks(bookings.filter(({ amount }) => amount > 0), 80)) await db('bookings').insert(part.map((booking) => ({ ...booking, day: booking.at.slice(0, 10) }))).onConflict('key').ignore()
}

/** What each account of each carrier stands at: debits less credits. */
export async function accountSums(db: Database): Promise<{ carrier: string; account: Account; amount: number }[]> {
  const side = (column: 'debit' | 'credit', sign: 1 | -1): ReturnType<Database> => db('bookings').select('carrier', { account: column }).select({ amount: db.raw(`SUM(amount) * ${sign}`) }).groupBy('carrier', column) as ReturnType<Database>
  const rows = [...((await side('debit', 1)) as { carrier: string; account: Account; amount: number }[]), ...((await side('credit', -1)) as { carrier: string; account: Account; amount: number }[])]
  const sums = new Map<string, { carrier: string; account: Account; amount: number }>()
  for (const row of rows) {
    const key = `${row.carrier} ${row.account}`
    sums.set(key, { ...row, amount: (sums.get(key)?.amount ?? 0) + Number(row.amount) })
  }
  return [...sums.values()]
}

/** What stands at a carrier; asked every few seconds, so only its own bookings are looked at. */
export async function balanceOf(db: Database, carrier: string): Promise<number> {
  const side = async (column: 'debit' | 'credit'): Promise<number> => Number(((await db('bookings').where({ [column]: 'balance', carrier }).sum({ amount: 'amount' })) as { amount: number | null }[])[0]?.amount ?? 0)
  return (await side('debit')) - (await side('credit'))
}

export const recentBookings = (db: Database, most: number): Promise<(Booking & { id: number; number: string | null })[]> =>
  db('bookings').leftJoin('labels', 'labels.id', 'bookings.label_id').leftJoin('orders', 'orders.id', 'labels.order_id').orderBy('bookings.id', 'desc').limit(most).select('bookings.*', 'orders.number')

/** What was bought on a day, voids not counted. */
export async function spentOn(db: Database, day: string): Promise<number> {
  const [row] = (await db('bookings').where({ kind: 'purchase', day }).sum({ amount: 'amount' })) as { amount: number | null }[]
  return Number(row?.amount ?? 0)
}

export interface CarrierAccount { readonly carrier: string; readonly mark: number | null; readonly top_up_by: number | null; readonly problem: string | null }
export const carrierAccounts = (db: Database): Promise<CarrierAccount[]> => db('carrier_accounts').orderBy('carrier')
export async function setCarrierAccount(db: Database, account: Partial<CarrierAccount> & { carrier: string }): Promise<void> {
  await db('carrier_accounts').insert(account).onConflict('carrier').merge()
}

export async function dailyCeiling(db: Database): Promise<number | null> {
  return ((await db('spending').where({ id: 1 }).first()) as { daily_ceiling: number | null } | undefined)?.daily_ceiling ?? null
}
export async function setDailyCeiling(db: Database, ceiling: number | null): Promise<void> {
  await db('spending').where({ id: 1 }).update({ daily_ceiling: ceiling })
}

export interface InvoiceLine { readonly line: number; readonly tracking_number: string; readonly label_id: number | null; readonly billed: number; readonly expected: number | null; readonly what: string }
export interface InvoiceRow { readonly id: number; readonly carrier: string; readonly number: string; readonly taken_at: string; readonly author: string; readonly billed: number; readonly expected: number }

/** Keeps a carrier's invoice with its lines; undefined when one with this number was taken before. */
export async function addInvoice(db: Database, invoice: Omit<InvoiceRow, 'id'>, lines: readonly InvoiceLine[]): Promise<number | undefined> {
  const [row] = (await db('carrier_invoices').insert(invoice).onConflict(['carrier', 'number']).ignore().returning('id')) as { id: number }[]
  if (!row) return undefined
  for (const part of chunks(lines, 100)) await db('invoice_lines').insert(part.map((line) => ({ ...line, invoice_id: row.id })))
  return row.id
}
export const listInvoices = (db: Database): Promise<InvoiceRow[]> => db('carrier_invoices').orderBy('id', 'desc').limit(50)

/** Corrections of labels by the rule that chose their service, from the trail of each order. */
export async function correctedOrders(db: Database, since: string): Promise<{ order_id: number; amount: number }[]> {
  return (await db('bookings').where({ kind: 'correction' }).where('at', '>=', since).join('labels', 'labels.id', 'bookings.label_id').groupBy('labels.order_id').select('labels.order_id').select({ amount: db.raw(`SUM(CASE WHEN debit = 'shipping' THEN amount ELSE -amount END)`) })) as { order_id: number; amount: number }[]
}
