import { waitingStates, type OrderState } from '@/core/order'
import type { Rulebook, TrialCase, World } from '@/core/rulebook'
import { editionInForce, fromJson, newestWorld, pinsOf } from '@/data'
import type { Gharry } from './gharry'

/** What the browser needs to try a draft while it is typed: real orders, the world, and the edition in force. */
export interface TrialMaterial {
  readonly cases: readonly TrialCase[]
  /** How many orders the days hold; more than `cases` when only the youngest were taken. */
  readonly available: number
  readonly days: number
  readonly world: World
  readonly inForce: Rulebook
  readonly edition: number
}

/**
 * The youngest orders of the last days, waiting ones included. A past order is decided for the moment it was placed, a
 * waiting one for now.
 */
export async function trialMaterial(gharry: Gharry, days: number, most: number): Promise<TrialMaterial | null> {
  const { db } = gharry
  const edition = await editionInForce(db, gharry.now().toISOString())
  const world = await newestWorld(db)
  if (!edition || !world) return null
  const now = gharry.now().getTime()
  const since = new Date(now - days * 86_400_000).toISOString()
  const states: readonly OrderState[] = [...waitingStates, 'buying', 'labelled', 'dispatched', 'delivered']
  const within = (): ReturnType<typeof db> =>
    db('orders').whereIn('state', states).where('placed_at', '>=', since) as ReturnType<typeof db>
  const [{ n }] = (await within().count({ n: '*' })) as unknown as [{ n: number }]
  const rows = (await within()
    .join('order_facts', 'order_facts.order_id', 'orders.id')
    .orderBy('placed_at', 'desc')
    .limit(most)
    .select('orders.id', 'orders.state', 'orders.placed_at', 'order_facts.facts')) as {
    id: number
    state: OrderState
    placed_at: string
    facts: string
  }[]
  const pins = await pinsOf(
    db,
    rows.map((row) => row.id),
  )
  const cases = rows.map((row): TrialCase => {
    const own = pins.get(row.id)
    return {
      id: row.id,
      order: fromJson(row.facts),
      now: waitingStates.includes(row.state) ? now : Date.parse(row.placed_at),
      ...(own ? { pins: own } : {}),
    }
  })
  return {
    cases,
    available: Number(n),
    days,
    world: { ...world.world, items: [] },
    inForce: edition.rulebook,
    edition: edition.number,
  }
}
