import { fromJson, handOverBy, labelById, ordersById, parcelsOfLabels } from '@/data'
import type { LabelRequest } from '@/adapters'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { isLinkToken } from '../shared/links'
import { itemsIn } from './parcelItems'
import { type Papers, papersOf } from './printBatch'

/** What people of a partner see of a shipment that was handed over to them. */
export interface HandOverView {
  readonly partner: string
  readonly seller: string
  readonly order: string
  readonly reference: string
  readonly to: readonly string[]
  readonly shipOn: string
  readonly carrier: string
  readonly parcels: readonly {
    readonly number: string
    readonly items: readonly { readonly sku: string; readonly title: string; readonly quantity: number }[]
  }[]
  readonly carriers: readonly string[]
  readonly answer: 'acknowledged' | 'refused' | 'despatched' | ''
  readonly answerText: string
  /** The label was voided: nothing may be sent. */
  readonly cancelled: boolean
}

/** By the link of the mail; null when it leads to none. */
export async function showHandOver(gharry: Application, token: string): Promise<HandOverView | null> {
  const row = isLinkToken(token) ? await handOverBy(gharry.db, { token }) : undefined
  const label = row && (await labelById(gharry.db, row.labelId))
  const [stored] = row ? await ordersById(gharry.db, [row.orderId]) : []
  if (!row || !label || !stored) return null
  const { world } = await currentWorld(gharry.db)
  const request = fromJson<Partial<LabelRequest>>(label.request)
  const parcels = (await parcelsOfLabels(gharry.db, [label.id])).get(label.id) ?? []
  return {
    partner: world.partners?.find(({ id }) => id === row.partner)?.name ?? '',
    seller: world.seller?.name ?? '',
    order: stored.order.number,
    reference: row.reference,
    to: request.to?.lines ?? [],
    shipOn: request.shipOn ?? '',
    carrier: world.carriers.find(({ id }) => id === label.carrier)?.name ?? label.carrier,
    parcels: parcels.map((parcel) => ({
      number: parcel.trackingNumber ?? '',
      items: itemsIn(stored.order, parcel).map(({ sku, title, quantity }) => ({ sku, title, quantity })),
    })),
    carriers: world.carriers.filter(({ retired }) => !retired).map(({ name }) => name),
    answer: row.answer,
    answerText: row.answerText,
    cancelled: label.state !== 'bought' && row.answer !== 'despatched',
  }
}

/** The papers once more, as PDF where they can be; null when the link leads to none, or the shipment must not go. */
export async function handedPapers(gharry: Application, token: string): Promise<Papers | null> {
  const row = isLinkToken(token) ? await handOverBy(gharry.db, { token }) : undefined
  const label = row && (await labelById(gharry.db, row.labelId))
  return label?.state === 'bought' && !label.own ? papersOf(gharry, label, 'pdf') : null
}
