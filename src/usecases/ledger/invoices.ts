import { decimalIn, readSheet } from '@/adapters'
import {
  ambiguity,
  currencySign,
  type DecimalSign,
  formatMoney,
  formatWeight,
  money,
  parseAmount,
  parseWeight,
} from '@/core/units'
import { cleanTrackingNumber } from '@/core/tracking'
import {
  addInvoice,
  book,
  bookingsOfInvoice,
  invoiceById,
  labelsByNumbers,
  labelsByIds,
  labelsByReturn,
  markTakenBack,
  moveRefund,
  refundOf,
  newestWorld,
  parcelsOfLabels,
  returnsByNumbers,
  type Booking,
  type Database,
  type LabelRow,
  numbersOf,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { sellersDay } from '../shared/sellersDay'
import { maxAmount } from './balances'

const invoiceColumns = ['tracking number', 'amount', 'weight', 'description'] as const

export interface InvoiceLook {
  readonly lines: number
  readonly billed: number
  readonly expected: number
  readonly problems: readonly { readonly line: number; readonly sentence: string }[]
  /** Lines that are not what was charged when the label was bought. */
  readonly differing: readonly {
    readonly line: number
    readonly trackingNumber: string
    readonly number: string
    readonly orderId: number | null
    readonly billed: number
    readonly expected: number | null
    readonly what: string
  }[]
}

interface Matched {
  readonly line: number
  readonly trackingNumber: string
  readonly label: LabelRow | null
  readonly billed: number
  readonly expected: number | null
  readonly what: string
}

/**
 * Holds a carrier's invoice to what labels were charged for: what agrees, what does not and why. Nothing is booked
 * yet.
 */
export async function lookAtInvoice(
  gharry: Application,
  carrier: string,
  content: Buffer,
): Promise<Answer<InvoiceLook>> {
  const read = await matchInvoice(gharry, carrier, content)
  if (!read.ok) return read
  const orders = await numbersOf(
    gharry.db,
    read.lines.flatMap(({ label }) => (label ? [label.orderId] : [])),
  )
  return {
    ok: true,
    lines: read.lines.length,
    billed: sumOf(read.lines, 'billed'),
    expected: sumOf(read.lines, 'expected'),
    problems: read.problems,
    differing: read.lines
      .filter(({ billed, expected }) => billed !== expected)
      .map(({ line, trackingNumber, label, billed, expected, what }) => ({
        line,
        trackingNumber,
        number: label ? (orders.get(label.orderId) ?? '') : '',
        orderId: label?.orderId ?? null,
        billed,
        expected,
        what,
      }))
      .slice(0, 1000),
  }
}

/**
 * Takes an invoice: differences are booked as corrections, refunds that it grants are no longer due. An invoice is
 * taken once.
 */
export async function takeInvoice(
  gharry: Application,
  carrier: string,
  number: string,
  content: Buffer,
): Promise<Answer<{ corrections: number }>> {
  if (number.trim() === '') return refuse('no-number', 'The invoice needs its number.')
  if (number.trim().length > 60) return refuse('no-number', 'The number of an invoice has at most 60 characters.')
  const read = await matchInvoice(gharry, carrier, content)
  if (!read.ok) return read
  const [problem] = read.problems
  if (problem) return refuse('bad-table', `Line ${problem.line}: ${problem.sentence}`)
  const at = gharry.now().toISOString()
  const { author } = gharry.settings
  return gharry.db.transaction(async (trx): Promise<Answer<{ corrections: number }>> => {
    const id = await addInvoice(
      trx,
      {
        carrier,
        number: number.trim(),
        takenAt: at,
        author,
        billed: sumOf(read.lines, 'billed'),
        expected: sumOf(read.lines, 'expected'),
      },
      read.lines.map(({ line, trackingNumber, label, billed, expected, what }) => ({
        line,
        trackingNumber: trackingNumber,
        labelId: label?.id ?? null,
        billed,
        expected,
        what,
      })),
    )
    if (id === undefined) return refuse('taken-before', `The invoice ${number.trim()} was taken before.`)
    const base = { id, carrier, number: number.trim(), at, author, day: await sellersDay(gharry, trx) }
    const granted = await grantByInvoice(trx, read.lines, at)
    const bookings = read.lines.flatMap((line) => bookingsOf(line, base, granted))
    await book(trx, bookings)
    return { ok: true, corrections: bookings.filter(({ kind }) => kind === 'correction').length }
  })
}

interface InvoiceTaken {
  readonly id: number
  readonly carrier: string
  readonly number: string
  readonly at: string
  readonly day: string
  readonly author: string
}

/** What a line of an invoice comes to in the books: nothing where it agrees with what was charged. */
function bookingsOf(
  { line, label, billed, expected, what }: Matched,
  { id, number, ...base }: InvoiceTaken,
  granted: ReadonlySet<number>,
): Booking[] {
  const common = {
    ...base,
    key: `invoice-${id}-${line}`,
    labelId: label?.id ?? null,
    note: `Invoice ${number}, line ${line}: ${what}`,
  }
  if (label?.state === 'voided' && billed < 0)
    // Granted before, by message or by hand: the invoice says it once more.
    return granted.has(label.id)
      ? []
      : [{ ...common, kind: 'refund', debit: 'balance', credit: 'refunds due', amount: -billed }]
  const difference = billed - (expected ?? 0)
  if (difference === 0) return []
  const [debit, credit] = difference > 0 ? (['shipping', 'balance'] as const) : (['balance', 'shipping'] as const)
  return [{ ...common, kind: 'correction', debit, credit, amount: Math.abs(difference) }]
}

/**
 * Takes an invoice back that was taken by mistake: all it booked is booked the other way round, and its number may be
 * taken again.
 */
export async function takeInvoiceBack(gharry: Application, id: number): Promise<Answer<{ bookings: number }>> {
  const at = gharry.now().toISOString()
  const { author } = gharry.settings
  return gharry.db.transaction(async (trx): Promise<Answer<{ bookings: number }>> => {
    const invoice = await invoiceById(trx, id)
    if (!invoice) return refuse('unknown-invoice', 'There is no such invoice.')
    if (!(await markTakenBack(trx, invoice, at))) return refuse('taken-back', 'This invoice was taken back before.')
    const day = await sellersDay(gharry, trx)
    const booked = await bookingsOfInvoice(trx, id)
    for (const { kind, labelId } of booked)
      if (kind === 'refund' && labelId !== null)
        await moveRefund(trx, labelId, 'granted', { state: 'pending', settledAt: null, granted: null })
    await book(
      trx,
      booked.map((booking) => ({
        ...booking,
        key: `back-${booking.key}`,
        at,
        day,
        debit: booking.credit,
        credit: booking.debit,
        author,
        note: `Taken back: ${booking.note}`,
      })),
    )
    return { ok: true, bookings: booked.length }
  })
}

/** Settles the refunds that an invoice grants; gives the labels whose refund was granted before. */
async function grantByInvoice(trx: Database, lines: readonly Matched[], at: string): Promise<ReadonlySet<number>> {
  const before = new Set<number>()
  for (const { label, billed } of lines) {
    if (label?.state !== 'voided' || billed >= 0) continue
    const settled = { state: 'granted' as const, settledAt: at, granted: -billed, nextAsk: null }
    if (!(await moveRefund(trx, label.id, 'pending', settled)) && (await refundOf(trx, label.id))?.state === 'granted')
      before.add(label.id)
  }
  return before
}

// More lines than this are several invoices.
const maxInvoiceLines = 50_000

const sumOf = (lines: readonly Matched[], what: 'billed' | 'expected'): number =>
  lines.reduce((sum, line) => sum + (line[what] ?? 0), 0)

interface InvoiceRow {
  readonly line: number
  readonly trackingNumber: string
  readonly billed: number
  readonly weight: number | null
  readonly description: string
}
type Problem = InvoiceLook['problems'][number]

async function matchInvoice(
  gharry: Application,
  carrier: string,
  content: Buffer,
): Promise<Answer<{ lines: readonly Matched[]; problems: readonly Problem[] }>> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world?.carriers.some(({ id }) => id === carrier))
    return refuse('unknown-carrier', `There is no carrier "${carrier}".`)
  const sheet = await readSheet(content, invoiceColumns, ['tracking number', 'amount'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  if (sheet.rows.length > maxInvoiceLines)
    return refuse('too-long', `An invoice has at most ${maxInvoiceLines.toLocaleString('en')} lines: split it.`)
  const { home } = world.rates
  const { rows, problems } = invoiceRows(sheet.rows, home)
  const match = await matcher(gharry, carrier, rows, home)
  return { ok: true, lines: rows.map(match), problems }
}

/** The lines of an invoice that can be read, and what is wrong with the others. */
function invoiceRows(
  sheet: readonly { readonly line: number; readonly cells: Readonly<Partial<Record<string, string>>> }[],
  home: string,
): { readonly rows: readonly InvoiceRow[]; readonly problems: readonly Problem[] } {
  const problems: Problem[] = []
  const decimal =
    decimalIn(sheet.flatMap(({ cells }) => [cells.amount ?? '', cells.weight ?? ''])).proposed ?? undefined
  const rows = sheet.flatMap(({ line, cells }): InvoiceRow[] => {
    const trackingNumber = cleanTrackingNumber(cells['tracking number'] ?? '')
    const billed = billedIn(cells.amount ?? '', home, decimal)
    if (!trackingNumber)
      problems.push({ line, sentence: `"${(cells['tracking number'] ?? '').slice(0, 60)}" is no tracking number.` })
    if (billed === null)
      problems.push({
        line,
        sentence:
          ambiguity(cells.amount ?? '') ??
          `"${(cells.amount ?? '').slice(0, 60)}" is no amount such as 4.90, of at most ${formatMoney(money(maxAmount, home))}.`,
      })
    if (!trackingNumber || billed === null) return []
    const weight = parseWeight(cells.weight ?? '', 'kg', decimal)
    return [{ line, trackingNumber, billed, weight, description: (cells.description ?? '').trim().slice(0, 300) }]
  })
  return { rows, problems }
}

/** Holds lines of an invoice to what was bought: labels by their numbers, and return labels that were used. */
async function matcher(
  gharry: Application,
  carrier: string,
  rows: readonly InvoiceRow[],
  home: string,
): Promise<(row: InvoiceRow) => Matched> {
  const { db } = gharry
  const numbers = rows.map(({ trackingNumber }) => trackingNumber)
  const found = await labelsByNumbers(db, carrier, numbers)
  const parcels = await parcelsOfLabels(db, [...new Set([...found.values()].map(({ label }) => label.id))])
  const others = numbers.filter((number) => !found.has(number))
  const returned = await labelsByReturn(db, carrier, others)
  const rowsBack = await returnsByNumbers(db, carrier, others)
  const labelsBack = await labelsByIds(
    db,
    [...rowsBack.values()].map(({ labelId }) => labelId),
  )
  const sentBack = new Map(labelsBack.map((row) => [row.id, row]))
  const seen = new Set<number>()
  const charged = new Set<number>()
  const matchedReturn = ({ line, trackingNumber, billed, description }: InvoiceRow): Matched => {
    const row = rowsBack.get(trackingNumber)
    // One whose price the carrier has said is held to it, once.
    if (row && row.charge > 0 && sentBack.has(row.labelId)) {
      const expected = row.usedAt !== null && !charged.has(row.id) ? row.charge : 0
      charged.add(row.id)
      return {
        ...{ line, trackingNumber, label: sentBack.get(row.labelId)!, billed, expected },
        what: billed === expected ? 'as charged' : description || 'the return label was used',
      }
    }
    const label = returned.get(trackingNumber)?.label ?? null
    const what = label
      ? ['the return label was used', description].filter(Boolean).join('; ')
      : 'we bought no label with this number'
    return { line, trackingNumber, label, billed, expected: null, what }
  }
  return (row) => {
    const match = found.get(row.trackingNumber)
    if (!match) return matchedReturn(row)
    const { label, position } = match
    const { line, trackingNumber, billed } = row
    // A shipment is charged once: what stands on its first line is held to the whole, the others to nothing.
    const expected = expectedFor(label, billed, seen.has(label.id))
    seen.add(label.id)
    const declared = parcels.get(label.id)?.find((parcel) => parcel.position === position)?.weight
    const what = billed === expected ? 'as charged' : whyOther(row, label, declared, expected, home)
    return { line, trackingNumber, label, billed, expected, what }
  }
}

/** Why a line is not what was charged, as far as anybody says so. */
function whyOther(
  { billed, weight, description }: InvoiceRow,
  label: LabelRow,
  declared: number | undefined,
  expected: number,
  home: string,
): string {
  const heavier =
    weight !== null && declared !== undefined && weight !== declared
      ? `weighed ${formatWeight(weight)}, declared ${formatWeight(declared)}`
      : ''
  const why = [heavier, description].filter(Boolean).join('; ')
  if (why) return why
  return label.state === 'voided' && billed > 0
    ? 'a voided label is billed'
    : `${formatMoney(money(Math.abs(billed - expected), home))} ${billed > expected ? 'more' : 'less'} than charged`
}

/** An amount of an invoice, with or without the sign of its currency behind it. */
function billedIn(cell: string, currency: string, decimal?: DecimalSign): number | null {
  const plain = cell.trim()
  const bare = [currency, currency.toLowerCase(), currencySign(currency), '$'].find((sign) => plain.endsWith(sign))
  const minor = parseAmount(bare === undefined ? plain : plain.slice(0, -bare.length).trim(), currency, decimal)
  return minor === null || Math.abs(minor) > maxAmount ? null : minor
}

/** What an invoice line for a label should come to: of one that was voided only the refund, and each label once. */
function expectedFor(label: LabelRow, billed: number, charged: boolean): number {
  const cost = label.charged ?? 0
  if (label.state === 'voided') return billed < 0 ? -cost : 0
  return charged ? 0 : cost
}
