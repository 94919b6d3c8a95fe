import type { OrderState } from '@/core/order'
import { reasonFrom } from '@/core/rulebook/decide'
import {
  deskCount,
  deskDistribution,
  deskIds,
  deskPage,
  deskPlace,
  listChannels,
  mostListed,
  newestWorld,
  orderRows,
  type DeskFilter,
  type DeskSort,
  type DeskSpread,
  type OrderRow,
} from '@/data'
import type { Answer, Application } from '../shared/application'
import { mostEdited } from './manyEdit'

export interface DeskView {
  readonly rows: readonly OrderRow[]
  readonly total: number
  /** There are more than `total`, which is where counting one by one ends. */
  readonly more: boolean
  /** How many of them the list goes to: nobody scrolls to the end of a million. */
  readonly listed: number
  readonly offset: number
}

/** One page of the Desk's orders. */
export async function showDesk(
  gharry: Application,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  offset: number,
  most: number,
): Promise<DeskView> {
  const { n, more } = await deskCount(gharry.db, filter)
  const rows = offset >= mostListed ? [] : await deskPage(gharry.db, filter, sorts, offset, most)
  return { rows: await withPlaces(gharry, rows), total: n, more, listed: Math.min(n, mostListed), offset }
}

/** Reasons that are of the place name it. */
async function withPlaces(gharry: Application, rows: readonly OrderRow[]): Promise<readonly OrderRow[]> {
  if (!rows.some(({ state }) => state === 'attention')) return rows
  const names = new Map((await newestWorld(gharry.db))?.world.locations.map(({ id, name }) => [id, name]))
  return rows.map((row) =>
    row.reason === null || row.location === null
      ? row
      : { ...row, reason: reasonFrom(row.reason, names.get(row.location) ?? row.location) },
  )
}

const spreads = new Map<string, { at: number; spread: Promise<DeskSpread> }>()

/**
 * How the filtered orders spread over each facet; on 100,000 orders this takes a while, so an answer is kept for five
 * seconds.
 */
export function spreadDesk(gharry: Application, filter: DeskFilter): Promise<DeskSpread> {
  const key = JSON.stringify(filter)
  const now = gharry.now().getTime()
  const kept = spreads.get(key)
  if (kept && now - kept.at < 5000) return kept.spread
  if (spreads.size > 200) spreads.clear()
  const spread = deskDistribution(gharry.db, filter)
  spreads.set(key, { at: now, spread })
  return spread
}

/** All orders of a list, in its sequence; at most as many as can be edited at once. */
export const selectDesk = (gharry: Application, filter: DeskFilter, sorts: readonly DeskSort[]): Promise<number[]> =>
  deskIds(gharry.db, filter, sorts, mostEdited)

/** The numbers of orders, in the order in which they were asked for. */
export async function numbersOf(
  gharry: Application,
  ids: readonly number[],
): Promise<Answer<{ readonly numbers: readonly { readonly id: number; readonly number: string }[] }>> {
  const rows = new Map((await orderRows(gharry.db, ids)).map(({ id, number }) => [id, { id, number }]))
  return { ok: true, numbers: ids.flatMap((id) => rows.get(id) ?? []) }
}

/** At which place of the list an order is; null where it is not in it. */
export const placeOnDesk = async (
  gharry: Application,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  order: number,
): Promise<{ place: number | null }> => ({ place: await deskPlace(gharry.db, filter, sorts, order) })

/** Names for what rows hold as identifiers. */
export interface DeskNames {
  readonly channels: Readonly<Record<string, string>>
  readonly services: Readonly<Record<string, string>>
  readonly carriers: Readonly<Record<string, string>>
  readonly locations: Readonly<Record<string, string>>
  readonly presets: Readonly<Record<string, string>>
}

export async function deskNames(gharry: Application): Promise<DeskNames> {
  const world = (await newestWorld(gharry.db))?.world
  const names = (list: readonly { readonly id: string; readonly name: string }[] = []): Record<string, string> =>
    Object.fromEntries(list.map(({ id, name }) => [id, name]))
  return {
    channels: names(await listChannels(gharry.db)),
    services: names(world?.services),
    carriers: names(world?.carriers),
    locations: names(world?.locations),
    presets: names(world?.presets),
  }
}

/** The states of orders, exceptions first. */
export const deskStates = [
  'attention',
  'held',
  'ready',
  'buying',
  'labelled',
  'dispatched',
  'delivered',
  'fulfilled elsewhere',
  'cancelled',
  'combined',
] as const satisfies readonly OrderState[]
export { deskColumns, type DeskFilter, type DeskSort } from '@/data'
