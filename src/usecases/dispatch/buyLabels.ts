import { homeCurrency } from '../shared/homeCurrency'
import type { BoughtLabel, CallFailure, LabelRequest } from '@/adapters'
import { cleanTrackingNumber } from '@/core/tracking'
import { formatMoney, money, toHome } from '@/core/units'
import {
  addLabelPapers,
  addLedger,
  fromJson,
  moveLabel,
  type OrderRow,
  orderRows,
  putBack,
  putOnBoard,
  setShipmentState,
  writeBought,
  writeLog,
  type Database,
  type LabelPaper,
  type LabelRow,
  setProblem,
} from '@/data'
import { keepPapers } from './drawnPapers'
import type { Purchase, PurchaseBook } from './purchaseBook'
import { earlyNews } from '../tracking/earlyNews'
import { takeNews } from '../tracking/followParcels'
import type { Application } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'
import { announce } from '../open/announce'
import { queueHandOvers } from './handOver'
import { tellTheWorld } from '../tracking/tellTheWorld'

/**
 * Buys one queued label that the worker holds the lease of. The same key goes out at every try, so it is bought once.
 */
export async function buyLabel(gharry: Application, label: LabelRow, record: PurchaseBook): Promise<void> {
  const carrier = await gharry.carrier(label.carrier, { account: label.account, location: label.location })
  if (!carrier) return fail(gharry, label, `The carrier "${label.carrier}" has no connection.`)
  const result = await carrier.buy(fromJson<LabelRequest>(label.request), label.key)
  if (!result.ok)
    return result.kind === 'refused' ? fail(gharry, label, result.sentence) : tryLater(gharry, label, result)
  const parcels = result.body.parcels.map((parcel) => ({
    ...parcel,
    trackingNumber: cleanTrackingNumber(parcel.trackingNumber) ?? '',
    ...(parcel.returnNumber ? { returnNumber: cleanTrackingNumber(parcel.returnNumber) ?? '' } : {}),
  }))
  const request = fromJson<LabelRequest>(label.request)
  const wanted = request.parcels.length
  if (
    parcels.length !== wanted ||
    parcels.some((parcel) => parcel.trackingNumber === '' || (request.returnLabel && !parcel.returnNumber))
  )
    return tryLater(gharry, label, {
      ok: false,
      kind: 'garbled answer',
      sentence: `It did not give one tracking number for each of ${wanted} ${wanted === 1 ? 'parcel' : 'parcels'}.`,
      retryAfter: 60,
    })
  const papers = await keepPapers(gharry, label.id, parcels)
  await record({ label, parcels, papers, charged: result.body.charged })
}

/**
 * Writes purchases and all that follows from them, in one transaction. Of one that somebody else has taken meanwhile
 * nothing is written.
 */
export async function recordPurchases(
  gharry: Application,
  trx: Database,
  purchases: readonly Purchase[],
  inForce: InForce | null,
): Promise<void> {
  const now = gharry.now().toISOString()
  const all = purchases.map((purchase): Recorded => ({
    ...purchase,
    // What was quoted had a rate, so this one has; should it have gone meanwhile, the quoted amount stands until the
    // invoice comes.
    charged: (inForce && toHome(purchase.charged, inForce.ready.world.rates)) ?? purchase.label.quoted,
  }))
  const written = await writeBought(trx, all, now)
  const mine = all.filter(({ label }) => written.has(label.id))
  if (mine.length === 0) return
  const orderIds = mine.map(({ label }) => label.orderId)
  await setShipmentState(trx, orderIds, 'labelled')
  const orders = new Map((await orderRows(trx, orderIds)).map((row) => [row.id, row]))
  const day = await sellersDay(gharry, trx)
  const home = await homeCurrency(trx)
  await addLabelPapers(
    trx,
    mine.flatMap(({ papers }) => papers),
  )
  await addLedger(
    trx,
    mine.map(({ label: { id, carrier, service, zone }, charged }) => ({
      ...{ labelId: id, kind: 'buy' as const, at: now, day, carrier, service, zone, amount: charged },
    })),
  )
  await writeLog(
    trx,
    mine.map((one) => ({ order: one.label.orderId, at: now, author: 'Gharry', sentence: boughtSentence(one, home) })),
  )
  const labels = mine.map(({ label }) => label)
  const shipped = labels.map(({ id, orderId }) => ({ label: id, order: orders.get(orderId)! }))
  await tellTheWorld(gharry, trx, 'bought', shipped)
  await queueHandOvers(gharry, trx, labels)
  await putOnBoard(
    trx,
    labels.map(({ id }) => id),
  )
  await announce(
    trx,
    gharry.now(),
    mine.map((one) => ({ type: 'label.bought', data: announced(one, orders.get(one.label.orderId)!, home) })),
  )
  await takeEarlyNews(gharry, trx, mine)
}

