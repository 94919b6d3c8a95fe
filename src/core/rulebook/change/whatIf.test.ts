import fc from 'fast-check'
import { grams, minorUnits } from '@/core/units'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { changeBetween, differingIn, emptySummary, movedTo, movesOf, tally, type TrialChange } from './trial'
import { changedOrder, whyNotService } from './whatIf'
import { flowCounter } from '@/core/rulebook/bulk'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Rulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'

const ready = readyWorld(testWorld)
const now = Date.parse('2026-11-20T08:00:00Z')
const compiled = (rulebook: Rulebook) => compileRulebook(rulebook, testWorld.rates)

test('a changed weight is spread over the items, and nothing else moves', () => {
  fc.assert(
    fc.property(anyOrder, fc.integer({ min: 1, max: 50_000 }), (order, weight) => {
      const after = changedOrder(order, { weight: grams(weight) })
      const total = after.items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0)
      if (order.items.length > 0)
        expect(Math.abs(total - weight)).toBeLessThanOrEqual(order.items.reduce((sum, item) => sum + item.quantity, 0))
      expect({ ...after, items: order.items, problems: order.problems }).toEqual(order)
    }),
  )
})

test('no change, no difference; and the order itself is never touched', () => {
  fc.assert(
    fc.property(anyRulebook, anyOrder, (rulebook, order) => {
      const kept = JSON.stringify(order)
      const program = compiled(rulebook)
      const before = route(order, program, ready, { now })
      expect(differingIn(before.decisions, route(changedOrder(order, {}), program, ready, { now }).decisions)).toEqual(
        [],
      )
      changedOrder(order, {
        country: 'NL',
        value: minorUnits(1),
        wording: 'x',
        postcode: '1',
        promisedBy: '2026-12-24',
      })
      expect(JSON.stringify(order)).toBe(kept)
    }),
    { numRuns: 100 },
  )
})

test('why not: every service that was not chosen has its reason, the chosen one has none', () => {
  fc.assert(
    fc.property(anyRulebook, anyOrder, (rulebook, order) => {
      const routed = route(order, compiled(rulebook), ready, { now })
      if (!routed.quote) {
        for (const service of testWorld.services)
          expect(whyNotService(routed, service.id, (id) => id, 'EUR').length).toBeGreaterThan(0)
        return
      }
      for (const service of testWorld.services)
        expect(whyNotService(routed, service.id, (id) => id, 'EUR')).toHaveLength(
          service.id === routed.quote.service ? 0 : 1,
        )
    }),
    { numRuns: 300 },
  )
})

test('a trial of a rulebook against itself changes nothing; its sums are those of its changes', () => {
  fc.assert(
    fc.property(anyRulebook, anyRulebook, fc.array(anyOrder, { maxLength: 8 }), (a, b, orders) => {
      const [first, second] = [compiled(a), compiled(b)]
      const summary = emptySummary()
      const changes = orders.flatMap((order, id): TrialChange[] => {
        const trialCase = { id, order, now }
        const before = route(order, first, ready, { now })
        expect(changeBetween(trialCase, before, route(order, first, ready, { now }))).toBeNull()
        const change = tally(summary, trialCase, before, route(order, second, ready, { now }))
        return change ? [change] : []
      })
      expect(summary.orders).toBe(orders.length)
      expect(summary.changed).toBe(changes.length)
      expect(summary.costDifference).toBe(
        changes.reduce(
          (sum, { before, after }) =>
            sum + (before.cost !== null && after.cost !== null ? after.cost - before.cost : 0),
          0,
        ),
      )
      expect(movesOf(summary).reduce((sum, move) => sum + move.count, 0)).toBe(summary.serviceChanges)
      for (const group of Object.values(summary.groups)) {
        expect(Object.values(group).reduce((sum, sides) => sum + sides.ordersBefore, 0)).toBe(orders.length)
        expect(Object.values(group).reduce((sum, sides) => sum + sides.ordersAfter, 0)).toBe(orders.length)
      }
    }),
    { numRuns: 150 },
  )
})

test('flow: never more decided than matched, never more matched than came', () => {
  fc.assert(
    fc.property(anyRulebook, fc.array(anyOrder, { maxLength: 6 }), (rulebook, orders) => {
      const counter = flowCounter(rulebook)
      const program = compiled(rulebook)
      for (const order of orders) counter.add(route(order, program, ready, { now }).trail)
      for (const rule of rulebook.rules) {
        const { came, matched, decided } = counter.counts[rule.id]!
        expect(decided <= matched && matched <= came && came <= orders.length).toBe(true)
        if (!rule.on) expect(came).toBe(0)
      }
    }),
    { numRuns: 150 },
  )
})

test('as of another day, an order moves by whole weeks with all its times', () => {
  const [today, asOf] = [Date.parse('2026-11-25T10:00:00Z'), Date.parse('2026-12-24T12:00:00Z')]
  const given = {
    id: 1,
    now: today,
    order: { ...fc.sample(anyOrder, 1)[0]!, placedAt: '2026-11-20T08:00:00.000Z', promisedBy: '2026-11-24' },
  }
  expect(movedTo(given, today, asOf)).toMatchObject({
    now: Date.parse('2026-12-23T10:00:00Z'),
    order: { placedAt: '2026-12-18T08:00:00.000Z', promisedBy: '2026-12-22' },
  })
  expect(movedTo(given, today, today + 86_400_000)).toBe(given)
})
