import { countAll } from './countAll'
import { chunks, type Database } from './database'
import { insertMany } from './engine'

/** Why what is in stock has changed. */
export type MoveKind =
  | 'count' // a person or a file has counted it
  | 'channel' // a channel says so
  | 'partner' // who keeps it there says so
  | 'bought' // promised to a label
  | 'given back' // the label was voided or not made
  | 'sent' // it left with its label
  | 'put back' // it had left, and its label was voided
  | 'short' // it was not there when it was to be packed
  | 'returned' // a buyer sent it back

/** One change of what is in stock: never changed, only followed by others. */
export interface StockMove {
  readonly id: number
  readonly at: string
  readonly location: string
  readonly sku: string
  readonly kind: MoveKind
  /** By how many pieces what is there changes, and what is promised of it. */
  readonly onHand: number
  readonly reserved: number
  readonly labelId: number | null
  readonly note: string
  readonly author: string
}
/** What is in stock of a SKU at a location: the sum of its moves. */
export interface StockRow {
  readonly location: string
  readonly sku: string
  readonly onHand: number
  readonly reserved: number
  /** The last move. */
  readonly moveId: number
}
type NewMove = Omit<StockMove, 'id'> & { readonly key?: string }

/** Writes moves; one of the same key is written once. */
export async function addStockMoves(trx: Database, moves: readonly NewMove[]): Promise<void> {
  for (const part of chunks(moves, 80)) await trx('stock_moves').insert(part).onConflict('key').ignore()
}

/**
 * What was counted becomes what is there: moves by the difference; what is as it was is no move, but a first one always
 * is.
 */
export async function countStock(
  trx: Database,
  location: string,
  counts: readonly { readonly sku: string; readonly onHand: number }[],
  of: Pick<StockMove, 'at' | 'kind' | 'note' | 'author'>,
): Promise<number> {
  let moved = 0
  for (const part of chunks(counts, 400)) {
    const now = await stockAt(
      trx,
      location,
      part.map(({ sku }) => sku),
    )
    const moves = part.flatMap(({ sku, onHand }): NewMove[] => {
      const row = now.get(sku)
      return row?.onHand === onHand
        ? []
        : [{ ...of, location, sku, onHand: onHand - (row?.onHand ?? 0), reserved: 0, labelId: null }]
    })
    await addStockMoves(trx, moves)
    moved += moves.length
  }
  return moved
}

/** What is in stock of some SKUs at a location; of a SKU that was never counted there, nothing. */
export async function stockAt(db: Database, location: string, skus: readonly string[]): Promise<Map<string, StockRow>> {
  const found = new Map<string, StockRow>()
  for (const part of chunks([...new Set(skus)], 500))
    for (const row of (await db('stock').where({ location }).whereIn('sku', part)) as StockRow[])
      found.set(row.sku, row)
  return found
}

/** The newest move: 0 while there is none. */
export const stockVersion = async (db: Database): Promise<number> =>
  Number(((await db('stock_moves').max({ n: 'id' })) as { n: number | null }[])[0]?.n ?? 0)
/** What has changed since a move. */
export const stockSince = (db: Database, version: number): Promise<StockRow[]> =>
  db('stock').where('move_id', '>', version).orderBy('move_id')

/** Marks what a label holds of the stock: promised from now on, or (`sent`) gone already. */
export async function holdStock(
  trx: Database,
  held: readonly {
    readonly labelId: number
    readonly location: string
    readonly sku: string
    readonly quantity: number
  }[],
  state: 'held' | 'sent',
  at: string,
): Promise<void> {
  await insertMany(trx, 'stock_held', ['label_id', 'location', 'sku', 'quantity', 'state'], held, (one) => [
    ...[one.labelId, one.location, one.sku, one.quantity, state],
  ])
  const kind = state === 'held' ? 'bought' : 'sent'
  await insertMany(
    trx,
    'stock_moves',
    ['at', 'location', 'sku', 'kind', 'on_hand', 'reserved', 'label_id', 'note', 'author'],
    held,
    ({ labelId, location, sku, quantity }) => [
      ...[at, location, sku, kind, state === 'held' ? 0 : -quantity, state === 'held' ? quantity : 0],
      ...[labelId, '', 'Gharry'],
    ],
  )
}

