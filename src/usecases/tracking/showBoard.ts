import {
  boardByDay,
  boardCount,
  type BoardFilter,
  type BoardNeed,
  boardNeedCounts,
  boardPage,
  type BoardRow,
  type BoardSort,
  boardSpread,
} from '@/data'
import type { Application } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'
import { dayStillAhead } from './dayStillAhead'
import { currentWorld } from '../shared/changeWorld'

export { type BoardFilter, type BoardNeed, boardNeeds, type BoardRow, boardSorts } from '@/data'

/**
 * A parcel with the days by which it comes most likely (50 of 100) and almost surely (90); null where nothing is known.
 */
export interface BoardLine extends BoardRow {
  readonly likely: string | null
  readonly surely: string | null
}
export interface BoardView {
  readonly rows: readonly BoardLine[]
  readonly total: number
  readonly offset: number
  /** As of which moment it is late, and silent. */
  readonly now: string
}

/** Parcels on their way that a filter leaves, a page of them. */
export async function showBoard(
  gharry: Application,
  filter: BoardFilter,
  sort: BoardSort,
  offset: number,
  most: number,
): Promise<BoardView> {
  const { db } = gharry
  const at = gharry.now().toISOString()
  const arrivals = (await rulebookInForce(gharry))?.ready.arrivals
  const total = await boardCount(db, filter, at)
  const rows = await boardPage(db, filter, sort, at, { total, offset, most })
  const ahead = (row: BoardRow, percent: number): string | null =>
    row.status === 'returned' || row.status === 'lost'
      ? null
      : dayStillAhead(arrivals, row, row.foreseen, percent, at.slice(0, 10))
  return {
    rows: rows.map((row) => ({ ...row, likely: ahead(row, 50), surely: ahead(row, 90) })),
    total,
    offset,
    now: at,
  }
}

export interface BoardSpread {
  /** How many parcels need a person, and why; a parcel can be in several. */
  readonly needs: Readonly<Record<BoardNeed, number>>
  readonly status: readonly { readonly value: string; readonly count: number }[]
  readonly carrier: readonly { readonly value: string; readonly count: number }[]
  readonly service: readonly { readonly value: string; readonly count: number }[]
  readonly location: readonly { readonly value: string; readonly count: number }[]
  readonly country: readonly { readonly value: string; readonly count: number }[]
  readonly names: {
    readonly carriers: Readonly<Record<string, string>>
    readonly services: Readonly<Record<string, string>>
    readonly locations: Readonly<Record<string, string>>
  }
}

/** How the parcels spread; a facet's own filter is left out, so that one sees what else there is. */
export async function spreadBoard(gharry: Application, filter: BoardFilter): Promise<BoardSpread> {
  const { db } = gharry
  const at = gharry.now().toISOString()
  const { world } = await currentWorld(db)
  const without = (key: keyof BoardFilter): BoardFilter => ({ ...filter, [key]: undefined })
  const names = (list: readonly { readonly id: string; readonly name: string }[]): Readonly<Record<string, string>> =>
    Object.fromEntries(list.map(({ id, name }) => [id, name]))
  return {
    needs: await boardNeedCounts(db, without('statuses'), at),
    status: await boardSpread(db, without('statuses'), 'status', at),
    carrier: await boardSpread(db, without('carriers'), 'carrier', at),
    service: await boardSpread(db, without('services'), 'service', at),
    location: await boardSpread(db, without('locations'), 'location', at),
    country: await boardSpread(db, without('countries'), 'country', at),
    names: { carriers: names(world.carriers), services: names(world.services), locations: names(world.locations) },
  }
}

/** For the chart: what was bought each day of the last weeks and has not arrived, by carrier and state. */
export const showBoardDays = async (
  gharry: Application,
): Promise<{ readonly days: Awaited<ReturnType<typeof boardByDay>> }> => ({
  days: await boardByDay(gharry.db, new Date(gharry.now().getTime() - 30 * 86_400_000).toISOString()),
})