/** A purchase as it stands in the books; `charged` in home minor units. */
interface Recorded {
  readonly label: LabelRow
  readonly parcels: BoughtLabel['parcels']
  readonly papers: readonly LabelPaper[]
  readonly charged: number
}

function boughtSentence({ label, parcels, charged }: Recorded, home: string): string {
  const more = charged === label.quoted ? '' : ` (${formatMoney(money(label.quoted, home))} was quoted)`
  const numbers = parcels.map(({ trackingNumber }) => trackingNumber).join(', ')
  return `Label bought: ${numbers} for ${formatMoney(money(charged, home))}${more}`
}

const announced = (
  { label, parcels, charged }: Recorded,
  { id, number }: Pick<OrderRow, 'id' | 'number'>,
  currency: string,
): object => ({
  ...{ id: label.id, order: { id, number }, carrier: label.carrier, service: label.service },
  ...{ charged, currency, trackingNumbers: parcels.map(({ trackingNumber }) => trackingNumber) },
})

/** The carrier may have told of its parcels before the purchase was written here. */
async function takeEarlyNews(gharry: Application, trx: Database, mine: readonly Recorded[]): Promise<void> {
  for (const carrier of new Set(mine.map(({ label }) => label.carrier))) {
    const numbers = mine
      .filter(({ label }) => label.carrier === carrier)
      .flatMap(({ parcels }) => parcels.map(({ trackingNumber }) => trackingNumber))
    const early = await earlyNews(trx, carrier, numbers)
    if (early.length > 0) await takeNews(gharry, trx, carrier, early)
  }
}

/**
 * It may have been bought without our hearing of it, so the label stays queued under its key until the carrier
 * answers.
 */
async function tryLater(gharry: Application, label: LabelRow, failure: CallFailure): Promise<void> {
  gharry.log.warn({ label: label.id, carrier: label.carrier, kind: failure.kind }, 'label not bought yet')
  await putBack(
    gharry.db,
    'labels',
    label,
    gharry.now(),
    `${failure.sentence} It is asked again with the same key, so nothing is bought twice.`,
    failure.retryAfter,
  )
}

async function fail(gharry: Application, label: LabelRow, sentence: string): Promise<void> {
  const inForce = await rulebookInForce(gharry)
  await gharry.db.transaction(async (trx) => {
    if (
      !(await moveLabel(
        trx,
        label.id,
        ['queued'],
        { state: 'failed', problem: sentence, leaseUntil: null },
        label.leaseOwner,
      ))
    )
      return
    await setShipmentState(trx, [label.orderId], 'attention')
    if (inForce) await routeAgain(gharry, trx, [label.orderId], inForce)
    // What the carrier said matters more than what the rules think of the order.
    await setProblem(trx, label.orderId, `The carrier refused the label: ${sentence}`, 'The carrier refused it')
    await writeLog(trx, [
      {
        order: label.orderId,
        at: gharry.now().toISOString(),
        author: 'Gharry',
        sentence: `The carrier refused the label: ${sentence}`,
      },
    ])
  })
}
