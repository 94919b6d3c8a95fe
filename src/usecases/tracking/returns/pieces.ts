import type { Order } from '@/core/order'
import { came, canComeBack, type Pieces, piecesOf } from '@/core/returns'
import type { LabelParcel, LabelRow, ReturnRow } from '@/data'

/** What is on its way back, or came back: a return that was refused or never sent holds nothing. */
const holds = ({ state }: ReturnRow): boolean => state !== 'refused' && state !== 'lapsed'
/** What is counted of a return: what was found, once somebody has looked; until then what was said. */
const comes = ({ found, pieces }: ReturnRow): ReturnRow['pieces'] => found?.filter(came) ?? pieces

/** Pieces by item that other returns of a label hold. */
export const heldPieces = (order: Order, rows: readonly ReturnRow[], besides?: number): Pieces =>
  piecesOf(
    order.items.length,
    rows.filter((row) => row.id !== besides && holds(row)).map((row) => comes(row)),
  )

/**
 * Pieces by item in the parcels of a shipment that have arrived; all of it where the books do not say what is where.
 */
function arrivedPieces(order: Order, parcels: readonly LabelParcel[], label: LabelRow): Pieces {
  const there = parcels.filter(({ status }) => status === 'delivered' || label.deliveredAt !== null)
  return there.some(({ contents }) => contents.length === 0)
    ? order.items.map(({ quantity }) => quantity)
    : piecesOf(
        order.items.length,
        there.map(({ contents }) => contents),
      )
}

/** What of a shipment can be sent back now, by item, with its parcels and what was asked of it before. */
export const returnable = (
  order: Order,
  label: LabelRow,
  parcels: readonly LabelParcel[],
  rows: readonly ReturnRow[],
): Pieces => canComeBack(arrivedPieces(order, parcels, label), heldPieces(order, rows))
