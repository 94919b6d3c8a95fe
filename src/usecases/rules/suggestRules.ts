import { type Precedent, type Suggestion, suggestRules } from '@/core/rulebook/change'
import type { Decisions, Routed } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { newestWorld, recentPrecedents } from '@/data'
import type { Application } from '../shared/application'

const days = 90
const maxOrders = 4000

/** Patterns in the hand pins of the last 90 days, each as a rule with the orders that speak for and against it. */
export async function showSuggestions(gharry: Application): Promise<Suggestion[]> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world) return []
  const rows = await recentPrecedents(
    gharry.db,
    new Date(gharry.now().getTime() - days * 86_400_000).toISOString(),
    maxOrders,
  )
  const precedents = rows.map(({ id, order, pins, outcome }): Precedent => ({
    id,
    number: order.number,
    order,
    pins,
    decided: settled(outcome),
  }))
  return suggestRules(precedents, readyWorld({ ...world, items: [] }), gharry.now().getTime())
}

/**
 * What came out, in the terms in which people pin it: the service that was chosen, the preset that was taken, the
 * location.
 */
const settled = ({ decisions, quote, parcels, location }: Routed): Decisions => ({
  ...decisions,
  ...(quote ? { picks: [{ by: 'service' as const, service: quote.service }] } : {}),
  ...(parcels[0] ? { preset: parcels[0].preset } : {}),
  location,
})
