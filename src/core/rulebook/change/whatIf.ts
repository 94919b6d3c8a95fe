import type { Order } from '@/core/order'
import { itemsWeight } from '@/core/packing'
import { formatMoney, grams, type Grams, type MinorUnits, money } from '@/core/units'
import type { Routed, Source } from '@/core/rulebook/language'

/** Facts of an order that can be changed to see how the decision moves. */
export interface OrderChange {
  /** Weight of all items together. */
  readonly weight?: Grams
  /** In the order's own currency. */
  readonly value?: MinorUnits
  readonly country?: string
  readonly postcode?: string
  readonly wording?: string
  readonly promisedBy?: string
}

/** The order as it would be; the order itself is not touched. The weight is spread over the items as it lies now. */
export function changedOrder(order: Order, change: OrderChange): Order {
  return {
    ...order,
    ...(change.wording === undefined ? {} : { wording: change.wording }),
    ...(change.promisedBy === undefined ? {} : { promisedBy: change.promisedBy }),
    ...(change.value === undefined ? {} : { value: money(change.value, order.value.currency) }),
    shipTo: {
      ...order.shipTo,
      ...(change.country === undefined ? {} : { country: change.country }),
      ...(change.postcode === undefined ? {} : { postcode: change.postcode }),
    },
    items: change.weight === undefined ? order.items : spread(order.items, change.weight),
    problems: order.problems.filter(
      (problem) =>
        !(problem.code === 'unknown-country' && change.country) && !(problem.code === 'no-weight' && change.weight),
    ),
  }
}

function spread(items: Order['items'], weight: number): Order['items'] {
  const before = itemsWeight(items)
  const pieces = items.reduce((sum, item) => sum + item.quantity, 0)
  return items.map((item) => ({
    ...item,
    unitWeight: grams(before > 0 ? ((item.unitWeight ?? 0) * weight) / before : weight / Math.max(1, pieces)),
  }))
}

/**
 * What stood in the way of a service: the shortest list there is. Empty when it was chosen, or is not known.
 * `ruleName` names a rule by its identifier; costs are in the home currency `home`.
 */
export function whyNotService(
  routed: Routed,
  service: string,
  ruleName: (id: string) => string,
  home: string,
): string[] {
  if (routed.quote?.service === service) return []
  const refusal = routed.trail.refusals.find((candidate) => candidate.service === service)
  if (refusal) return [`It ${refusal.sentence}.`]
  const quote = routed.trail.quotes.find((candidate) => candidate.service === service)
  // It came to a stop before any service was chosen: what stopped it stands in the way of each.
  if (!routed.quote) return routed.problems.map((problem) => problem.sentence)
  if (!quote) return []
  const picks = routed.trail.decisions.find((entry) => entry.decision === 'picks')
  const by = whoChose(picks?.by, ruleName)
  const compared = [
    costBeside(quote.cost, routed.quote.cost, home),
    arrivalBeside(quote.arrivesOn, routed.quote.arrivesOn),
  ]
  return [`${by}. It could carry the parcel: ${compared.join(', ')}.`]
}

function whoChose(by: Source | undefined, ruleName: (id: string) => string): string {
  if (by?.kind === 'rule') return `The rule "${ruleName(by.rule)}" chose otherwise`
  return by?.kind === 'pin'
    ? 'A hand pin chose otherwise'
    : 'Without a rule, the cheapest that arrives by the promised day is taken'
}

function costBeside(cost: number, chosen: number, home: string): string {
  if (cost === chosen) return 'the same price'
  return `${formatMoney(money(Math.abs(cost - chosen), home))} ${cost > chosen ? 'dearer' : 'cheaper'}`
}

function arrivalBeside(day: string, chosen: string): string {
  if (day === chosen) return 'arrives the same day'
  return `arrives ${day > chosen ? 'later' : 'earlier'} (${day})`
}
