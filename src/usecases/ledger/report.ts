import { z } from 'zod'
import { csvFile, xlsxFile } from '@/adapters'
import { dayOf, dayText, weekday } from '@/core/calendar'
import type { World } from '@/core/world'
import {
  costOfNoLabel,
  documentBy,
  emptyReportRow,
  journalBetween,
  listChannels,
  reportBy,
  type ReportDimension,
  type ReportRow,
  saveDocument,
} from '@/data'
import { type Answer, type Application, refuse } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'
import { decimalAmount } from './decimalAmount'

/** A row of a report with its name in words. */
export interface ReportLine extends ReportRow {
  readonly name: string
}
export interface ReportView {
  readonly by: ReportDimension
  readonly from: string
  readonly until: string
  readonly lines: readonly ReportLine[]
  readonly total: ReportLine
  /**
   * What is of no shipment: collections outside the usual times, and what invoices charge for labels that nobody
   * bought.
   */
  readonly besides: number
  /** The accounts of one's own plan, for journal lines. */
  readonly accounts: AccountNames
  readonly version: number
}
export interface ReportAsked {
  readonly by: ReportDimension
  readonly from?: string
  readonly until?: string
}

/**
 * Spend by what is asked, of some days (the last thirty without any): shipments, weight, list price, what buyers paid,
 * lateness, claims.
 */
export async function showReport(gharry: Application, asked: ReportAsked): Promise<ReportView> {
  const { db } = gharry
  const today = await sellersDay(gharry, db)
  const until = asked.until ?? today
  const from = asked.from ?? dayText(dayOf(until) - 29)
  const rows = inSpans(asked.by, await reportBy(db, asked.by, from, until))
  const nameOf = await namesBy(gharry, asked.by)
  // What was bought and voided came to nothing.
  const lines = rows
    .filter((row) => sums.some((name) => row[name] !== 0))
    .map((row): ReportLine => ({ ...row, name: nameOf(row.key) }))
  const kept = await documentBy<AccountNames>(db, accountsDocument)
  return {
    ...{ by: asked.by, from, until, lines, total: { ...totalOf(lines), name: 'All' } },
    besides: await costOfNoLabel(db, from, until),
    ...{ accounts: kept?.published ?? usualAccounts, version: kept?.version ?? 0 },
  }
}

const sums = Object.keys(emptyReportRow).filter((name) => name !== 'key') as Exclude<keyof ReportRow, 'key'>[]

const added = (one: ReportRow, other: ReportRow): ReportRow => ({
  ...one,
  ...Object.fromEntries(sums.map((name) => [name, one[name] + other[name]])),
})
const totalOf = (rows: readonly ReportRow[]): ReportRow => rows.reduce(added, emptyReportRow)

/** Days gathered into ISO weeks (named by their Monday) or months. */
function inSpans(by: ReportDimension, rows: readonly ReportRow[]): readonly ReportRow[] {
  if (by !== 'week' && by !== 'month') return rows
  const spans = new Map<string, ReportRow>()
  for (const row of rows) {
    const day = dayOf(row.key)
    const key = by === 'month' ? row.key.slice(0, 7) : dayText(day - weekday(day) + 1)
    spans.set(key, added(spans.get(key) ?? { ...emptyReportRow, key }, row))
  }
  return [...spans.values()]
}

async function namesBy(gharry: Application, by: ReportDimension): Promise<(key: string) => string> {
  const { world } = await currentWorld(gharry.db)
  const named = (list: readonly { readonly id: string; readonly name: string }[]) => {
    const names = new Map(list.map(({ id, name }) => [id, name]))
    return (key: string): string => names.get(key) ?? key
  }
  if (by === 'channel') return named(await listChannels(gharry.db))
  if (by === 'rule') return ruleNames(gharry)
  const lists: Partial<Record<ReportDimension, keyof World>> = {
    ...{ carrier: 'carriers', service: 'services', location: 'locations' },
  }
  const list = lists[by]
  return list ? named(world[list] as readonly { id: string; name: string }[]) : (key) => key
}

async function ruleNames(gharry: Application): Promise<(key: string) => string> {
  const rulebook = (await rulebookInForce(gharry))?.rulebook
  const names = new Map(rulebook?.rules.map(({ id, name }) => [id, name]))
  const others: Readonly<Record<string, string>> = { '': 'No rule', 'by hand': 'Decided by hand' }
  return (key) => others[key] ?? names.get(key) ?? `${key} (not in force any more)`
}

