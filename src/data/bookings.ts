import { countAll } from './countAll'
import { chunks, type Database } from './database'

/** The accounts of the books: money at the carriers, money that carriers owe us, what shipping cost, and the bank. */
export const accounts = ['balance', 'refunds due', 'shipping', 'bank'] as const
export type Account = (typeof accounts)[number]
export const bookingKinds = [
  'purchase',
  'void',
  'refund',
  'top-up',
  'correction',
  'claim',
  'collection',
  'return',
] as const
export type BookingKind = (typeof bookingKinds)[number]

/** One booking: an amount (minor units of the home currency, above 0) from one account to another. */
export interface Booking {
  readonly key: string
  readonly at: string
  /** The seller's day. */
  readonly day: string
  readonly kind: BookingKind
  readonly carrier: string
  readonly debit: Account
  readonly credit: Account
  readonly amount: number
  readonly labelId: number | null
  readonly author: string
  readonly note: string
}

/** Books each cause once; nothing is booked for nothing. */
export async function book(db: Database, bookings: readonly Booking[]): Promise<void> {
  for (const part of chunks(
    bookings.filter(({ amount }) => amount > 0),
    80,
  ))
    await db('bookings').insert(part).onConflict('key').ignore()
}

/** What each account of each carrier stands at: debits less credits. */
export async function accountSums(db: Database): Promise<{ carrier: string; account: Account; amount: number }[]> {
  const side = (column: 'debit' | 'credit', sign: 1 | -1): ReturnType<Database> =>
    db('bookings')
      .select('carrier', { account: column })
      .select({ amount: db.raw(`SUM(amount) * ${sign}`) })
      .groupBy('carrier', column) as ReturnType<Database>
  const rows = [
    ...((await side('debit', 1)) as { carrier: string; account: Account; amount: number }[]),
    ...((await side('credit', -1)) as { carrier: string; account: Account; amount: number }[]),
  ]
  const sums = new Map<string, { carrier: string; account: Account; amount: number }>()
  for (const row of rows) {
    const key = `${row.carrier} ${row.account}`
    sums.set(key, { ...row, amount: (sums.get(key)?.amount ?? 0) + Number(row.amount) })
  }
  return [...sums.values()]
}

/** What stands at a carrier; asked every few seconds, so only its own bookings are looked at. */
export async function balanceOf(db: Database, carrier: string): Promise<number> {
  const side = async (column: 'debit' | 'credit'): Promise<number> =>
    Number(
      (
        (await db('bookings')
          .where({ [column]: 'balance', carrier })
          .sum({ amount: 'amount' })) as { amount: number | null }[]
      )[0]?.amount ?? 0,
    )
  return (await side('debit')) - (await side('credit'))
}

/** A page of the bookings of all carriers, the newest first, with the number of the order. */
export const bookingsPage = (
  db: Database,
  most: number,
  skip: number,
): Promise<(Booking & { id: number; number: string | null })[]> =>
  db('bookings')
    .leftJoin('labels', 'labels.id', 'bookings.label_id')
    .leftJoin('orders', 'orders.id', 'labels.order_id')
    .orderBy('bookings.id', 'desc')
    .limit(most)
    .offset(skip)
    .select('bookings.*', 'orders.number')
/** How many bookings there are. */
export const countBookings = (db: Database): Promise<number> => countAll(db('bookings'))

/** What was bought on a day, voids not counted. */
export async function spentOn(db: Database, day: string): Promise<number> {
  const [row] = (await db('bookings').where({ kind: 'purchase', day }).sum({ amount: 'amount' })) as {
    amount: number | null
  }[]
  return Number(row?.amount ?? 0)
}

/** Money that is on its way to a carrier: written before the carrier is asked, settled when it has answered. */
export interface TopUpRow {
  readonly id: number
  readonly key: string
  readonly carrier: string
  readonly amount: number
  readonly state: 'asked' | 'done' | 'refused'
  readonly author: string
  readonly askedAt: string
  readonly day: string
  readonly problem: string | null
}

/** A top-up by the key of its intent; undefined when it was never asked for. */
export const topUpByKey = (db: Database, key: string): Promise<TopUpRow | undefined> =>
  db('topups').where({ key }).first()
/** Top-ups of which it is not known yet whether the carrier has taken them. */
export const unsettledTopUp = (db: Database, carrier?: string): Promise<TopUpRow[]> =>
  db('topups')
    .where({ state: 'asked', ...(carrier === undefined ? {} : { carrier }) })
    .orderBy('id')
