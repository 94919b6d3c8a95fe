import { addStockMoves, type Database, type LabelRow, stockAt, type StockMove } from '@/data'

/**
 * Pieces were not on their shelf when they were to be packed: the stock has lost them, and nothing is free of what is
 * not there. The pieces stay promised to the label until it is voided.
 */
export async function correctShort(
  trx: Database,
  { id, location }: Pick<LabelRow, 'id' | 'location'>,
  lines: readonly { readonly sku: string; readonly missing: number }[],
  of: Pick<StockMove, 'at' | 'author' | 'note'>,
): Promise<void> {
  const missing = new Map<string, number>()
  for (const line of lines) if (line.missing > 0) missing.set(line.sku, (missing.get(line.sku) ?? 0) + line.missing)
  const now = await stockAt(trx, location, [...missing.keys()])
  await addStockMoves(
    trx,
    [...missing].flatMap(([sku, n]) => {
      const row = now.get(sku)
      if (!row) return []
      // An empty shelf has nothing free, whatever was counted.
      const onHand = Math.min(row.onHand, row.reserved) - n
      return [
        {
          ...of,
          location,
          sku,
          kind: 'short' as const,
          onHand: onHand - row.onHand,
          reserved: 0,
          labelId: id,
          key: `short-${id}-${sku}-${of.at}`,
        },
      ]
    }),
  )
}
