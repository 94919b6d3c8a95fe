import type { Order } from '@/core/order'
import { squareCode } from '@/core/papers'
import { formatMoney, money } from '@/core/units'
import { printedLocation, type World } from '@/core/world'
import { type LabelParcel, type LabelRow, type ReturnRow, returnsOf } from '@/data'
import type { Application } from '../../shared/application'
import { returnable } from './pieces'

/** What a customer reads of something that they send back. */
export interface ReturnView {
  readonly id: number
  readonly state: ReturnRow['state'] | 'arrived'
  readonly items: readonly { readonly title: string; readonly quantity: number }[]
  /** Empty where it comes without a label of the seller's. */
  readonly number: string
  readonly carrier: string
  /** Whether there is a label to be printed. */
  readonly label: boolean
  readonly code: string
  /** The code as a picture; null where there is none. */
  readonly square: ReturnType<typeof squareCode>
  /** `YYYY-MM-DD`; empty where nothing is said. */
  readonly until: string
  /** Where it is sent without a label. */
  readonly to: readonly string[]
  readonly why: string
  readonly refund: string
}
/** What comes back of a shipment, and what still could. */
export interface BackView {
  readonly returns: readonly ReturnView[]
  readonly can: readonly { readonly item: number; readonly title: string; readonly quantity: number }[]
}

/** The returns of a shipment as its customer sees them; `asks`: whether more may be asked for here. */
export async function backView(
  { db }: Application,
  label: LabelRow,
  order: Order,
  parcels: readonly LabelParcel[],
  world: World | undefined,
  asks: boolean,
): Promise<BackView> {
  const rows = await returnsOf(db, { labelId: label.id })
  const left = asks ? returnable(order, label, parcels, rows) : []
  const titleOf = (item: number): string => order.items[item]?.title || (order.items[item]?.sku ?? '')
  return {
    returns: rows.map((row) => seen(row, order, world, titleOf)),
    can: left.flatMap((quantity, item) => (quantity > 0 ? [{ item, title: titleOf(item), quantity }] : [])),
  }
}

function seen(row: ReturnRow, order: Order, world: World | undefined, titleOf: (item: number) => string): ReturnView {
  const { id, pieces, trackingNumber, code, validUntil, state, why, amount } = row
  const home = world?.locations.find((one) => one.id === row.location)
  const here = state === 'coming' && row.status === 'delivered'
  return {
    id,
    state: here ? 'arrived' : state,
    items: pieces.map(({ item, quantity }) => ({ title: titleOf(item), quantity })),
    number: trackingNumber ?? '',
    carrier: world?.carriers.find((one) => one.id === row.carrier)?.name ?? row.carrier,
    label: state === 'ready' && row.request !== null,
    code: state === 'ready' ? code : '',
    square: state === 'ready' && code !== '' ? squareCode(code) : null,
    until: validUntil ?? '',
    to: trackingNumber === null && home ? printedLocation(home) : [],
    why: state === 'refused' ? why : '',
    refund: state === 'checked' ? formatMoney(money(amount, order.value.currency)) : '',
  }
}
