import { readSheet } from '@/adapters'
import { formatMoney, formatWeight, money, parseAmount, parseWeight } from '@/core/units'
import type { Rulebook } from '@/core/rulebook'
import { cleanTrackingNumber } from '@/core/tracking'
import { accountSums, addInvoice, balanceOf, book, carrierAccounts, correctedOrders, dailyCeiling, decisionOf, editionNumbered, labelsByNumbers, labelsByReturn, listInvoices, newestWorld, parcelsOfLabels, recentBookings, setCarrierAccount, setDailyCeiling, spentOn, type Booking, type CarrierAccount, type InvoiceRow, type LabelRow } from '@/data'
import { refuse, type Answer, type Gharry } from './gharry'

export interface MoneyView {
  readonly carriers: readonly (Omit<CarrierAccount, 'top_up_by'> & { readonly name: string; readonly topUpBy: number | null; readonly balance: number; readonly due: number })[]
  readonly ceiling: number | null
  readonly spentToday: number
  readonly bookings: readonly (Booking & { readonly id: number; readonly number: string | null })[]
  readonly invoices: readonly InvoiceRow[]
  /** What carriers' corrections of the last 90 days cost, by the rule that chose the service. */
  readonly corrections: readonly { readonly rule: string; readonly orders: number; readonly amount: number }[]
}

const euros = (minor: number): string => formatMoney(money(minor, 'EUR'))

/** Balances at the carriers, the ceiling of the day, the latest bookings, and what was invoiced. */
export async function showMoney(gharry: Gharry): Promise<MoneyView> {
  const { db } = gharry
  const world = (await newestWorld(db))?.world
  const sums = await accountSums(db)
  const kept = new Map((await carrierAccounts(db)).map((account) => [account.carrier, account]))
  const sum = (carrier: string, account: string): number => sums.find((row) => row.carrier === carrier && row.account === account)?.amount ?? 0
  return {
    carriers: (world?.carriers ?? []).map(({ id, name }) => ({ carrier: id, name, mark: kept.get(id)?.mark ?? null, topUpBy: kept.get(id)?.top_up_by ?? null, problem: kept.get(id)?.problem ?? null, balance: sum(id, 'balance'), due: sum(id, 'refunds due') })),
    ceiling: await dailyCeiling(db), spentToday: await spentOn(db, gharry.now().toISOString().slice(0, 10)), bookings: await recentBookings(db, 100), invoices: await listInvoices(db), corrections: await correctionsByRule(gharry),
  }
}

/** Sends money to a carrier, and books it when the carrier has it. The key makes a repeated call the same call. */
export async function topUp(gharry: Gharry, carrier: string, amount: number, key: string, author = gharry.settings.author): Promise<Answer<{ balance: number }>> {
  if (!Number.isInteger(amount) || amount <= 0) return refuse('bad-amount', 'Say an amount above 0.')
  const client = gharry.carrier(carrier)
  if (!client) return refuse('unknown-carrier', `The carrier "${carrier}" has no connection.`)
  const result = await client.topUp(amount, key)
  if (!result.ok) return refuse('not-topped-up', `${result.sentence} Nothing was booked; try again.`)
  await book(gharry.db, [{ key: `top-up-${key}`, at: gharry.now().toISOString(), kind: 'top-up', carrier, debit: 'balance', credit: 'bank', amount, label_id: null, author, note: '' }])
  await setCarrierAccount(gharry.db, { carrier, problem: null })
  return { ok: true, balance: await balanceOf(gharry.db, carrier) }
}

/** Tops up every carrier whose balance has fallen below its mark. Each fall is topped up once: the key is how many were booked before. */
export async function topUpByMark(gharry: Gharry): Promise<void> {
  for (const { carrier, mark, top_up_by } of await carrierAccounts(gharry.db)) {
    if (mark === null || top_up_by === null || (await balanceOf(gharry.db, carrier)) >= mark) continue
    const [{ n }] = (await gharry.db('bookings').where({ carrier, kind: 'top-up' }).count({ n: '*' })) as [{ n: number }]
    const answer = await topUp(gharry, carrier, top_up_by, `mark-${carrier}-${n}`, 'Gharry')
    if (!answer.ok) await setCarrierAccount(gharry.db, { carrier, problem: answer.sentence })
  }
}

/** The mark below which a carrier is topped up by itself, and by how much; null for by hand only. */
export async function setMark(gharry: Gharry, carrier: string, mark: number | null, by: number | null): Promise<Answer<object>> {
  if ((mark === null) !== (by === null)) return refuse('half-a-mark', 'A mark needs an amount to top up by.')
  if (by !== null && (by <= 0 || mark! < 0)) return refuse('bad-amount', 'The amount to top up by must be above 0.')
  await setCarrierAccount(gharry.db, { carrier, mark, top_up_by: by, problem: null })
  return { ok: true }
}

