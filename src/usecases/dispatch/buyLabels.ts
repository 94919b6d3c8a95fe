import { homeCurrency } from '../shared/homeCurrency'
import type { BoughtLabel, CallFailure, CarrierEvent, LabelRequest } from '@/adapters'
import { cleanTrackingNumber } from '@/core/tracking'
import { formatMoney, money, toHome } from '@/core/units'
import {
  addLabelPapers,
  addLedger,
  fromJson,
  moveLabel,
  numberParcels,
  orderRow,
  putBack,
  putOnBoard,
  releaseWaiting,
  setShipmentState,
  takeEarlyEvents,
  writeLog,
  type Database,
  type LabelPaper,
  type LabelRow,
  setProblem,
} from '@/data'
import { takeNews } from '../tracking/followParcels'
import type { Application } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'
import { announce } from '../open/announce'
import { queueHandOver } from './handOver'
import { tellTheWorld } from '../tracking/tellTheWorld'

/**
 * Buys one queued label that the worker holds the lease of. The same key goes out at every try, so it is bought once.
 */
export async function buyLabel(gharry: Application, label: LabelRow): Promise<void> {
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
  const inForce = await rulebookInForce(gharry)
  // What was quoted had a rate, so this one has; should it have gone meanwhile, the quoted amount stands until the
  // invoice comes.
  const charged = inForce ? (toHome(result.body.charged, inForce.ready.world.rates) ?? label.quoted) : label.quoted
  await gharry.db.transaction((trx) => recordPurchase(gharry, trx, label, parcels, charged))
  // It answers again: what else waits for it need not wait longer.
  await releaseWaiting(gharry.db, 'labels', { carrier: label.carrier }, gharry.now())
}

async function recordPurchase(
  gharry: Application,
  trx: Database,
  label: LabelRow,
  parcels: BoughtLabel['parcels'],
  charged: number,
): Promise<void> {
  const now = gharry.now().toISOString()
  const [first] = parcels
  const moved = await moveLabel(
    trx,
    label.id,
    ['queued'],
    {
      state: 'bought',
      trackingNumber: first!.trackingNumber,
      symbology: first!.symbology,
      routing: first!.routing,
      charged,
      boughtAt: now,
      status: 'announced',
      problem: null,
      leaseUntil: null,
      attempts: 0,
    },
    label.leaseOwner,
  )
  if (!moved) return
  await numberParcels(trx, label.id, parcels)
  await addLabelPapers(trx, papersIn(label.id, parcels))
  await setShipmentState(trx, label.orderId, 'labelled')
  await addLedger(trx, [
    {
      labelId: label.id,
      kind: 'buy',
      at: now,
      day: await sellersDay(gharry, trx),
      carrier: label.carrier,
      service: label.service,
      zone: label.zone,
      amount: charged,
    },
  ])
  const home = await homeCurrency(trx)
  const more = charged === label.quoted ? '' : ` (${formatMoney(money(label.quoted, home))} was quoted)`
  await writeLog(trx, [
    {
      order: label.orderId,
      at: now,
      author: 'Gharry',
      sentence: `Label bought: ${parcels.map(({ trackingNumber }) => trackingNumber).join(', ')} for ${formatMoney(money(charged, home))}${more}`,
    },
  ])
  const order = (await orderRow(trx, label.orderId))!
  await tellTheWorld(gharry, trx, label.id, order, 'bought')
  await queueHandOver(gharry, trx, label)
  await putOnBoard(trx, [label.id])
  await announce(trx, gharry.now(), [
    {
      type: 'label.bought',
      data: {
        ...{
          id: label.id,
          order: { id: order.id, number: order.number },
          carrier: label.carrier,
          service: label.service,
        },
        ...{ charged, currency: home, trackingNumbers: parcels.map(({ trackingNumber }) => trackingNumber) },
      },
    },
  ])
  // The carrier may have told of its parcels before the purchase was written here.
  const early = await takeEarlyEvents(
    trx,
    label.carrier,
    parcels.map(({ trackingNumber }) => trackingNumber),
  )
  if (early.length > 0)
    await takeNews(
      gharry,
      trx,
      label.carrier,
      early.map(({ remoteId, trackingNumber, at, status, place, text }) => ({
        id: remoteId,
        trackingNumber: trackingNumber,
        at,
        status: status as CarrierEvent['status'],
        place,
        text,
      })),
    )
}

/** The labels that the carrier drew, as they are kept. */
const papersIn = (labelId: number, parcels: BoughtLabel['parcels']): LabelPaper[] =>
  parcels.flatMap(({ document, returnDocument }, i) => [
    ...(document ? [{ labelId, position: i + 1, what: 'label' as const, ...document }] : []),
    ...(returnDocument ? [{ labelId, position: i + 1, what: 'return' as const, ...returnDocument }] : []),
  ])

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
    await setShipmentState(trx, label.orderId, 'attention')
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
