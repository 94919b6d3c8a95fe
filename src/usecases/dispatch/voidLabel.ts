import { homeAmount } from '../shared/homeCurrency'
import type { CarrierClient } from '@/adapters'
import {
  addLedger,
  addPosts,
  dropUnsent,
  labelById,
  membersOf,
  moveLabel,
  orderRows,
  type Database,
  changePickup,
  pickupOf,
  ordersById,
  putBack,
  putOnBoard,
  releaseWaiting,
  setFlag,
  setShipmentState,
  setState,
  writeLog,
  type LabelRow,
} from '@/data'
import { announce } from '../open/announce'
import { takeOffVoided } from './door/scanAtDoor'
import { takeBackHandOvers } from './handOver'
import { recordOwnNumbersIn, replacementOf } from '../tracking/ownNumbers'
import { postKey } from '../tracking/tellTheWorld'
import { expectRefund } from '../ledger/refunds'
import { openShipment } from '../desk/combineOrders'
import { refuse, type Answer, type Application } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'
import { sellersDay } from '../shared/sellersDay'

/**
 * Asks for a label to be voided: from now on nothing more goes out for it, and the worker tells the carrier. Nothing is
 * taken back in the channel before the carrier has agreed: should it refuse, the parcel travels, and all that waited
 * goes out.
 */
export async function requestVoid(gharry: Application, labelId: number): Promise<Answer<object>> {
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const label = await labelById(trx, labelId)
    if (!label) return refuse('unknown-label', 'There is no such label.')
    if (label.state !== 'bought') return refuse('not-bought', `The label is ${label.state}: there is nothing to void.`)
    const hasLeft = label.status !== null && label.status !== 'announced' && !(await isOnShelf(trx, label.id))
    if (label.deliveredAt || hasLeft)
      return refuse(
        'on-its-way',
        'The parcel is on its way already: a label can be voided until the carrier has collected it.',
      )
    const now = gharry.now().toISOString()
    await moveLabel(trx, labelId, ['bought'], {
      state: 'voiding',
      attempts: 0,
      nextAt: now,
      problem: null,
      leaseUntil: null,
    })
    await takeOffVoided(gharry, trx, label)
    await writeLog(trx, [
      {
        order: label.orderId,
        at: now,
        author: gharry.settings.author,
        sentence: `Asked to void the label ${label.trackingNumber ?? ''}`,
      },
    ])
    return { ok: true }
  })
}

/** What lies on one's own shelf has not left. */
const isOnShelf = async (trx: Database, label: number): Promise<boolean> => {
  const line = await pickupOf(trx, label)
  return line !== undefined && line.handedAt === null
}

/** Nothing was bought for a shipment that left under numbers of somebody else: there is nobody to ask. */
const ownLabels: Pick<CarrierClient, 'voidLabel'> = { voidLabel: () => Promise.resolve({ ok: true, body: null }) }

/** Voids one label at the carrier; the order returns to the line, and the refund is pending until it comes. */
export async function voidLabel(gharry: Application, label: LabelRow): Promise<void> {
  const carrier = label.own
    ? ownLabels
    : await gharry.carrier(label.carrier, { account: label.account, location: label.location })
  if (!carrier) return putBack(gharry.db, 'labels', label, gharry.now(), 'The carrier has no connection.')
  const result = await carrier.voidLabel(label.trackingNumber ?? '', `void-${label.key}`)
  if (!result.ok && result.kind !== 'refused')
    return putBack(gharry.db, 'labels', label, gharry.now(), result.sentence, result.retryAfter)
  if (!result.ok) return notVoided(gharry, label, result.sentence)
  const inForce = await rulebookInForce(gharry)
  await gharry.db.transaction(async (trx) => {
    if (!(await ended(trx, label, { state: 'voided', voidedAt: gharry.now().toISOString(), problem: null }))) return
    await takeBackAll(gharry, trx, label)
    if (!label.own) await expectMoneyBack(gharry, trx, label)
    await orderAfter(gharry, trx, label, inForce)
    await log(
      gharry,
      trx,
      label,
      label.own
        ? `The number ${label.trackingNumber ?? ''} was taken back`
        : `Label ${label.trackingNumber ?? ''} voided; a refund of ${await homeAmount(trx, label.charged ?? 0)} is pending`,
    )
  })
  await releaseWaiting(gharry.db, 'labels', { carrier: label.carrier }, gharry.now())
}

