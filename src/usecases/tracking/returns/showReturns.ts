import { offersReturn } from '@/core/rulebook/decide'
import { countReturns, filesOfReturns, ordersById, type ReturnLine, type ReturnState, returnsIn } from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'

/** The lists of returns, each with the states that are in it. */
export const returnLists = {
  asked: ['asked'],
  awaited: ['making', 'ready'],
  coming: ['coming'],
  settled: ['checked'],
  ended: ['refused', 'lapsed'],
} as const satisfies Readonly<Record<string, readonly ReturnState[]>>
export type ReturnList = keyof typeof returnLists

/** A list of returns, and how many there are in each. */
export interface ReturnsView {
  readonly counts: Readonly<Record<ReturnList, number>>
  readonly rows: readonly (Pick<
    ReturnLine,
    | 'id'
    | 'orderId'
    | 'labelId'
    | 'number'
    | 'buyer'
    | 'country'
    | 'state'
    | 'reason'
    | 'words'
    | 'askedAt'
    | 'askedBy'
    | 'why'
    | 'problem'
    | 'paidByBuyer'
    | 'location'
    | 'carrier'
    | 'service'
    | 'trackingNumber'
    | 'validUntil'
    | 'charge'
    | 'status'
    | 'statusAt'
    | 'checkedAt'
    | 'note'
    | 'amount'
    | 'told'
    | 'paidByHandAt'
  > & {
    readonly currency: string
    readonly items: readonly { readonly sku: string; readonly title: string; readonly quantity: number }[]
    readonly photos: readonly number[]
  })[]
  /** How many are shown at once. */
  readonly pageSize: number
  /** Services with return labels, by their identifiers. */
  readonly services: Readonly<Record<string, string>>
}

const pageSize = 100

/** A list of returns: what waits the oldest first, what is over the newest first. */
export async function showReturns(gharry: Application, list: ReturnList, skip = 0): Promise<ReturnsView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const by = await countReturns(db)
  const over = list === 'settled' || list === 'ended'
  const lines = await returnsIn(db, returnLists[list], over, pageSize, skip)
  const orders = new Map(
    (await ordersById(db, [...new Set(lines.map(({ orderId }) => orderId))])).map(({ id, order }) => [id, order]),
  )
  const photos = await filesOfReturns(
    db,
    lines.map(({ id }) => id),
    'photo',
  )
  const rows: ReturnsView['rows'][number][] = []
  for (const { key: _key, request: _request, news: _news, found: _found, ...line } of lines) {
    const order = orders.get(line.orderId)
    rows.push({
      ...line,
      currency: order?.value.currency ?? world.rates.home,
      items: line.pieces.flatMap(({ item, quantity }) => {
        const one = order?.items[item]
        return one ? [{ sku: one.sku, title: one.title, quantity }] : []
      }),
      photos: photos.get(line.id) ?? [],
    })
  }
  const count = (states: readonly ReturnState[]): number => states.reduce((sum, state) => sum + (by[state] ?? 0), 0)
  return {
    counts: Object.fromEntries(
      Object.entries(returnLists).map(([name, states]) => [name, count(states)]),
    ) as ReturnsView['counts'],
    ...{ rows, pageSize },
    services: Object.fromEntries(world.services.filter((one) => offersReturn(one)).map(({ id, name }) => [id, name])),
  }
}
