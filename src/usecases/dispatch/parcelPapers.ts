import { DateTime } from 'luxon'
import type { LabelRequest } from '@/adapters'
import type { Item, Order } from '@/core/order'
import {
  cn22Limit,
  type Declaration,
  declarationPages,
  type DeclaredItem,
  declaredValue,
  invoicePages,
  layoutLabel,
  layoutSlip,
  type Page,
  plainTemplate,
  type SlipContent,
} from '@/core/papers'
import type { Routed } from '@/core/rulebook/language'
import { usualSeller, type World } from '@/core/world'
import { english, formatMoney, grams, money, notationOf, toHome } from '@/core/units'
import { decisionOf, fromJson, type Database, type LabelParcel, type LabelRow } from '@/data'
import { itemsIn } from './parcelItems'

/** One parcel to be printed, with everything that its papers say. */
export interface Printed {
  readonly label: LabelRow
  readonly parcel: LabelParcel
  readonly of: number
  readonly order: Order
  readonly world: World
  readonly channelName: string
  /** Empty for the first print. */
  readonly reprint: string
}

/**
 * The packing slip of a parcel, by the template that was decided for its order; with the first one, the documents that
 * go besides.
 */
export async function slipPages(
  db: Database,
  { label, parcel, of, order, world, channelName, reprint }: Printed,
): Promise<Page[]> {
  const decided: Routed | undefined = (await decisionOf(db, label.orderId))?.outcome
  const template = world.slips.find((slip) => slip.id === decided?.decisions.slip) ?? world.slips[0] ?? plainTemplate
  const first = parcel.position === 1
  const inserts = first ? (decided?.decisions.inserts ?? []) : []
  const besides = first
    ? (decided?.decisions.documents ?? []).flatMap((id) => world.slips.find((slip) => slip.id === id) ?? [])
    : []
  const content = slipContent(order, channelName, {
    toLines: fromJson<LabelRequest>(label.request).to.lines,
    parcelText: of > 1 ? `Parcel ${parcel.position} of ${of}` : '',
    items: itemsIn(order, parcel).map(({ sku, title, quantity }) => ({ sku, title, quantity })),
    inserts: inserts.map(({ name }) => name),
    trackingNumber: parcel.trackingNumber ?? '',
    reprint,
    tags: decided?.decisions.tags ?? [],
  })
  return [template, ...besides].flatMap((one) => layoutSlip(content, one))
}

/** What a slip can say about an order. */
export function slipContent(
  order: Order,
  channelName: string,
  more: Pick<SlipContent, 'toLines' | 'items' | 'inserts' | 'trackingNumber' | 'reprint' | 'parcelText' | 'tags'>,
): SlipContent {
  return {
    ...more,
    orderNumber: order.number,
    channelName,
    placedOn: DateTime.fromISO(order.placedAt, { zone: 'utc' }).toFormat('d LLL yyyy'),
    buyerName: order.buyer.name || order.shipTo.name,
    country: order.shipTo.country,
    value: formatMoney(order.value),
    quantity: order.items.reduce((sum, item) => sum + item.quantity, 0),
    wording: order.wording,
    message: order.message ?? '',
  }
}

/**
 * The customs papers of a parcel that leaves the customs union: CN 22 or CN 23, and an invoice. Empty for the others.
 */
export function customsPages({ label, parcel, order, world }: Printed): Page[] {
  const request = fromJson<LabelRequest>(label.request)
  if (!request.customs) return []
  const items = declaredItems(itemsIn(order, parcel))
  const total = declaredValue(items)
  const sdr = world.rates.micro.XDR
  const inHome = total && toHome(total, world.rates)
  const small =
    parcel.weight <= cn22Limit.grams &&
    sdr !== undefined &&
    inHome !== null &&
    inHome <= Math.round((cn22Limit.sdr * 100 * sdr) / 1e6)
  const declaration: Declaration = {
    number: parcel.trackingNumber ?? '',
    reference: request.reference,
    from: request.from.lines,
    to: request.to.lines,
    items,
    grossWeight: parcel.weight,
    shippedOn: request.shipOn,
    incoterm: request.duties,
    shippingPaid: order.shippingPaid,
    sender: request.from.lines[0] ?? '',
  }
  return [...declarationPages(declaration, small ? 'CN 22' : 'CN 23'), ...(small ? [] : invoicePages(declaration))]
}

/** Goods line by line, as a customs declaration asks for them. */
export const declaredItems = (items: readonly Item[]): DeclaredItem[] =>
  items.map(({ title, sku, hsCode, origin, quantity, unitWeight, unitPrice }) => ({
    description: title || sku,
    hsCode,
    origin,
    quantity,
    netWeight: grams((unitWeight ?? 0) * quantity),
    value: money(unitPrice.minor * quantity, unitPrice.currency),
  }))

/** The label with which a parcel comes back: from the buyer to the location that sent it. Empty when there is none. */
export function returnPages(printed: Printed): Page[] {
  const { label, parcel, order } = printed
  if (!parcel.returnNumber) return []
  const request = fromJson<LabelRequest>(label.request)
  return [
    layoutLabel({
      ...namesOf(printed),
      trackingNumber: parcel.returnNumber,
      symbology: parcel.symbology ?? 'code128',
      routing: 'RETURN',
      reference: order.number,
      weightText: weightIn(printed),
      shippedOn: '',
      parcelText: `${parcel.position} of ${printed.of}`,
      marks: [`Return of ${order.number}`],
      from: request.to,
      to: request.from,
    }),
  ]
}

/** What a parcel weighs, in the seller’s units. */
const weightIn = ({ parcel, world: { seller = usualSeller } }: Printed): string =>
  notationOf(english.locale, seller.units).weight(parcel.weight)

const namesOf = ({ label, world }: Printed): { readonly carrierName: string; readonly serviceName: string } => ({
  carrierName: world.carriers.find((carrier) => carrier.id === label.carrier)?.name ?? label.carrier,
  serviceName: world.services.find((service) => service.id === label.service)?.name ?? label.service,
})

export function labelPage(printed: Printed): Page {
  const { label, parcel, of, world, reprint } = printed
  const request = fromJson<LabelRequest>(label.request)
  return layoutLabel({
    ...namesOf(printed),
    trackingNumber: parcel.trackingNumber ?? '',
    symbology: parcel.symbology ?? 'code128',
    routing: parcel.routing ?? '',
    reference: request.reference,
    reprint,
    weightText: weightIn(printed),
    shippedOn: request.shipOn || (label.boughtAt ?? '').slice(0, 10),
    parcelText: `${parcel.position} of ${of}`,
    marks: [
      ...(request.signature ? ['SIGNATURE'] : []),
      ...(request.toCollect > 0 ? [`COLLECT ${formatMoney(money(request.toCollect, world.rates.home))}`] : []),
      ...request.dangerousGoods,
    ],
    from: request.from,
    to: request.to,
  })
}
