import type { Order } from '@/core/order'
import { decisionById, type DecisionId, openCase, type Condition, type Rule } from '@/core/rulebook/language'
import { compileRulebook } from '@/core/rulebook/compile'
import { matchMask } from '@/core/rulebook/decide'
import type { ReadyWorld } from '@/core/world'

/** An order of the past with what people pinned, and what was decided in the end. */
export interface Precedent {
  readonly id: number
  readonly number: string
  readonly order: Order
  readonly pins: Readonly<Partial<Record<DecisionId, unknown>>>
  readonly decided: Readonly<Partial<Record<DecisionId, unknown>>>
}

/** A pattern in hand pins, as a rule. */
export interface Suggestion {
  readonly decision: DecisionId
  readonly value: unknown
  readonly when: Condition
  /** Orders that it is about and that were pinned so, of all that were pinned so. */
  readonly support: readonly { readonly id: number; readonly number: string }[]
  readonly pinned: number
  /** Orders that it is about too, and that were decided otherwise, by hand or by rules that nobody corrected. */
  readonly against: readonly { readonly id: number; readonly number: string }[]
}

const minSupport = 3
const minShare = 0.75
/** Decisions that say something about one order only. */
const notGeneral = new Set<DecisionId>(['weight', 'hold', 'shipOn', 'barred', 'allowed', 'tags'])

/**
 * Finds conditions that tell the orders pinned alike from the others: one test, or two together, the fewest that hold
 * for at least three of them and for at least three quarters of all orders they are about. The best for each decision
 * and value.
 */
export function suggestRules(precedents: readonly Precedent[], ready: ReadyWorld, now: number): Suggestion[] {
  const groups = new Map<string, { decision: DecisionId; value: unknown; members: number[] }>()
  precedents.forEach(({ pins }, at) => {
    for (const [decision, value] of Object.entries(pins) as [DecisionId, unknown][]) {
      if (notGeneral.has(decision) || !decisionById.has(decision)) continue
      const key = `${decision} ${JSON.stringify(value)}`
      const group = groups.get(key) ?? { decision, value, members: [] }
      group.members.push(at)
      groups.set(key, group)
    }
  })
  const found: Suggestion[] = []
  for (const group of groups.values()) {
    if (group.members.length < minSupport) continue
    const best = bestCondition(group, precedents, ready, now)
    if (best) found.push(best)
  }
  return found.sort((a, b) => b.support.length - a.support.length)
}

function bestCondition(
  { decision, value, members }: { decision: DecisionId; value: unknown; members: readonly number[] },
  precedents: readonly Precedent[],
  ready: ReadyWorld,
  now: number,
): Suggestion | null {
  const tests = sharedTests(members.map((at) => precedents[at]!.order))
  const hits = matching(tests, precedents, ready, now)
  const pinned = new Set(members)
  const wanted = JSON.stringify(value)
  // What was left as the rules decided speaks against it only when they decided something else.
  const agrees = precedents.map(({ decided }) => JSON.stringify(decided[decision]) === wanted)
  let best: { when: Condition; parts: number; support: number[]; against: number[]; score: number } | null = null
  const look = (parts: readonly number[]): void => {
    const about = precedents.map((_, at) => at).filter((at) => parts.every((part) => hits[part]!.has(at)))
    const support = about.filter((at) => pinned.has(at))
    const against = about.filter((at) => !pinned.has(at) && !agrees[at])
    const share = support.length / Math.max(1, support.length + against.length)
    if (support.length < minSupport || share < minShare) return
    const score = share * support.length - 0.4 * (parts.length - 1)
    if (!best || score > best.score)
      best = { when: { all: parts.map((part) => tests[part]!) }, parts: parts.length, support, against, score }
  }
  for (let a = 0; a < tests.length; a++) {
    look([a])
    for (let b = a + 1; b < tests.length; b++) look([a, b])
  }
  const name = (at: number): { id: number; number: string } => ({
    id: precedents[at]!.id,
    number: precedents[at]!.number,
  })
  const chosen = best as { when: Condition; support: number[]; against: number[] } | null
  return (
    chosen && {
      decision,
      value,
      when: chosen.when,
      support: chosen.support.map(name),
      against: chosen.against.map(name),
      pinned: members.length,
    }
  )
}

/** Tests that hold for at least three of some orders. */
function sharedTests(orders: readonly Order[]): Condition[] {
  const counted = new Map<string, { test: Condition; n: number }>()
  const count = (tests: readonly Condition[]): void => {
    for (const key of new Set(tests.map((test) => JSON.stringify(test)))) {
      const entry = counted.get(key) ?? { test: JSON.parse(key) as Condition, n: 0 }
      entry.n++
      counted.set(key, entry)
    }
  }
  for (const { channel, wording, shipTo, paymentMethod, buyer, items } of orders) {
    const tags = new Set(items.flatMap((item) => item.tags))
    count([
      { fact: 'channel', op: 'is', value: channel },
      ...(wording ? [{ fact: 'wording', op: 'is' as const, value: wording }] : []),
      ...(shipTo.country ? [{ fact: 'country', op: 'is' as const, value: shipTo.country }] : []),
      ...(shipTo.postcode.length >= 4
        ? [{ fact: 'postcode', op: 'starts with' as const, value: shipTo.postcode.slice(0, 2) }]
        : []),
      { fact: 'company', op: 'is', value: shipTo.company !== '' },
      { fact: 'payment', op: 'is', value: paymentMethod },
      { fact: 'returning buyer', op: 'is', value: buyer.returning },
      { fact: 'post-office box', op: 'is', value: true },
      ...items.map((item): Condition => ({ items: 'any', where: { fact: 'sku', op: 'is', value: item.sku } })),
      ...[...tags].map((tag): Condition => ({
        items: 'any',
        where: { fact: 'item tags', op: 'has any', value: [tag] },
      })),
      ...items.flatMap((item): Condition[] =>
        item.dangerousGoods
          ? [{ items: 'any', where: { fact: 'dangerous goods', op: 'is', value: item.dangerousGoods } }]
          : [],
      ),
    ])
  }
  return [...counted.values()]
    .filter(({ n }) => n >= minSupport)
    .sort((a, b) => b.n - a.n)
    .slice(0, 40)
    .map(({ test }) => test)
}

/** For each test, the places of the orders it holds for. */
function matching(
  tests: readonly Condition[],
  precedents: readonly Precedent[],
  ready: ReadyWorld,
  now: number,
): Set<number>[] {
  const rules = tests.map((when, i): Rule => ({
    id: String(i),
    stage: 'triage',
    name: String(i),
    on: true,
    when,
    then: [],
  }))
  const stage = compileRulebook({ name: '', groups: [], rules }, ready.world.rates).stages.triage
  const hits = tests.map(() => new Set<number>())
  precedents.forEach(({ order }, at) => {
    const mask = matchMask(stage, openCase(order, ready, now))
    for (let i = 0; i < tests.length; i++) if (mask[i >>> 5]! & (1 << (i & 31))) hits[i]!.add(at)
  })
  return hits
}
