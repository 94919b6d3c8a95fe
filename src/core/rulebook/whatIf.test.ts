import fc from 'fast-check'
import { grams, minorUnits } from '@/core/units'
import { anyOrder, anyRulebook, testWorld } from './arbitraries.test-help'
import { changeBetween, changedOrder, compileRulebook, differingDecisions, flowCounter, readyWorld, route, summariseTrial, whyNotService, type Rulebook, type TrialChange } from './index'

const ready = readyWorld(testWorld)
const now = Date.parse('2026-11-20T08:00:00Z')
const compiled = (rulebook: Rulebook) => compileRulebook(rulebook, testWorld.rates)

test('a changed weight is spread over the items, and nothing else moves', () => {
  fc.assert(fc.property(anyOrder, fc.integer({ min: 1, max: 50_000 }), (order, weight) => {
    const after = changedOrder(order, { weight: grams(weight) })
    const total = after.items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0)
    if (order.items.length > 0) expect(Math.abs(total - weight)).toBeLessThanOrEqual(order.items.reduce((sum, item) => sum + item.quantity, 0))
    expect({ ...after, items: order.items, problems: order.problems }).toEqual(order)
  }))
})

test('no change, no difference; and the order itself is never touched', () => {
  fc.assert(fc.property(anyRulebook, anyOrder, (rulebook, order) => {
    const kept = JSON.stringify(order)
    const program = compiled(rulebook)
    const before = route(order, program, ready, { now })
    expect(differingDecisions(before, route(changedOrder(order, {}), program, ready, { now }))).toEqual([])
    changedOrder(order, { country: 'NL', value: minorUnits(1), wording: 'x', postcode: '1', promisedBy: '2026-12-24' })
    expect(JSON.stringify(order)).toBe(kept)
  }), { numRuns: 100 })
})

test('why not: every service that was not chosen has its reason, the chosen one has none', () => {
  fc.assert(fc.property(anyRulebook, anyOrder, (rulebook, order) => {
    const routed = route(order, compiled(rulebook), ready, { now })
    if (!routed.quote) {
      for (const service of testWorld.services) expect(whyNotService(routed, service.id, (id) => id).length).toBeGreaterThan(0)
      return
    }
    for (const service of testWorld.services) expect(whyNotService(routed, service.id, (id) => id)).toHaveLength(service.id === routed.quote.service ? 0 : 1)
  }), { numRuns: 300 })
})

test('a trial of a rulebook against itself changes nothing; its sums are those of its changes', () => {
  fc.assert(fc.property(anyRulebook, anyRulebook, fc.array(anyOrder, { maxLength: 8 }), (a, b, orders) => {
    const [first, second] = [compiled(a), compiled(b)]
    const changes = orders.flatMap((order, id): TrialChange[] => {
      const trialCase = { id, order, now }
      expect(changeBetween(trialCase, route(order, first, ready, { now }), route(order, first, ready, { now }))).toBeNull()
      const change = changeBetween(trialCase, route(order, first, ready, { now }), route(order, second, ready, { now }))
      return change ? [change] : []
    })
    const summary = summariseTrial(changes, orders.length)
    expect(summary.changed).toBe(changes.length)
    expect(summary.costDifference).toBe(changes.reduce((sum, { before, after }) => sum + (before.cost !== null && after.cost !== null ? after.cost - before.cost : 0), 0))
    expect(summary.moves.reduce((sum, move) => sum + move.count, 0)).toBe(summary.serviceChanges)
    expect(Object.values(summary.byCountry).reduce((sum, place) => sum + place.count, 0)).toBe(changes.length)
  }), { numRuns: 150 })
})

test('flow: never more decided than matched, never more matched than came', () => {
  fc.assert(fc.property(anyRulebook, fc.array(anyOrder, { maxLength: 6 }), (rulebook, orders) => {
    const counter = flowCounter(rulebook)
    const program = compiled(rulebook)
    for (const order of orders) counter.add(route(order, program, ready, { now }).trail)
    for (const rule of rulebook.rules) {
      const { came, matched, decided } = counter.counts[rule.id]!
      expect(decided <= matched && matched <= came && came <= orders.length).toBe(true)
      if (!rule.on) expect(came).toBe(0)
    }
  }), { numRuns: 150 })
})
