import { randomUUID } from 'node:crypto'
import { money } from '@/core/units'
import type { Rulebook } from '@/core/rulebook/language'
import {
  addAudit,
  accountSums,
  addTopUp,
  balanceOf,
  book,
  carrierAccounts,
  correctedOrders,
  dailyCeiling,
  decisionOf,
  editionNumbered,
  bookingsPage,
  countBookings,
  countInvoices,
  invoicesPage,
  newestWorld,
  unsettledTopUp,
  setCarrierAccount,
  setDailyCeiling,
  settleTopUp,
  spentOn,
  toppedUpOn,
  topUpByKey,
  type Booking,
  type CarrierAccount,
  type InvoiceRow,
  type TopUpRow,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { homeAmount, homeCurrency } from '../shared/homeCurrency'
import { sellersDay } from '../shared/sellersDay'

/** A number for each of the two lists that are shown page by page. */
interface Paged {
  readonly bookings: number
  readonly invoices: number
}
const pageSizes: Paged = { bookings: 100, invoices: 50 }

export interface MoneyView {
  readonly carriers: readonly (Omit<CarrierAccount, 'topUpBy'> & {
    readonly name: string
    readonly topUpBy: number | null
    readonly balance: number
    readonly due: number
  })[]
  readonly ceiling: number | null
  readonly spentToday: number
  /** A page of the bookings and one of the invoices, the newest first, of so many. */
  readonly bookings: readonly (Booking & { readonly id: number; readonly number: string | null })[]
  readonly invoices: readonly InvoiceRow[]
  readonly totals: Paged
  readonly pageSizes: Paged
  /** What carriers' corrections of the last 90 days cost, by the rule that chose the service. */
  readonly corrections: readonly { readonly rule: string; readonly orders: number; readonly amount: number }[]
}

/** Balances at the carriers, the ceiling of the day, and the bookings and invoices after the newest that are skipped. */
export async function showMoney(gharry: Application, skip: Partial<Paged> = {}): Promise<MoneyView> {
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
      topUpBy: kept.get(id)?.topUpBy ?? null,
      problem: kept.get(id)?.problem ?? null,
      creditLimit: kept.get(id)?.creditLimit ?? null,
      balance: sum(id, 'balance'),
      due: sum(id, 'refunds due'),
    })),
    ceiling: await dailyCeiling(db),
    spentToday: await spentOn(db, await sellersDay(gharry, db)),
    bookings: await bookingsPage(db, pageSizes.bookings, skip.bookings ?? 0),
    invoices: await invoicesPage(db, pageSizes.invoices, skip.invoices ?? 0),
    totals: { bookings: await countBookings(db), invoices: await countInvoices(db) },
    pageSizes,
    corrections: await correctionsByRule(gharry),
  }
}

/** More than this is a mistake, whoever types it. */
export const maxAmount = 100_000_000
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
  if (!isAmount(amount))
    return refuse('bad-amount', `Enter an amount above 0, at most ${await homeAmount(gharry.db, maxAmount)}.`)
  if (!(await gharry.carrier(carrier))) return refuse('unknown-carrier', `The carrier "${carrier}" has no connection.`)
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
        `${await homeAmount(trx, open.amount)} are on their way to this carrier since ${open.askedAt.slice(0, 16).replace('T', ' ')} UTC, and it has not answered yet. It is asked again automatically; wait for the answer.`,
      )
    await addTopUp(trx, {
      key,
      carrier,
      amount,
      author,
      askedAt: gharry.now().toISOString(),
      day: await sellersDay(gharry, trx),
    })
    await addAudit(
      trx,
      { action: 'top-up asked for', about: `carrier ${carrier}`, after: { amount } },
      gharry.now().toISOString(),
    )
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
  const result = await (await gharry.carrier(carrier))?.topUp(money(amount, await homeCurrency(gharry.db)), key)
  const now = gharry.now().toISOString()
  if (!result) return refuse('unknown-carrier', `The carrier "${carrier}" has no connection.`)
  if (!result.ok && result.kind !== 'refused') {
    await setCarrierAccount(gharry.db, {
      carrier,
      problem: `A top-up of ${await homeAmount(gharry.db, amount)} is under way: ${result.sentence} It is asked again automatically.`,
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
        settledAt: now,
        problem: result.ok ? null : result.sentence,
      }))
    )
      return
    if (result.ok)
      await bookTopUp(trx, { key, carrier, amount, author, at: now, day: await sellersDay(gharry, trx), note: '' })
    await setCarrierAccount(trx, {
      carrier,
      problem: result.ok
        ? null
        : `The carrier refused a top-up of ${await homeAmount(gharry.db, amount)}: ${result.sentence}`,
    })
  })
  return result.ok ? { ok: true } : refuse('not-topped-up', `${result.sentence} Nothing was sent.`)
}

