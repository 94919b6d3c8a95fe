import { channelKindOf } from '@/adapters'
import {
  type ChannelRow,
  countStock,
  countStockRows,
  listChannels,
  movesOfStock,
  type StockFilter,
  stockPage,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { stockKeepers } from '../../shared/stockInForce'

/** The stock, a page of it, and how channels and it go together. */
export interface StockView {
  readonly rows: readonly (Awaited<ReturnType<typeof stockPage>>[number] & { readonly title: string })[]
  readonly total: number
  readonly pageSize: number
  /** More is promised than is there. */
  readonly short: number
  readonly kept: readonly string[]
  readonly locations: Readonly<Record<string, string>>
  readonly channels: readonly (Pick<ChannelRow, 'id' | 'name' | 'stock' | 'stockLocation' | 'stockProblem'> & {
    readonly can: boolean
  })[]
}

/** Rows of a page. */
const pageSize = 200

/** A page of the stock. */
export async function showStock(gharry: Application, filter: StockFilter, skip: number): Promise<StockView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const titles = new Map(world.items.map(({ sku, title }) => [sku, title]))
  return {
    rows: (await stockPage(db, filter, skip, pageSize)).map((row) => ({
      ...row,
      title: titles.get(row.sku) ?? '',
    })),
    pageSize,
    total: await countStockRows(db, filter),
    short: await countStockRows(db, { only: 'short' }),
    kept: [...(await stockKeepers(db))].sort(),
    locations: Object.fromEntries(world.locations.map(({ id, name }) => [id, name])),
    channels: (await listChannels(db))
      .filter(({ retired }) => !retired)
      .map(({ id, name, stock, stockLocation, stockProblem, kind }) => ({
        ...{ id, name, stock, stockLocation, stockProblem, can: channelKindOf(kind)?.can.stock === true },
      })),
  }
}

/** What has moved of a SKU at a location, the newest first. */
export const showMoves = async (
  { db }: Application,
  location: string,
  sku: string,
): Promise<{ readonly moves: Awaited<ReturnType<typeof movesOfStock>> }> => ({
  moves: await movesOfStock(db, location, sku, 100),
})

const most = 1_000_000_000

/** A person has counted: so many are there. */
export async function countByHand(
  gharry: Application,
  {
    location,
    sku,
    onHand,
    note,
  }: { readonly location: string; readonly sku: string; readonly onHand: number; readonly note: string },
): Promise<Answer<object>> {
  const { world } = await currentWorld(gharry.db)
  if (!world.locations.some(({ id }) => id === location))
    return refuse('unknown-location', 'There is no such location.')
  if (sku.trim() === '') return refuse('incomplete', 'Enter the SKU.')
  if (!Number.isInteger(onHand) || onHand < 0 || onHand > most)
    return refuse('bad-amount', 'Enter how many pieces are there, 0 or more.')
  await gharry.db.transaction((trx) =>
    countStock(trx, location, [{ sku: sku.trim(), onHand }], {
      ...{
        at: gharry.now().toISOString(),
        kind: 'count',
        note: note.trim().slice(0, 200),
        author: gharry.settings.author,
      },
    }),
  )
  return { ok: true }
}
