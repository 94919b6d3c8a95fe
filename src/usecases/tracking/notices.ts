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
  type NoticeRow,
  orderRows,
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

/** What the caller has read already, in the same transaction. */
export interface KnownOrders {
  readonly rows: ReadonlyMap<number, OrderRow>
  readonly orders: ReadonlyMap<number, Order>
}

/** Whether a customer is told of a step by a medium. */
function isWanted(plan: NoticePlan, step: NoticeStep, medium: Medium, order: OrderRow, reader: Reader): boolean {
  const to = { channel: order.channelId, country: order.country, language: reader.language }
  const set = isTold(plan, step, medium, to)
  if (medium === 'text') return order.textMessage && reader.phone !== '' && set
  return order.notice && reader.mail !== '' && (set || isToldByRule(order, step))
}

const isToldByRule = (order: OrderRow, step: NoticeStep): boolean => order.toldSteps.split(',').includes(step)

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
export const tellCustomer = (gharry: Application, trx: Database, told: Told): Promise<void> =>
  tellCustomers(gharry, trx, [told])

/** Queues what customers are told, as `tellCustomer` does for one; each order is named once. */
export async function tellCustomers(
  gharry: Application,
  trx: Database,
  list: readonly Told[],
  known?: KnownOrders,
): Promise<void> {
  const ids = list.map(({ orderId }) => orderId)
  const rows = known?.rows ?? new Map((await orderRows(trx, ids)).map((row) => [row.id, row]))
  const waiting = new Map<number, NoticeRow[]>()
  for (const row of await waitingNotices(trx, ids)) waiting.set(row.orderId, [...(waiting.get(row.orderId) ?? []), row])
  const plan = await onceIn(trx, 'notice plan', () => noticePlan(trx))
  const wanted: Told[] = []
  for (const told of list) {
    const row = rows.get(told.orderId)
    if (!row) continue
    await dropOvertaken(trx, waiting.get(told.orderId) ?? [], told)
    const { mail, text } = plan.steps[told.step]
    if (mail.on || text.on || isToldByRule(row, told.step)) wanted.push(told)
  }
  const read = (): Promise<{ id: number; order: Order }[]> =>
    ordersById(
      trx,
      wanted.map(({ orderId }) => orderId),
    )
  const orders = known?.orders ?? new Map((await read()).map(({ id, order }) => [id, order]))
  const notices: NewNotice[] = []
  for (const told of wanted) {
    const row = rows.get(told.orderId)!
    const order = orders.get(told.orderId)
    const channel = await channelIn(trx, row.channelId)
    if (order && whyNobody(channel) === '')
      notices.push(...noticesOf(gharry, told, row, readerOf(order, channel), plan))
  }
  await addNotices(trx, notices, gharry.now().toISOString())
}

/** Of the order's waiting notices, one that says less than what is told now is not sent any more. */
async function dropOvertaken(trx: Database, waiting: readonly NoticeRow[], told: Told): Promise<void> {
  const { labelId, step, position = 0, returnId = null } = told
  const overtaken = waiting.filter(
    (row) =>
      row.labelId === labelId && row.position === position && row.returnId === returnId && isOvertaken(row.step, step),
  )
  await dropNotices(
    trx,
    overtaken.map(({ id }) => id),
    `Not said any more: ${step}.`,
  )
}

/** A step as the notices that say it: one for each medium that is wanted. */
function noticesOf(gharry: Application, told: Told, row: OrderRow, reader: Reader, plan: NoticePlan): NewNotice[] {
  const { orderId, labelId, step, position = 0, day = '', place = '', returnId = null } = told
  const wait = Math.max(gharry.settings.noticeWaitSeconds, plan.waits * 60)
  const sendAfter = afterQuiet(new Date(gharry.now().getTime() + wait * 1000).toISOString(), reader.zone, plan.quiet)
  return mediums
    .filter((medium) => isWanted(plan, step, medium, row, reader))
    .map((medium) => ({
      ...{ orderId, labelId, recipient: medium === 'mail' ? reader.mail : reader.phone, key: keyOf(told, medium) },
      ...{ step, medium, position, day, place, returnId, sendAfter },
    }))
}