const bookTopUp = (
  trx: Application['db'],
  { key, ...booking }: Pick<Booking, 'key' | 'carrier' | 'amount' | 'author' | 'at' | 'day' | 'note'>,
): Promise<void> =>
  book(trx, [{ ...booking, key: `top-up-${key}`, kind: 'top-up', debit: 'balance', credit: 'bank', labelId: null }])

/** Books a top-up that the carrier has and that is unknown here; false when it is known. */
export async function takeFoundTopUp(
  gharry: Application,
  found: { readonly key: string; readonly carrier: string; readonly amount: number; readonly at: string },
): Promise<boolean> {
  return gharry.db.transaction(async (trx) => {
    if (await topUpByKey(trx, found.key)) return false
    const { key, carrier, amount, at } = found
    const [author, day] = [gharry.settings.author, await sellersDay(gharry, trx)]
    await addTopUp(trx, { key, carrier, amount, author, askedAt: at, day })
    await settleTopUp(trx, key, { state: 'done', settledAt: gharry.now().toISOString(), problem: null })
    const note = 'Found again at the carrier after the books were restored'
    await bookTopUp(trx, { key, carrier, amount, author, at, day, note })
    return true
  })
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
  for (const { carrier, mark, topUpBy } of await carrierAccounts(gharry.db)) {
    if (
      mark === null ||
      topUpBy === null ||
      (await balanceOf(gharry.db, carrier)) >= mark ||
      (await unsettledTopUp(gharry.db, carrier)).length > 0
    )
      continue
    if ((await toppedUpOn(gharry.db, carrier, day, itself)) + topUpBy > maxByItself * topUpBy) {
      await setCarrierAccount(gharry.db, {
        carrier,
        problem: `It was topped up ${maxByItself} times today and is below its mark again: look at what was bought, and top up by hand.`,
      })
      continue
    }
    const answer = await topUp(gharry, carrier, topUpBy, `mark-${randomUUID()}`, itself)
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
    return refuse(
      'bad-amount',
      `The amount to top up by must be above 0, and at most ${await homeAmount(gharry.db, maxAmount)}.`,
    )
  await setCarrierAccount(gharry.db, { carrier, mark, topUpBy: by, problem: null })
  return { ok: true }
}

/** How far a carrier lets the balance go below nothing; null for not at all. */
export async function setCredit(gharry: Application, carrier: string, limit: number | null): Promise<Answer<object>> {
  if (limit !== null && (limit < 0 || limit > maxAmount))
    return refuse('bad-amount', `The credit limit is at most ${await homeAmount(gharry.db, maxAmount)}, or empty.`)
  await setCarrierAccount(gharry.db, { carrier, creditLimit: limit })
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

async function correctionsByRule(gharry: Application): Promise<MoneyView['corrections']> {
  const rows = await correctedOrders(gharry.db, new Date(gharry.now().getTime() - 90 * 86_400_000).toISOString())
  const byRule = new Map<string, { rule: string; orders: number; amount: number }>()
  const editions = new Map<number, Rulebook | undefined>()
  for (const { orderId, amount } of rows.slice(0, 2000)) {
    const decided = await decisionOf(gharry.db, orderId)
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
