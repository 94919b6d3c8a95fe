import { randomUUID } from 'node:crypto'
import { decimalIn, readSheet } from '@/adapters'
import { ambiguity, type DecimalSign, formatMoney, formatWeight, money, parseAmount, parseWeight } from '@/core/units'
import type { Rulebook } from '@/core/rulebook/language'
import { cleanTrackingNumber } from '@/core/tracking'
import {
  accountSums,
  addInvoice,
  addTopUp,
  balanceOf,
  book,
  bookingsOfInvoice,
  carrierAccounts,
  correctedOrders,
  dailyCeiling,
  decisionOf,
  editionNumbered,
  invoiceById,
  labelsByNumbers,
  labelsByReturn,
  listInvoices,
  markTakenBack,
  newestWorld,
  unsettledTopUp,
  parcelsOfLabels,
  recentBookings,
  setCarrierAccount,
  setDailyCeiling,
  settleTopUp,
  spentOn,
  toppedUpOn,
  topUpByKey,
  type Booking,
  type CarrierAccount,
  type InvoiceRow,
  type LabelRow,
  type TopUpRow,
  numbersOf,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { sellersDay } from '../shared/sellersDay'

export interface MoneyView {
  readonly carriers: readonly (Omit<CarrierAccount, 'top_up_by'> & {
    readonly name: string
    readonly topUpBy: number | null
    readonly balance: number
    readonly due: number
  })[]
  readonly ceiling: number | null
  readonly spentToday: number
  readonly bookings: readonly (Booking & { readonly id: number; readonly number: string | null })[]
  readonly invoices: readonly InvoiceRow[]
  /** What carriers' corrections of the last 90 days cost, by the rule that chose the service. */
  readonly corrections: readonly { readonly rule: string; readonly orders: number; readonly amount: number }[]
}

const euros = (minor: number): string => formatMoney(money(minor, 'EUR'))

/** Balances at the carriers, the ceiling of the day, the latest bookings, and what was invoiced. */
export async function showMoney(gharry: Application): Promise<MoneyView> {
  const { db } = gharry
  const world = (await newestWorld(db))?.world
  const sums = await accountSums(db)
  const kept = new Map((await carrierAccounts(db)).map((account) => [account.carrier, account]))
  const sum = (carrier: string, account: string): number =>
    sums.find((row) => row.carrier === carrier && row.account === account)?.amount ?? 0
  return {
    carriers: (world?.carriers ?? []).map(({ id, name }) => ({
      carrier: id,
      name,
      mark: kept.get(id)?.mark ?? null,
      topUpBy: kept.get(id)?.top_up_by ?? null,
      problem: kept.get(id)?.problem ?? null,
      balance: sum(id, 'balance'),
      due: sum(id, 'refunds due'),
    })),
    ceiling: await dailyCeiling(db),
    spentToday: await spentOn(db, await sellersDay(gharry, db)),
    bookings: await recentBookings(db, 100),
    invoices: await listInvoices(db),
    corrections: await correctionsByRule(gharry),
  }
}

/** More than this is a mistake, whoever types it. */
const maxAmount = 100_000_000
const isAmount = (amount: number): boolean => Number.isInteger(amount) && amount > 0 && amount <= maxAmount

/**
 * Sends money to a carrier. What is to be sent is written first, under the key that was made where it was decided; then
 * the carrier is asked; then it is booked. A key is one intent: of one carrier and one amount, asked for as often as it
 * takes to know. While one is under way, no other is begun: nobody knows yet whether the carrier has it.
 */
export async function topUp(
  gharry: Application,
  carrier: string,
  amount: number,
  key: string,
  author = gharry.settings.author,
): Promise<Answer<{ balance: number }>> {
  if (!isAmount(amount)) return refuse('bad-amount', `Enter an amount above 0, at most ${euros(maxAmount)}.`)
  if (!gharry.carrier(carrier)) return refuse('unknown-carrier', `The carrier "${carrier}" has no connection.`)
  const intent = await gharry.db.transaction(async (trx): Promise<Answer<{ row: TopUpRow | null }>> => {
    const known = await topUpByKey(trx, key)
    if (known && (known.carrier !== carrier || known.amount !== amount))
      return refuse('other-intent', 'This top-up was asked for with another carrier or amount: begin it anew.')
    if (known?.state === 'refused') return refuse('not-topped-up', known.problem ?? 'The carrier refused it.')
    if (known) return { ok: true, row: known.state === 'done' ? null : known }
    const [open] = await unsettledTopUp(trx, carrier)
    if (open)
      return refuse(
        'under-way',
        `${euros(open.amount)} are on their way to this carrier since ${open.asked_at.slice(0, 16).replace('T', ' ')} UTC, and it has not answered yet. It is asked again automatically; wait for the answer.`,
      )
    await addTopUp(trx, {
      key,
      carrier,
      amount,
      author,
      asked_at: gharry.now().toISOString(),
      day: await sellersDay(gharry, trx),
    })
    return { ok: true, row: (await topUpByKey(trx, key))! }
  })
  if (!intent.ok) return intent
  const settled = intent.row ? await askForTopUp(gharry, intent.row) : { ok: true as const }
  return settled.ok ? { ok: true, balance: await balanceOf(gharry.db, carrier) } : settled
}

/**
 * Asks the carrier for a top-up that is written down, and writes what it answers. The same key is the same top-up to
 * it.
 */
async function askForTopUp(gharry: Application, { key, carrier, amount, author }: TopUpRow): Promise<Answer<object>> {
  const result = await gharry.carrier(carrier)?.topUp(amount, key)
  const now = gharry.now().toISOString()
  if (!result) return refuse('unknown-carrier', `The carrier "${carrier}" has no connection.`)
  if (!result.ok && result.kind !== 'refused') {
    await setCarrierAccount(gharry.db, {
      carrier,
      problem: `A top-up of ${euros(amount)} is under way: ${result.sentence} It is asked again automatically.`,
    })
    return refuse(
      'not-known',
      `${result.sentence} Whether the carrier has the money is not known yet: it is asked again automatically, under the same key, and booked when it has.`,
    )
  }
  await gharry.db.transaction(async (trx) => {
    if (
      !(await settleTopUp(trx, key, {
        state: result.ok ? 'done' : 'refused',
        settled_at: now,
        problem: result.ok ? null : result.sentence,
      }))
    )
      return
    if (result.ok)
      await book(trx, [
        {
          key: `top-up-${key}`,
          at: now,
          day: await sellersDay(gharry, trx),
          kind: 'top-up',
          carrier,
          debit: 'balance',
          credit: 'bank',
          amount,
          label_id: null,
          author,
          note: '',
        },
      ])
    await setCarrierAccount(trx, {
      carrier,
      problem: result.ok ? null : `The carrier refused a top-up of ${euros(amount)}: ${result.sentence}`,
    })
  })
  return result.ok ? { ok: true } : refuse('not-topped-up', `${result.sentence} Nothing was sent.`)
}

/**
 * So many times its amount a carrier is topped up by itself on a day, at most: should the books and the carrier
 * disagree, no money runs out.
 */
const maxByItself = 3
const itself = 'Gharry'

/** Asks again for what is under way, and tops up every carrier whose balance has fallen below its mark. */
export async function topUpByMark(gharry: Application): Promise<void> {
  for (const open of await unsettledTopUp(gharry.db)) await askForTopUp(gharry, open)
  const day = await sellersDay(gharry, gharry.db)
  for (const { carrier, mark, top_up_by } of await carrierAccounts(gharry.db)) {
    if (
      mark === null ||
      top_up_by === null ||
      (await balanceOf(gharry.db, carrier)) >= mark ||
      (await unsettledTopUp(gharry.db, carrier)).length > 0
    )
      continue
    if ((await toppedUpOn(gharry.db, carrier, day, itself)) + top_up_by > maxByItself * top_up_by) {
      await setCarrierAccount(gharry.db, {
        carrier,
        problem: `It was topped up ${maxByItself} times today and is below its mark again: look at what was bought, and top up by hand.`,
      })
      continue
    }
    const answer = await topUp(gharry, carrier, top_up_by, `mark-${randomUUID()}`, itself)
    if (!answer.ok && answer.code !== 'not-known')
      await setCarrierAccount(gharry.db, { carrier, problem: answer.sentence })
  }
}

/** The mark below which a carrier is topped up by itself, and by how much; null for by hand only. */
export async function setMark(
  gharry: Application,
  carrier: string,
  mark: number | null,
  by: number | null,
): Promise<Answer<object>> {
  if ((mark === null) !== (by === null)) return refuse('half-a-mark', 'A mark needs an amount to top up by.')
  if (by !== null && (!isAmount(by) || mark! < 0 || mark! > maxAmount))
    return refuse('bad-amount', `The amount to top up by must be above 0, and at most ${euros(maxAmount)}.`)
  await setCarrierAccount(gharry.db, { carrier, mark, top_up_by: by, problem: null })
  return { ok: true }
}

export async function setCeiling(gharry: Application, ceiling: number | null): Promise<Answer<object>> {
  if (ceiling !== null && (!Number.isInteger(ceiling) || ceiling < 0 || ceiling > 100 * maxAmount))
    return refuse('bad-amount', 'Enter an amount such as 500.00, or nothing for no ceiling.')
  await setDailyCeiling(gharry.db, ceiling)
  return { ok: true }
}

/** By how much buying for this amount goes above what may be spent today without approval; 0 when it does not. */
export async function aboveCeiling(gharry: Application, total: number): Promise<number> {
  const ceiling = await dailyCeiling(gharry.db)
  return ceiling === null
    ? 0
    : Math.max(0, (await spentOn(gharry.db, await sellersDay(gharry, gharry.db))) + total - ceiling)
}

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
    read.lines.flatMap(({ label }) => (label ? [label.order_id] : [])),
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
        number: label ? (orders.get(label.order_id) ?? '') : '',
        orderId: label?.order_id ?? null,
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
        taken_at: at,
        author,
        billed: sumOf(read.lines, 'billed'),
        expected: sumOf(read.lines, 'expected'),
      },
      read.lines.map(({ line, trackingNumber, label, billed, expected, what }) => ({
        line,
        tracking_number: trackingNumber,
        label_id: label?.id ?? null,
        billed,
        expected,
        what,
      })),
    )
    if (id === undefined) return refuse('taken-before', `The invoice ${number.trim()} was taken before.`)
    const day = await sellersDay(gharry, trx)
    const bookings = read.lines.flatMap(({ line, label, billed, expected, what }): Booking[] => {
      const base = {
        key: `invoice-${id}-${line}`,
        at,
        day,
        carrier,
        label_id: label?.id ?? null,
        author,
        note: `Invoice ${number.trim()}, line ${line}: ${what}`,
      }
      if (label?.state === 'voided' && billed < 0)
        return [{ ...base, kind: 'refund', debit: 'balance', credit: 'refunds due', amount: -billed }]
      const difference = billed - (expected ?? 0)
      return difference === 0
        ? []
        : [
            {
              ...base,
              kind: 'correction',
              debit: difference > 0 ? 'shipping' : 'balance',
              credit: difference > 0 ? 'balance' : 'shipping',
              amount: Math.abs(difference),
            },
          ]
    })
    await book(trx, bookings)
    return { ok: true, corrections: bookings.filter(({ kind }) => kind === 'correction').length }
  })
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