const reportColumns = [
  ...['shipments', 'weight kg', 'spend', 'list price', 'saved', 'per shipment', 'per kg', 'buyers paid', 'kept'],
  ...['arrived', 'late', 'claims granted', 'returns', 'corrections', 'currency'],
]

/** A report as a file. Null when there is nothing in it. */
export async function reportFile(
  gharry: Application,
  asked: ReportAsked,
  format: 'csv' | 'xlsx',
): Promise<Buffer | null> {
  const { lines, total } = await showReport(gharry, asked)
  if (lines.length === 0) return null
  const { home } = (await currentWorld(gharry.db)).world.rates
  const money = (minor: number): string => decimalAmount(Math.round(minor), home)
  const columns = [asked.by, ...reportColumns]
  const rows = [...lines, total].map((line) => ({
    ...{ [asked.by]: line.name, shipments: String(line.shipments), 'weight kg': (line.weight / 1000).toFixed(3) },
    ...{ spend: money(line.spend), 'list price': money(line.list), saved: money(line.list - line.spendOfListed) },
    'per shipment': line.shipments === 0 ? '' : money(line.spend / line.shipments),
    'per kg': line.weight === 0 ? '' : money((1000 * line.spend) / line.weight),
    ...{ 'buyers paid': money(line.paid), kept: money(line.paid - line.spendOfPaid) },
    ...{ arrived: String(line.arrived), late: String(line.late), 'claims granted': money(line.claimed) },
    ...{ returns: money(line.returns), corrections: money(line.corrected) },
    currency: home,
  }))
  return format === 'xlsx' ? xlsxFile('Spend', columns, rows) : csvFile(columns, rows)
}

const accountsDocument = 'accounts'
const accountName = z.string().trim().min(1, 'is missing').max(40, 'has at most 40 characters')
/** How the accounts of the books are called in one's own plan. */
const accountNames = z.strictObject({
  ...{ balance: accountName, 'refunds due': accountName, shipping: accountName, bank: accountName },
})
export type AccountNames = z.output<typeof accountNames>
const usualAccounts: AccountNames = {
  ...{ balance: 'balance', 'refunds due': 'refunds due', shipping: 'shipping', bank: 'bank' },
}

/** Says how the accounts are called in one's own plan. */
export async function saveAccounts(
  gharry: Application,
  { version, accounts }: { readonly version: number; readonly accounts: unknown },
): Promise<Answer<{ version: number }>> {
  const parsed = accountNames.safeParse(accounts)
  if (!parsed.success) {
    const { path, message } = parsed.error.issues[0]!
    return refuse('bad-value', `The account of ${String(path[0] ?? 'the plan')} ${message}.`)
  }
  const saved = await saveDocument(gharry.db, accountsDocument, version, parsed.data, true, gharry.now().toISOString())
  return saved
    ? { ok: true, version: version + 1 }
    : refuse('world-changed', 'Somebody else has changed the accounts meanwhile: look at theirs first.')
}

const journalColumns = [
  ...['line', 'date', 'debit account', 'credit account', 'amount', 'currency', 'text', 'carrier', 'order'],
  ...['tracking number', 'kind'],
]
/** A month of 100,000 orders a day is a file for machines, not for this. */
const mostJournal = 1_000_000

/** The bookings of some days as journal lines, with the accounts of one's own plan. Null when there are none. */
export async function journalFile(
  gharry: Application,
  { from, until }: { readonly from: string; readonly until: string },
  format: 'csv' | 'xlsx',
): Promise<Buffer | null> {
  const bookings = await journalBetween(gharry.db, from, until, mostJournal)
  if (bookings.length === 0) return null
  const { world } = await currentWorld(gharry.db)
  const { home } = world.rates
  const names = (await documentBy<AccountNames>(gharry.db, accountsDocument))?.published ?? usualAccounts
  const account = (of: string): string => names[of as keyof AccountNames] ?? of
  const carrier = (id: string): string => world.carriers.find((one) => one.id === id)?.name ?? id
  const rows = bookings.map((row) => ({
    ...{ line: String(row.id), date: row.day, kind: row.kind, carrier: carrier(row.carrier) },
    ...{ 'debit account': account(row.debit), 'credit account': account(row.credit) },
    ...{ amount: decimalAmount(row.amount, home), currency: home },
    text: [row.kind, carrier(row.carrier), row.note].filter(Boolean).join(': '),
    ...{ order: row.number ?? '', 'tracking number': row.trackingNumber ?? '' },
  }))
  return format === 'xlsx' ? xlsxFile('Journal', journalColumns, rows) : csvFile(journalColumns, rows)
}