/** Ends the voiding of a label; false when somebody else has. */
const ended = (trx: Database, label: LabelRow, change: Partial<LabelRow>): Promise<boolean> =>
  moveLabel(trx, label.id, ['voiding'], { ...change, leaseUntil: null }, label.leaseOwner)

const log = (gharry: Application, trx: Database, { orderId }: LabelRow, sentence: string): Promise<void> =>
  writeLog(trx, [{ order: orderId, at: gharry.now().toISOString(), author: 'Gharry', sentence }])

/** The carrier does not void it: the parcel travels. */
async function notVoided(gharry: Application, label: LabelRow, why: string): Promise<void> {
  // A carrier that forgets what it has done may refuse what it did at an earlier try.
  const doubt = label.attempts > 0 ? ' An earlier try had no answer: ask the carrier whether it is voided.' : ''
  await gharry.db.transaction(async (trx) => {
    if (!(await ended(trx, label, { state: 'bought', problem: `The carrier does not void it: ${why}${doubt}` }))) return
    await log(gharry, trx, label, `The carrier does not void the label: ${why}${doubt}`)
    const other = replacementOf(label)
    if (other)
      await setFlag(
        trx,
        label.orderId,
        `It left with ${other.by} under ${other.numbers.join(', ')}, and the label bought here cannot be voided: ${why}`,
      )
  })
}

/** Whoever was told of the label is told that it is none any more; what waited to be told is not. */
async function takeBackAll(gharry: Application, trx: Database, label: LabelRow): Promise<void> {
  const now = gharry.now().toISOString()
  await changePickup(trx, label.id, { putBackAt: now })
  await putOnBoard(trx, [label.id])
  const { trackingNumber } = label
  await announce(trx, gharry.now(), [
    { type: 'label.voided', data: { id: label.id, order: { id: label.orderId }, trackingNumber } },
  ])
  const { sentPosts } = await dropUnsent(trx, label.id)
  // The partner knows: it left under a number of its own.
  if (!replacementOf(label)) await takeBackHandOvers(gharry, trx, label.id)
  await addPosts(
    trx,
    sentPosts.map(({ parcel, orderId, channelId }) => ({
      kind: 'withdraw',
      orderId,
      labelId: label.id,
      parcel,
      channelId,
      key: postKey('withdraw', label.id, parcel, orderId === label.orderId ? null : orderId),
    })),
    now,
  )
}

async function expectMoneyBack(gharry: Application, trx: Database, label: LabelRow): Promise<void> {
  const { id: labelId, carrier, service, zone, charged } = label
  const [at, day] = [gharry.now().toISOString(), await sellersDay(gharry, trx)]
  await addLedger(trx, [{ labelId, kind: 'refund pending', at, day, carrier, service, zone, amount: -(charged ?? 0) }])
  await expectRefund(gharry, trx, label)
}

/** Where the order of a voided label goes: on under other numbers, out with its cancellation, or back to the rules. */
async function orderAfter(
  gharry: Application,
  trx: Database,
  label: LabelRow,
  inForce: Awaited<ReturnType<typeof rulebookInForce>>,
): Promise<void> {
  await setFlag(trx, label.orderId, null)
  const other = replacementOf(label)
  if (other) {
    await setShipmentState(trx, [label.orderId], 'attention')
    const recorded = await recordOwnNumbersIn({ ...gharry, db: trx }, trx, label.orderId, other, other.by)
    if (!recorded.ok) await setFlag(trx, label.orderId, `It left with ${other.by}: ${recorded.sentence}`)
    return
  }
  const [stored] = await ordersById(trx, [label.orderId])
  if (stored?.order.status === 'cancelled') return setState(trx, [label.orderId], 'cancelled')
  if (!inForce) return
  // A shipment of several was made of what its orders were: when one of them changed meanwhile, each goes by itself.
  const changed = (await orderRows(trx, await membersOf(trx, label.orderId))).some(({ flag }) => flag !== null)
  if (changed) {
    const why = 'An order of it changed in the channel, and the label was voided'
    await openShipment(trx, label.orderId, 'Gharry', gharry.now(), inForce, why)
    return
  }
  await setShipmentState(trx, [label.orderId], 'attention')
  await routeAgain(gharry, trx, [label.orderId], inForce)
}
