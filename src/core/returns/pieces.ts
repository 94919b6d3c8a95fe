/** So many pieces of an item of an order; `item` is its place in the order's list, from 0. */
export interface Coming {
  readonly item: number
  readonly quantity: number
}
/** How many pieces of each item, by its place in the order's list. */
export type Pieces = readonly number[]

/** Adds up pieces by item, for an order with so many items; items that the order has not are left out. */
export function piecesOf(items: number, lists: readonly (readonly Coming[])[]): Pieces {
  const sums = new Array<number>(items).fill(0)
  for (const list of lists)
    for (const { item, quantity } of list) if (item >= 0 && item < items) sums[item]! += Math.max(0, quantity)
  return sums
}

/**
 * What can still come back: what has arrived, less what is on its way back or came back already. Never below 0.
 * @example canComeBack([2, 1], [1, 0]) // [1, 1]
 */
export const canComeBack = (arrived: Pieces, back: Pieces): Pieces =>
  arrived.map((pieces, i) => Math.max(0, pieces - (back[i] ?? 0)))
