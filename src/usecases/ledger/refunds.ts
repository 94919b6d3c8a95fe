import { csvFile, type RefundStanding, xlsxFile } from '@/adapters'
import { dayOf, dayText } from '@/core/calendar'
import { toHome } from '@/core/units'
import { isCounter, type World } from '@/core/world'
import {
  addLedger,
  addRefund,
  book,
  type Database,
  type LabelRow,
  labelById,
  markRefundsAsked,
  moveRefund,
  pendingByAge,
  type RefundLine,
  refundOf,
  refundsIn,
  refundsToAsk,
  type UnseenLabel,
  unseenLabels,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../shared/application'
import { carrierCan } from '../shared/carrierCan'
import { currentWorld } from '../shared/changeWorld'
import { sellersDay } from '../shared/sellersDay'
import { decimalAmount } from './decimalAmount'

/** Days after which a refund is due where the carrier has promised nothing. */
const usualDays = 14
/** A carrier that was asked in vain is asked again after so many days. */
const againAfterDays = 2
const dayMs = 86_400_000

const daysOf = (world: World, carrier: string): number =>
  world.carriers.find(({ id }) => id === carrier)?.refundDays ?? usualDays

/** Writes that a refund is due for a label that its carrier has taken back, in the transaction of the void. */
export async function expectRefund(gharry: Application, trx: Database, label: LabelRow): Promise<void> {
  const { world } = await currentWorld(trx)
  const now = gharry.now()
  const dueOn = dayText(dayOf(await sellersDay(gharry, trx)) + daysOf(world, label.carrier))
  const byMessage = (await carrierCan(trx, label.carrier, label.location)).refunds
  await addRefund(trx, {
    ...{ labelId: label.id, carrier: label.carrier, amount: label.charged ?? 0, voidedAt: now.toISOString(), dueOn },
    nextAsk: byMessage ? `${dueOn}T06:00:00.000Z` : null,
  })
}

/** Asks carriers for refunds that are due: what is granted is booked, what is refused is for a person to settle. */
export async function askForRefunds(gharry: Application): Promise<void> {
  const { world } = await currentWorld(gharry.db)
  for (const line of await refundsToAsk(gharry.db, gharry.now().toISOString(), 100)) {
    const { carrier, account, location, trackingNumber, labelId, asked } = line
    const client = await gharry.carrier(carrier, { account, location })
    const said = await client?.refund?.(trackingNumber, `refund-${labelId}-${asked + 1}`)
    const at = gharry.now()
    const again = new Date(at.getTime() + againAfterDays * dayMs).toISOString()
    if (!said) {
      await markRefundsAsked(gharry.db, [labelId], at.toISOString(), { nextAsk: null })
      continue
    }
    // Not reached is not asked: it is tried again with the next look.
    if (!said.ok && said.kind !== 'refused') continue
    const standing: RefundStanding = said.ok ? said.body : { state: 'refused', amount: null, message: said.sentence }
    if (standing.state === 'granted')
      await grant(gharry, line, (standing.amount && toHome(standing.amount, world.rates)) ?? line.amount, '', 'Gharry')
    else
      await markRefundsAsked(gharry.db, [labelId], at.toISOString(), {
        nextAsk: standing.state === 'pending' ? again : null,
        note: standing.message,
      })
  }
}

/** Books what was granted; what is missing of it was spent after all. False when somebody else has settled it. */
async function grant(
  gharry: Application,
  { labelId, amount, orderId, trackingNumber }: RefundLine,
  granted: number,
  note: string,
  author: string,
): Promise<boolean> {
  const at = gharry.now().toISOString()
  const paid = Math.min(granted, amount)
  return gharry.db.transaction(async (trx) => {
    const state = paid > 0 ? 'granted' : 'refused'
    if (!(await moveRefund(trx, labelId, 'pending', { state, settledAt: at, granted: paid, nextAsk: null, note })))
      return false
    const label = (await labelById(trx, labelId))!
    const { carrier, service, zone } = label
    const day = await sellersDay(gharry, trx)
    await book(trx, [
      {
        ...{ key: `refund-${labelId}`, at, day, kind: 'refund', carrier, labelId, author },
        ...{ debit: 'balance', credit: 'refunds due', amount: paid, note },
      },
    ])
    if (paid < amount)
      await addLedger(trx, [
        { ...{ labelId, kind: 'refund refused', at, day, carrier, service, zone }, amount: amount - paid },
      ])
    const sentence = paid > 0 ? `Refund of ${trackingNumber} granted` : `Refund of ${trackingNumber} not granted`
    await writeLog(trx, [{ order: orderId, at, author, sentence: note === '' ? sentence : `${sentence}: ${note}` }])
    return true
  })
}

/** A person says what came of a refund: what was granted, or nothing. */
export async function settleRefund(
  gharry: Application,
  { label, granted, note }: { readonly label: number; readonly granted: number; readonly note: string },
): Promise<Answer<object>> {
  const line = await refundOf(gharry.db, label)
  if (!line) return refuse('missing', 'There is no such refund.')
  if (granted > line.amount)
    return refuse('bad-amount', 'More was granted than the label cost: look at the amount again.')
  return (await grant(gharry, line, granted, note.trim().slice(0, 300), gharry.settings.author))
    ? { ok: true }
    : refuse('taken', 'This refund is settled already.')
}

/** A person has asked a carrier again, with the file: it is due again after some days. */
export async function markAsked(
  gharry: Application,
  labels: readonly number[],
): Promise<Answer<{ readonly asked: number }>> {
  const dueOn = dayText(dayOf(await sellersDay(gharry, gharry.db)) + againAfterDays)
  const asked = await markRefundsAsked(gharry.db, labels, gharry.now().toISOString(), { nextAsk: null, dueOn })
  return { ok: true, asked }
}

export interface RefundsView {
  readonly today: string
  readonly ages: Awaited<ReturnType<typeof pendingByAge>>
  readonly refunds: readonly RefundLine[]
  /** After how many days without a scan labels are offered for voiding. */
  readonly unseenDays: number
  readonly unseen: readonly UnseenLabel[]
}

const mostShown = 500
export const usualUnseenDays = 5

/** What carriers owe for labels that were voided, or what came of it; and labels that no carrier has scanned. */
export async function showRefunds(
  gharry: Application,
  asked: { readonly settled: boolean; readonly carrier?: string; readonly unseenDays?: number },
): Promise<RefundsView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const today = await sellersDay(gharry, db)
  const unseenDays = asked.unseenDays ?? usualUnseenDays
  return {
    ...{ today, unseenDays },
    ages: await pendingByAge(db, today),
    refunds: await refundsIn(db, asked.settled, asked.carrier, mostShown),
    unseen: (await unseenLabels(db, dayText(dayOf(today) - unseenDays), mostShown)).filter(
      ({ carrier }) => !isCounter(world, carrier),
    ),
  }
}

const columns = ['reference', 'tracking number', 'service', 'voided on', 'due on', 'amount', 'currency', 'asked before']

/** The file for a carrier: refunds that are due and did not come. Null when there are none. */
export async function refundFile(gharry: Application, carrier: string, format: 'csv' | 'xlsx'): Promise<Buffer | null> {
  const { world } = await currentWorld(gharry.db)
  const today = await sellersDay(gharry, gharry.db)
  const due = (await refundsIn(gharry.db, false, carrier, 10_000)).filter(({ dueOn }) => dueOn <= today)
  if (due.length === 0) return null
  const { home } = world.rates
  const nameOf = (id: string): string => world.services.find((service) => service.id === id)?.name ?? id
  const rows = due.map((line) => ({
    ...{ reference: line.number, 'tracking number': line.trackingNumber, service: nameOf(line.service) },
    ...{ 'voided on': line.voidedAt.slice(0, 10), 'due on': line.dueOn, 'asked before': String(line.asked) },
    ...{ amount: decimalAmount(line.amount, home), currency: home },
  }))
  return format === 'xlsx' ? xlsxFile('Refunds', columns, rows) : csvFile(columns, rows)
}
