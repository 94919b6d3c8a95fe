import type { Order } from '@/core/order'
import type { Pins, Routed, Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { type Fact, holds } from './conditions'
import { corrected, decide, decisionsOf, standard, type Told, type Wish } from './decisions'
import { factOf } from './facts'
import { shown } from './plain'

/*
 * An interpreter of the rulebook language, written from the documents. What goods weigh in which box, what a service
 * costs and when it arrives is taken from the outcome that is to be checked; everything that rules say about it is
 * worked out here.
 */

export interface Answer {
  readonly matched: readonly string[]
  readonly decisions: Readonly<Record<string, unknown>>
}

const stages = ['triage', 'packing', 'origin', 'protection', 'service', 'papers'] as const

/** What rules and pins come to for one order. */
export function interpret(
  order: Order,
  rulebook: Rulebook,
  world: World,
  now: number,
  pins: Pins,
  found: Routed,
): Answer {
  const wishes: Wish[] = []
  const matched: string[] = []
  const decisions: Record<string, unknown> = { ...standard }
  let settled = 0
  const goods = order.items.some(({ unitWeight }) => unitWeight === null)
    ? undefined
    : order.items.reduce((sum, item) => sum + item.unitWeight! * item.quantity, 0)

  const zone = (): string =>
    (settled > 2 ? world.locations.find(({ id }) => id === found.location)?.timeZone : undefined) ??
    world.locations[0]?.timeZone ??
    'UTC'
  const told: Told = { order, world, now, pins, wishes, goods, zone }
  const asked = {
    ...{ order, rulebook, means: { rates: world.rates, groups: rulebook.groups, now, zone } },
    factOf: (id: string): Fact => factOf(id, { ...told, found, settled, decisions, corrected: () => corrected(told) }),
  }
  for (const [at, stage] of stages.entries()) {
    settled = at
    const today = shown(now, zone()).day
    for (const rule of rulebook.rules) {
      if (
        rule.stage !== stage ||
        !rule.on ||
        (rule.from && rule.from > today) ||
        (rule.until && rule.until < today) ||
        !holds(rule.when, asked)
      )
        continue
      matched.push(rule.id)
      for (const { set, to } of rule.then) wishes.push({ id: set, value: to, rule: rule.id })
      if (rule.finishStage) break
    }
    for (const id of decisionsOf(stage)) decisions[id] = decide(id, told)
  }
  return { matched, decisions }
}