/** Writes a top-up before the carrier is asked for it. */
export async function addTopUp(db: Database, topUp: Omit<TopUpRow, 'id' | 'state' | 'problem'>): Promise<void> {
  await db('topups').insert({ ...topUp, state: 'asked' })
}
/** Settles a top-up that is still open; false when somebody else did. */
export async function settleTopUp(
  db: Database,
  key: string,
  change: { readonly state: 'done' | 'refused'; readonly settledAt: string; readonly problem: string | null },
): Promise<boolean> {
  return (await db('topups').where({ key, state: 'asked' }).update(change)) === 1
}
/** What Gharry has sent by itself on a day, or is about to. */
export async function toppedUpOn(db: Database, carrier: string, day: string, author: string): Promise<number> {
  const [row] = (await db('topups')
    .where({ carrier, day, author })
    .whereNot({ state: 'refused' })
    .sum({ amount: 'amount' })) as { amount: number | null }[]
  return Number(row?.amount ?? 0)
}

export interface CarrierAccount {
  readonly carrier: string
  readonly mark: number | null
  readonly topUpBy: number | null
  readonly problem: string | null
  /** How far the balance may go below nothing, home minor units; null where it may not. */
  readonly creditLimit: number | null
}
/** What is set for each carrier’s account. */
export const carrierAccounts = (db: Database): Promise<CarrierAccount[]> => db('carrier_accounts').orderBy('carrier')
/** Changes what is set for a carrier’s account; it is made where there is none. */
export async function setCarrierAccount(
  db: Database,
  account: Partial<CarrierAccount> & { carrier: string },
): Promise<void> {
  await db('carrier_accounts').insert(account).onConflict('carrier').merge()
}

/** The most that may be spent in a day without a reason, home minor units; null when there is none. */
export async function dailyCeiling(db: Database): Promise<number | null> {
  return (
    ((await db('spending').where({ id: 1 }).first()) as { dailyCeiling: number | null } | undefined)?.dailyCeiling ??
    null
  )
}
/** Sets that ceiling; null takes it away. */
export async function setDailyCeiling(db: Database, ceiling: number | null): Promise<void> {
  await db('spending').where({ id: 1 }).update({ dailyCeiling: ceiling })
}

export interface InvoiceLine {
  readonly line: number
  readonly trackingNumber: string
  readonly labelId: number | null
  readonly billed: number
  readonly expected: number | null
  readonly what: string
}
export interface InvoiceRow {
  readonly id: number
  readonly carrier: string
  readonly number: string
  readonly takenAt: string
  readonly author: string
  readonly billed: number
  readonly expected: number
  readonly takenBackAt?: string | null
}

/** Keeps a carrier's invoice with its lines; undefined when one with this number was taken before. */
export async function addInvoice(
  db: Database,
  invoice: Omit<InvoiceRow, 'id'>,
  lines: readonly InvoiceLine[],
): Promise<number | undefined> {
  const [row] = (await db('carrier_invoices')
    .insert(invoice)
    .onConflict(['carrier', 'number'])
    .ignore()
    .returning('id')) as { id: number }[]
  if (!row) return undefined
  for (const part of chunks(lines, 100))
    await db('invoice_lines').insert(part.map((line) => ({ ...line, invoiceId: row.id })))
  return row.id
}
/** A page of the invoices that were taken, the newest first. */
export const invoicesPage = (db: Database, most: number, skip: number): Promise<InvoiceRow[]> =>
  db('carrier_invoices').orderBy('id', 'desc').limit(most).offset(skip)
/** How many invoices were taken. */
export const countInvoices = (db: Database): Promise<number> => countAll(db('carrier_invoices'))

/** One invoice; undefined when there is none. */
export const invoiceById = (db: Database, id: number): Promise<InvoiceRow | undefined> =>
  db('carrier_invoices').where({ id }).first()
/** What an invoice has booked. */
export const bookingsOfInvoice = (db: Database, id: number): Promise<Booking[]> =>
  db('bookings')
    .where('key', 'like', `invoice-${id}-%`)
    .select('key', 'at', 'day', 'kind', 'carrier', 'debit', 'credit', 'amount', 'label_id', 'author', 'note')
/** Marks an invoice as taken back; its number is free again for the one that replaces it. */
export async function markTakenBack(
  db: Database,
  { id, number }: Pick<InvoiceRow, 'id' | 'number'>,
  at: string,
): Promise<boolean> {
  return (
    (await db('carrier_invoices')
      .where({ id })
      .whereNull('taken_back_at')
      .update({ takenBackAt: at, number: `${number} (taken back ${id})` })) === 1
  )
}

/** Corrections of labels by the rule that chose their service, from the trail of each order. */
export async function correctedOrders(db: Database, since: string): Promise<{ orderId: number; amount: number }[]> {
  return (await db('bookings')
    .where({ kind: 'correction' })
    .where('at', '>=', since)
    .join('labels', 'labels.id', 'bookings.label_id')
    .groupBy('labels.order_id')
    .select('labels.order_id')
    .select({ amount: db.raw(`SUM(CASE WHEN debit = 'shipping' THEN amount ELSE -amount END)`) })) as {
    orderId: number
    amount: number
  }[]
}