/** SKUs of which waiting orders are to be decided again. */
export const staleSkus = async (db: Database, most: number): Promise<string[]> =>
  ((await db('stock').where({ stale: 1 }).distinct('sku').limit(most)) as { sku: string }[]).map(({ sku }) => sku)
/** Marks SKUs as seen to. */
export async function seeToStale(trx: Database, skus: readonly string[]): Promise<void> {
  for (const part of chunks(skus, 500)) await trx('stock').whereIn('sku', part).where({ stale: 1 }).update({ stale: 0 })
}

/** What people look for in the stock. */
export interface StockFilter {
  readonly location?: string
  /** The beginning of a SKU. */
  readonly search?: string
  /** `short`: more is promised than there is; `none`: nothing is left. */
  readonly only?: 'short' | 'none'
}
const filtered = (db: Database, { location, search, only }: StockFilter): ReturnType<Database> => {
  const query = db('stock')
  if (location) void query.where('stock.location', location)
  if (search) void query.where('stock.sku', '>=', search).where('stock.sku', '<', `${search}\u{10ffff}`)
  if (only === 'short') void query.whereRaw('stock.on_hand < stock.reserved')
  if (only === 'none') void query.whereRaw('stock.on_hand <= stock.reserved')
  return query as ReturnType<Database>
}
/** A page of the stock by SKU and location, with when each was last moved. */
export const stockPage = (
  db: Database,
  filter: StockFilter,
  skip: number,
  most: number,
): Promise<(StockRow & { movedAt: string; kind: MoveKind })[]> =>
  filtered(db, filter)
    .join('stock_moves', 'stock_moves.id', 'stock.move_id')
    .orderBy(['stock.sku', 'stock.location'])
    .offset(skip)
    .limit(most)
    .select('stock.location', 'stock.sku', 'stock.on_hand', 'stock.reserved', 'stock.move_id', 'stock_moves.kind', {
      movedAt: 'stock_moves.at',
    }) as unknown as Promise<(StockRow & { movedAt: string; kind: MoveKind })[]>
/** How many there are. */
export const countStockRows = (db: Database, filter: StockFilter): Promise<number> => countAll(filtered(db, filter))

/** The moves of a SKU at a location, the newest first, with the order that each is about. */
export const movesOfStock = (
  db: Database,
  location: string,
  sku: string,
  most: number,
): Promise<(StockMove & { orderId: number | null; number: string | null })[]> =>
  db('stock_moves')
    .leftJoin('labels', 'labels.id', 'stock_moves.label_id')
    .leftJoin('orders', 'orders.id', 'labels.order_id')
    .where({ 'stock_moves.location': location, 'stock_moves.sku': sku })
    .orderBy('stock_moves.id', 'desc')
    .limit(most)
    .select('stock_moves.*', 'labels.order_id', 'orders.number')

/** What is free of each SKU in all locations together that changed since a move, and is to be said to channels. */
export async function freeStockSince(
  db: Database,
  version: number,
  most: number,
): Promise<{ readonly sku: string; readonly free: number }[]> {
  const changed = db('stock').where('move_id', '>', version).distinct('sku').limit(most)
  const rows = (await db('stock')
    .whereIn('sku', changed)
    .groupBy('sku')
    .orderBy('sku')
    .select('sku')
    .select({ free: db.raw('SUM(CASE WHEN on_hand > reserved THEN on_hand - reserved ELSE 0 END)') })) as {
    sku: string
    free: number
  }[]
  return rows.map(({ sku, free }) => ({ sku, free: Number(free) }))
}
