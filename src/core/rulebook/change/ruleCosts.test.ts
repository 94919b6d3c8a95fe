import fc from 'fast-check'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { ruleCosts } from './ruleCosts'
import type { TrialCase } from './trial'

const now = 1_763_628_000_000
const ready = readyWorld(testWorld)

/** The same by hand: each order with the rule and without it, one by one. */
function plainly(rulebook: Rulebook, id: string, cases: readonly TrialCase[]) {
  const without = { ...rulebook, rules: rulebook.rules.filter((rule) => rule.id !== id) }
  const sum = { saves: 0, late: 0, stuck: 0 }
  for (const { order } of cases) {
    const [a, b] = [rulebook, without].map((rules) => {
      const routed = route(order, compileRulebook(rules, testWorld.rates), ready, { now })
      return { cost: routed.quote?.cost ?? null, late: (routed.daysLate ?? 0) > 0, stuck: routed.problems.length > 0 }
    }) as [
      { cost: number | null; late: boolean; stuck: boolean },
      { cost: number | null; late: boolean; stuck: boolean },
    ]
    if (a.cost !== null && b.cost !== null) sum.saves += b.cost - a.cost
    sum.late += Number(a.late) - Number(b.late)
    sum.stuck += Number(a.stuck) - Number(b.stuck)
  }
  return sum
}

test('what each rule costs or saves is what the orders say when they are decided with and without it, one by one', () => {
  fc.assert(
    fc.property(anyRulebook, fc.array(anyOrder, { minLength: 1, maxLength: 6 }), (rulebook, orders) => {
      const cases = orders.map((order, id): TrialCase => ({ id, order, now }))
      const costs = [...ruleCosts(rulebook, testWorld, cases)]
      expect(costs.map(({ rule }) => rule)).toEqual(rulebook.rules.filter(({ on }) => on).map(({ id }) => id))
      for (const { rule, changed, ...sum } of costs) {
        expect([rule, sum]).toEqual([rule, plainly(rulebook, rule, cases)])
        expect(changed).toBeLessThanOrEqual(cases.length)
        if (changed === 0) expect(sum).toEqual({ saves: 0, late: 0, stuck: 0 })
      }
    }),
    { numRuns: 60 },
  )
})