export async function setCeiling(gharry: Gharry, ceiling: number | null): Promise<Answer<object>> {
  if (ceiling !== null && (!Number.isInteger(ceiling) || ceiling < 0)) return refuse('bad-amount', 'Say an amount such as 500.00, or nothing for no ceiling.')
  await setDailyCeiling(gharry.db, ceiling)
  return { ok: true }
}

/** By how much buying for this amount goes above what may be spent today without approval; 0 when it does not. */
export async function aboveCeiling(gharry: Gharry, total: number): Promise<number> {
  const ceiling = await dailyCeiling(gharry.db)
  return ceiling === null ? 0 : Math.max(0, (await spentOn(gharry.db, gharry.now().toISOString().slice(0, 10))) + total - ceiling)
}

const invoiceColumns = ['tracking number', 'amount', 'weight', 'description'] as const

export interface InvoiceLook {
  readonly lines: number
  readonly billed: number
  readonly expected: number
  readonly problems: readonly { readonly line: number; readonly sentence: string }[]
  /** Lines that are not what was charged when the label was bought. */
  readonly differing: readonly { readonly line: number; readonly trackingNumber: string; readonly number: string; readonly orderId: number | null; readonly billed: number; readonly expected: number | null; readonly what: string }[]
}

interface Matched { readonly line: number; readonly trackingNumber: string; readonly label: LabelRow | null; readonly billed: number; readonly expected: number | null; readonly what: string }

/** Holds a carrier's invoice to what labels were charged for: what agrees, what does not and why. Nothing is booked yet. */
export async function lookAtInvoice(gharry: Gharry, carrier: string, content: Buffer): Promise<Answer<InvoiceLook>> {
  const read = await matchInvoice(gharry, carrier, content)
  if (!read.ok) return read
  const orders = new Map(((await gharry.db('orders').whereIn('id', read.lines.flatMap(({ label }) => (label ? [label.order_id] : [])).slice(0, 5000)).select('id', 'number')) as { id: number; number: string }[]).map((row) => [row.id, row.number]))
  return {
    ok: true, lines: read.lines.length, billed: sumOf(read.lines, 'billed'), expected: sumOf(read.lines, 'expected'), problems: read.problems,
    differing: read.lines.filter(({ billed, expected }) => billed !== expected).map(({ line, trackingNumber, label, billed, expected, what }) => ({ line, trackingNumber, number: label ? (orders.get(label.order_id) ?? '') : '', orderId: label?.order_id ?? null, billed, expected, what })).slice(0, 1000),
  }
}

/** Takes an invoice: differences are booked as corrections, refunds that it grants are no longer due. An invoice is taken once. */
export async function takeInvoice(gharry: Gharry, carrier: string, number: string, content: Buffer): Promise<Answer<{ corrections: number }>> {
  if (number.trim() === '') return refuse('no-number', 'The invoice needs its number.')
  const read = await matchInvoice(gharry, carrier, content)
  if (!read.ok) return read
  const [problem] = read.problems
  if (problem) return refuse('bad-table', `Line ${problem.line}: ${problem.sentence}`)
  const at = gharry.now().toISOString()
  const { author } = gharry.settings
  return gharry.db.transaction(async (trx): Promise<Answer<{ corrections: number }>> => {
    const id = await addInvoice(trx, { carrier, number: number.trim(), taken_at: at, author, billed: sumOf(read.lines, 'billed'), expected: sumOf(read.lines, 'expected') }, read.lines.map(({ line, trackingNumber, label, billed, expected, what }) => ({ line, tracking_number: trackingNumber, label_id: label?.id ?? null, billed, expected, what })))
    if (id === undefined) return refuse('taken-before', `The invoice ${number.trim()} was taken before.`)
    const bookings = read.lines.flatMap(({ line, label, billed, expected, what }): Booking[] => {
      const base = { key: `invoice-${id}-${line}`, at, carrier, label_id: label?.id ?? null, author, note: `Invoice ${number.trim()}, line ${line}: ${what}` }
      if (label?.state === 'voided' && billed < 0) return [{ ...base, kind: 'refund', debit: 'balance', credit: 'refunds due', amount: -billed }]
      const difference = billed - (expected ?? 0)
      return difference === 0 ? [] : [{ ...base, kind: 'correction', debit: difference > 0 ? 'shipping' : 'balance', credit: difference > 0 ? 'balance' : 'shipping', amount: Math.abs(difference) }]
    })
    await book(trx, bookings)
    return { ok: true, corrections: bookings.filter(({ kind }) => kind === 'correction').length }
  })
}

