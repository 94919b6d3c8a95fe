import { channelKindOf, zoneOf } from '@/adapters'
import {
  afterQuiet,
  isOvertaken,
  isTold,
  type Language,
  languageOf,
  mediums,
  type Medium,
  mobileNumber,
  type NoticePlan,
  type NoticeStep,
  usualPlan,
} from '@/core/telling'
import type { Order } from '@/core/order'
import {
  addNotices,
  channelById,
  type ChannelRow,
  type Database,
  documentBy,
  dropNotices,
  type NewNotice,
  orderRow,
  ordersById,
  waitingNotices,
  type OrderRow,
} from '@/data'
import type { Application } from '../shared/application'
import { onceIn } from '../shared/onceIn'

/** How customers are told: as it was published, else the usual way. */
export async function noticePlan(db: Database): Promise<NoticePlan> {
  const published = (await documentBy<NoticePlan>(db, 'notices'))?.published
  return published ? { ...usualPlan, ...published, steps: { ...usualPlan.steps, ...published.steps } } : usualPlan
}

/** Why buyers of a channel are not written to, by its kind or its settings; empty when they are. */
export function whyNobody(channel: Pick<ChannelRow, 'kind' | 'mailBuyers' | 'name'> | undefined): string {
  if (channel === undefined) return ''
  if (channelKindOf(channel.kind)?.can.mail === false) return `${channel.name} forbids that its buyers are written to.`
  return channel.mailBuyers ? '' : `The settings of ${channel.name} say that its buyers are not written to.`
}

/** A channel, read once in a transaction. */
export const channelIn = (trx: Database, id: string): Promise<ChannelRow | undefined> =>
  onceIn(trx, `channel ${id}`, () => channelById(trx, id))

/** Who a customer is to notices: language, time zone, and where they are reached. */
export interface Reader {
  readonly language: Language
  readonly zone: string
  readonly mail: string
  /** E.164; empty where there is none that takes text messages. */
  readonly phone: string
}

export function readerOf(order: Order, channel: ChannelRow | undefined): Reader {
  const { shipTo, buyer } = order
  return {
    language: languageOf(channel?.language ?? '', shipTo.country, shipTo.postcode),
    zone: zoneOf(shipTo.country, shipTo.city),
    mail: buyer.email,
    phone: mobileNumber(buyer.phone, shipTo.country) ?? '',
  }
}

/** A step of a shipment that a customer may want to hear of. */
export interface Told {
  readonly orderId: number
  readonly labelId: number
  readonly step: NoticeStep
  /** Which parcel; 0 is all of them. */
  readonly position?: number
  readonly day?: string
  readonly place?: string
  /** The return that it is about. */
  readonly returnId?: number
}

/** What the caller has read of the order already, in the same transaction. */
interface KnownOrder {
  readonly row: OrderRow
  readonly order: Order
}

/** Whether a customer is told of a step by a medium. */
function isWanted(plan: NoticePlan, step: NoticeStep, medium: Medium, order: OrderRow, reader: Reader): boolean {
  const to = { channel: order.channelId, country: order.country, language: reader.language }
  const set = isTold(plan, step, medium, to)
  if (medium === 'text') return order.textMessage && reader.phone !== '' && set
  return order.notice && reader.mail !== '' && (set || order.toldSteps.split(',').includes(step))
}

/** The key under which a step is said once; that of the label is as it always was. */
function keyOf({ labelId, step, position = 0, day = '', returnId }: Told, medium: Medium): string {
  const first = step === 'label made' || step === 'number changed'
  const rest = first
    ? ''
    : `-${step.replaceAll(' ', '-')}-${position}${step === 'delayed' ? `-${day}` : ''}${returnId === undefined ? '' : `-r${returnId}`}`
  return `${medium === 'mail' ? 'notice' : 'text'}-${labelId}${rest}`
}

/**
 * Queues what a customer is told of a step, in the caller's transaction: by the mediums that the notices are set to,
 * after their waiting time, not in the customer's night. What it overtakes and has not gone out is dropped.
 */
export async function tellCustomer(gharry: Application, trx: Database, told: Told, known?: KnownOrder): Promise<void> {
  const { orderId, labelId, step, position = 0, day = '', place = '', returnId = null } = told
  const order = known?.row ?? (await orderRow(trx, orderId))
  if (!order) return
  const waiting = await waitingNotices(trx, orderId)
  const overtaken = waiting.filter(
    (row) =>
      row.labelId === labelId && row.position === position && row.returnId === returnId && isOvertaken(row.step, step),
  )
  if (overtaken.length > 0)
    await dropNotices(
      trx,
      overtaken.map(({ id }) => id),
      `Not said any more: ${step}.`,
    )
  const plan = await onceIn(trx, 'notice plan', () => noticePlan(trx))
  const { mail, text } = plan.steps[step]
  if (!mail.on && !text.on && !order.toldSteps.split(',').includes(step)) return
  const stored = known?.order ?? (await ordersById(trx, [orderId]))[0]?.order
  const channel = await channelIn(trx, order.channelId)
  if (!stored || whyNobody(channel) !== '') return
  const reader = readerOf(stored, channel)
  const now = gharry.now()
  const wait = Math.max(gharry.settings.noticeWaitSeconds, plan.waits * 60)
  const from = afterQuiet(new Date(now.getTime() + wait * 1000).toISOString(), reader.zone, plan.quiet)
  const rows = mediums.flatMap((medium): NewNotice[] => {
    if (!isWanted(plan, step, medium, order, reader)) return []
    const recipient = medium === 'mail' ? reader.mail : reader.phone
    return [{ orderId, labelId, recipient, key: keyOf(told, medium), step, medium, position, day, place, returnId }]
  })
  await addNotices(trx, rows, from, now.toISOString())
}
