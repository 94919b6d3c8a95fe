import { channelKindOf, zoneOf } from '@/adapters'
import {
  afterQuiet,
  isOvertaken,
  isTold,
  type Language,
  languageOf,
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
  orderRow,
  ordersById,
  waitingNotices,
  type OrderRow,
} from '@/data'
import type { Application } from '../shared/application'

/** How customers are told: as it was published, else the usual way. */
export async function noticePlan(db: Database): Promise<NoticePlan> {
  const published = (await documentBy<NoticePlan>(db, 'notices'))?.published
  return published ? { ...usualPlan, ...published, steps: { ...usualPlan.steps, ...published.steps } } : usualPlan
}

/** Whether its kind and its settings let buyers be written to. */
export const mayBeWrittenTo = (channel: ChannelRow | undefined): boolean =>
  channel === undefined || (channel.mailBuyers && channelKindOf(channel.kind)?.can.mail !== false)

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
}

/** Why nobody is told of a step by a medium; null when somebody is. */
function whyNot(plan: NoticePlan, step: NoticeStep, medium: Medium, order: OrderRow, reader: Reader): string | null {
  const to = { channel: order.channelId, country: order.country, language: reader.language }
  if (medium === 'mail') {
    if (!order.notice || reader.mail === '') return 'no mail'
    return isTold(plan, step, 'mail', to) || order.toldSteps.split(',').includes(step) ? null : 'not set'
  }
  if (!order.textMessage || reader.phone === '') return 'no text'
  return isTold(plan, step, 'text', to) ? null : 'not set'
}

/** The key under which a step is said once; that of the label is as it always was. */
function keyOf({ labelId, step, position = 0, day = '' }: Told, medium: Medium): string {
  const first = step === 'label made' || step === 'number changed'
  const rest = first ? '' : `-${step.replaceAll(' ', '-')}-${position}${step === 'delayed' ? `-${day}` : ''}`
  return `${medium === 'mail' ? 'notice' : 'text'}-${labelId}${rest}`
}

/**
 * Queues what a customer is told of a step, in the caller's transaction: by the media that the notices are set to, after their
 * waiting time, not in the customer's night. What it overtakes and has not gone out is dropped.
 */
export async function tellCustomer(gharry: Application, trx: Database, told: Told): Promise<void> {
  const order = await orderRow(trx, told.orderId)
  const [stored] = await ordersById(trx, [told.orderId])
  if (!order || !stored) return
  const channel = await channelById(trx, order.channelId)
  if (!mayBeWrittenTo(channel)) return
  const plan = await noticePlan(trx)
  const reader = readerOf(stored.order, channel)
  const now = gharry.now()
  const wait = Math.max(gharry.settings.noticeWaitSeconds, plan.waits * 60)
  const from = afterQuiet(new Date(now.getTime() + wait * 1000).toISOString(), reader.zone, plan.quiet)
  const { orderId, labelId, step, position = 0, day = '', place = '' } = told
  for (const medium of ['mail', 'text'] as const) {
    const waiting = await waitingNotices(trx, orderId, medium)
    const overtaken = waiting.filter(
      (row) => row.labelId === labelId && row.position === position && isOvertaken(row.step, step),
    )
    await dropNotices(
      trx,
      overtaken.map(({ id }) => id),
      `Not said any more: ${step}.`,
    )
    if (whyNot(plan, step, medium, order, reader) !== null) continue
    const recipient = medium === 'mail' ? reader.mail : reader.phone
    const row = { orderId, labelId, recipient, key: keyOf(told, medium), step, medium, position, day, place }
    await addNotices(trx, [row], from, now.toISOString())
  }
}