const sumOf = (lines: readonly Matched[], what: 'billed' | 'expected'): number => lines.reduce((sum, line) => sum + (line[what] ?? 0), 0)

async function matchInvoice(gharry: Gharry, carrier: string, content: Buffer): Promise<Answer<{ lines: readonly Matched[]; problems: readonly { line: number; sentence: string }[] }>> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world?.carriers.some(({ id }) => id === carrier)) return refuse('unknown-carrier', `There is no carrier "${carrier}".`)
  const sheet = await readSheet(content, invoiceColumns, ['tracking number', 'amount'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  const problems: { line: number; sentence: string }[] = []
  const rows = sheet.rows.flatMap(({ line, cells }) => {
    const trackingNumber = cleanTrackingNumber(cells['tracking number'] ?? '')
    const billed = parseAmount((cells.amount ?? '').replace(/\s*(€|EUR)$/i, ''), world.rates.home)
    if (!trackingNumber) problems.push({ line, sentence: `"${cells['tracking number'] ?? ''}" is no tracking number.` })
    if (billed === null) problems.push({ line, sentence: `"${cells.amount ?? ''}" is no amount such as 4.90.` })
    return trackingNumber && billed !== null ? [{ line, trackingNumber, billed, weight: parseWeight(cells.weight ?? '', 'kg'), description: (cells.description ?? '').trim() }] : []
  })
  const found = await labelsByNumbers(gharry.db, carrier, rows.map(({ trackingNumber }) => trackingNumber))
  const parcels = await parcelsOfLabels(gharry.db, [...new Set([...found.values()].map(({ label }) => label.id))])
  const returned = await labelsByReturn(gharry.db, carrier, rows.flatMap(({ trackingNumber }) => (found.has(trackingNumber) ? [] : [trackingNumber])))
  const seen = new Set<number>()
  const lines = rows.map(({ line, trackingNumber, billed, weight, description }): Matched => {
    const match = found.get(trackingNumber)
    const back = match ? undefined : returned.get(trackingNumber)
    if (back) return { line, trackingNumber, label: back, billed, expected: null, what: ['the return label was used', description].filter(Boolean).join('; ') }
    if (!match) return { line, trackingNumber, label: null, billed, expected: null, what: 'we bought no label with this number' }
    const { label, position } = match
    // A shipment is charged once: what stands on its first line is held to the whole, the others to nothing.
    const expected = label.state === 'voided' ? (billed < 0 ? -(label.charged ?? 0) : 0) : seen.has(label.id) ? 0 : (label.charged ?? 0)
    seen.add(label.id)
    const own = parcels.get(label.id)?.find((parcel) => parcel.position === position)
    const heavier = weight !== null && own && weight !== own.weight ? `weighed ${formatWeight(weight)}, declared ${formatWeight(own.weight)}` : ''
    const why = [heavier, description].filter(Boolean).join('; ')
    return { line, trackingNumber, label, billed, expected, what: billed === expected ? 'as charged' : why || (label.state === 'voided' && billed > 0 ? 'a voided label is billed' : `${euros(Math.abs(billed - expected))} ${billed > expected ? 'more' : 'less'} than charged`) }
  })
  return { ok: true, lines, problems }
}

async function correctionsByRule(gharry: Gharry): Promise<MoneyView['corrections']> {
  const rows = await correctedOrders(gharry.db, new Date(gharry.now().getTime() - 90 * 86_400_000).toISOString())
  const byRule = new Map<string, { rule: string; orders: number; amount: number }>()
  const editions = new Map<number, Rulebook | undefined>()
  for (const { order_id, amount } of rows.slice(0, 2000)) {
    const decided = await decisionOf(gharry.db, order_id)
    const by = decided?.outcome.trail.decisions.find(({ decision }) => decision === 'picks')?.by
    if (decided && !editions.has(decided.edition)) editions.set(decided.edition, (await editionNumbered(gharry.db, decided.edition))?.rulebook)
    const rulebook = decided && editions.get(decided.edition)
    const rule = by?.kind === 'rule' ? (rulebook?.rules.find(({ id }) => id === by.rule)?.name ?? by.rule) : by?.kind === 'pin' ? 'pinned by hand' : 'no rule'
    const sum = byRule.get(rule) ?? { rule, orders: 0, amount: 0 }
    byRule.set(rule, { rule, orders: sum.orders + 1, amount: sum.amount + Number(amount) })
  }
  return [...byRule.values()].sort((a, b) => b.amount - a.amount)
}

