import fc from 'fast-check'
import { withAddressChecked } from '@/core/address'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { emptyRulebook, type Pins, type Rulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { demoWorld } from '../../../../demo/world'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { testOrder } from '../../order/order.test-help'
import { handEditor } from './handEdits'
import { type Deciding, waysOut } from './waysOut'

const now = Date.parse('2026-11-20T08:00:00Z')
const decidingBy = (rulebook: Rulebook, world = testWorld): Deciding => ({
  program: compileRulebook(rulebook, world.rates),
  ready: readyWorld(world),
  now,
})

test('each way out lets the order go, at the cost and by the service that it says; the cheapest is first', () => {
  let found = 0
  fc.assert(
    fc.property(anyRulebook, anyOrder, (rulebook, order) => {
      const deciding = decidingBy(rulebook)
      const pins: Pins = {}
      const routed = route(order, deciding.program, deciding.ready, { now })
      const ways = waysOut(order, routed, pins, deciding)
      if (routed.problems.length === 0) expect(ways).toEqual([])
      for (const way of ways) {
        if (way.address !== null) continue
        const next = handEditor(way.edits)({ id: 1, order, tags: routed.decisions.tags }, pins)
        const after = route(order, deciding.program, deciding.ready, { now, pins: next })
        expect([after.problems, after.quote?.service, after.quote?.cost]).toEqual([[], way.service, way.cost])
        found++
      }
      const costs = ways.map(({ cost }) => cost)
      expect(costs).toEqual([...costs].sort((a, b) => a - b))
      expect(new Set(ways.map(({ key }) => key)).size).toBe(ways.length)
    }),
    { numRuns: 1000 },
  )
  expect(found).toBeGreaterThan(5)
})

const rules = (...then: Rulebook['rules'][number]['then']): Rulebook => ({
  ...emptyRulebook,
  rules: [{ id: 'r', name: 'A rule', stage: 'triage', on: true, when: { all: [] }, then }],
})
const wordsOf = (order: ReturnType<typeof testOrder>, rulebook: Rulebook): string[] => {
  const deciding = decidingBy(rulebook, demoWorld)
  return waysOut(order, route(order, deciding.program, deciding.ready, { now }), {}, deciding).map(({ words }) => words)
}

test('a bar is lifted for one service, a ceiling or a signature let go', () => {
  const order = testOrder({})
  const all = demoWorld.carriers.map(({ id }) => id)
  expect(wordsOf(order, rules({ set: 'barred', to: all }))).toContain('with Corvid Parcel, which a rule bars')
  expect(wordsOf(order, rules({ set: 'ceiling', to: { minor: 1, currency: 'EUR' } }))).toEqual([
    'above the cost ceiling',
  ])
})

test('an address with a doubt goes corrected, or as it is', () => {
  const order = withAddressChecked(testOrder({ shipTo: { country: 'NL', postcode: '10 12' } }))
  expect(order.problems.map(({ code }) => code)).toEqual([expect.stringMatching(/^address-/)])
  expect(wordsOf(order, emptyRulebook)).toContain('with the address as it is')
})

test('nothing is offered where nothing helps: a weight that nobody knows', () => {
  const order = testOrder({})
  expect(
    wordsOf({ ...order, items: order.items.map((item) => ({ ...item, unitWeight: null })) }, emptyRulebook),
  ).toEqual([])
})