// More lines than this are several invoices.
const maxInvoiceLines = 50_000

const sumOf = (lines: readonly Matched[], what: 'billed' | 'expected'): number =>
  lines.reduce((sum, line) => sum + (line[what] ?? 0), 0)

async function matchInvoice(
  gharry: Application,
  carrier: string,
  content: Buffer,
): Promise<Answer<{ lines: readonly Matched[]; problems: readonly { line: number; sentence: string }[] }>> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world?.carriers.some(({ id }) => id === carrier))
    return refuse('unknown-carrier', `There is no carrier "${carrier}".`)
  const sheet = await readSheet(content, invoiceColumns, ['tracking number', 'amount'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  if (sheet.rows.length > maxInvoiceLines)
    return refuse('too-long', `An invoice has at most ${maxInvoiceLines.toLocaleString('en')} lines: split it.`)
  const problems: { line: number; sentence: string }[] = []
  const decimal =
    decimalIn(sheet.rows.flatMap(({ cells }) => [cells.amount ?? '', cells.weight ?? ''])).proposed ?? undefined
  const rows = sheet.rows.flatMap(({ line, cells }) => {
    const trackingNumber = cleanTrackingNumber(cells['tracking number'] ?? '')
    const billed = billedIn(cells.amount ?? '', world.rates.home, decimal)
    if (!trackingNumber)
      problems.push({ line, sentence: `"${(cells['tracking number'] ?? '').slice(0, 60)}" is no tracking number.` })
    if (billed === null)
      problems.push({
        line,
        sentence:
          ambiguity(cells.amount ?? '') ??
          `"${(cells.amount ?? '').slice(0, 60)}" is no amount such as 4.90, of at most ${euros(maxAmount)}.`,
      })
    return trackingNumber && billed !== null
      ? [
          {
            line,
            trackingNumber,
            billed,
            weight: parseWeight(cells.weight ?? '', 'kg', decimal),
            description: (cells.description ?? '').trim().slice(0, 300),
          },
        ]
      : []
  })
  const found = await labelsByNumbers(
    gharry.db,
    carrier,
    rows.map(({ trackingNumber }) => trackingNumber),
  )
  const parcels = await parcelsOfLabels(gharry.db, [...new Set([...found.values()].map(({ label }) => label.id))])
  const returned = await labelsByReturn(
    gharry.db,
    carrier,
    rows.flatMap(({ trackingNumber }) => (found.has(trackingNumber) ? [] : [trackingNumber])),
  )
  const seen = new Set<number>()
  const lines = rows.map(({ line, trackingNumber, billed, weight, description }): Matched => {
    const match = found.get(trackingNumber)
    const back = match ? undefined : returned.get(trackingNumber)
    if (back)
      return {
        line,
        trackingNumber,
        label: back,
        billed,
        expected: null,
        what: ['the return label was used', description].filter(Boolean).join('; '),
      }
    if (!match)
      return { line, trackingNumber, label: null, billed, expected: null, what: 'we bought no label with this number' }
    const { label, position } = match
    // A shipment is charged once: what stands on its first line is held to the whole, the others to nothing.
    const expected = expectedFor(label, billed, seen.has(label.id))
    seen.add(label.id)
    const own = parcels.get(label.id)?.find((parcel) => parcel.position === position)
    const heavier =
      weight !== null && own && weight !== own.weight
        ? `weighed ${formatWeight(weight)}, declared ${formatWeight(own.weight)}`
        : ''
    const why = [heavier, description].filter(Boolean).join('; ')
    return {
      line,
      trackingNumber,
      label,
      billed,
      expected,
      what:
        billed === expected
          ? 'as charged'
          : why ||
            (label.state === 'voided' && billed > 0
              ? 'a voided label is billed'
              : `${euros(Math.abs(billed - expected))} ${billed > expected ? 'more' : 'less'} than charged`),
    }
  })
  return { ok: true, lines, problems }
}

/** An amount of an invoice, with or without the sign of its currency behind it. */
function billedIn(cell: string, currency: string, decimal?: DecimalSign): number | null {
  const plain = cell.trim()
  const bare = [currency, currency.toLowerCase(), '€', '£', '$'].find((sign) => plain.endsWith(sign))
  const minor = parseAmount(bare === undefined ? plain : plain.slice(0, -bare.length).trim(), currency, decimal)
  return minor === null || Math.abs(minor) > maxAmount ? null : minor
}

async function correctionsByRule(gharry: Application): Promise<MoneyView['corrections']> {
  const rows = await correctedOrders(gharry.db, new Date(gharry.now().getTime() - 90 * 86_400_000).toISOString())
  const byRule = new Map<string, { rule: string; orders: number; amount: number }>()
  const editions = new Map<number, Rulebook | undefined>()
  for (const { order_id, amount } of rows.slice(0, 2000)) {
    const decided = await decisionOf(gharry.db, order_id)
    const by = decided?.outcome.trail.decisions.find(({ decision }) => decision === 'picks')?.by
    if (decided && !editions.has(decided.edition))
      editions.set(decided.edition, (await editionNumbered(gharry.db, decided.edition))?.rulebook)
    const rulebook = decided && editions.get(decided.edition)
    const byHand = by?.kind === 'pin' ? 'pinned by hand' : 'no rule'
    const rule = by?.kind === 'rule' ? (rulebook?.rules.find(({ id }) => id === by.rule)?.name ?? by.rule) : byHand
    const sum = byRule.get(rule) ?? { rule, orders: 0, amount: 0 }
    byRule.set(rule, { rule, orders: sum.orders + 1, amount: sum.amount + Number(amount) })
  }
  return [...byRule.values()].sort((a, b) => b.amount - a.amount)
}

/** What an invoice line for a label should come to: of one that was voided only the refund, and each label once. */
function expectedFor(label: LabelRow, billed: number, charged: boolean): number {
  const cost = label.charged ?? 0
  if (label.state === 'voided') return billed < 0 ? -cost : 0
  return charged ? 0 : cost
}
