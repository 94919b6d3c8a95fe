import fc from 'fast-check'
import type { RefusalCode } from '@/core/rating'
import { compileRulebook } from '@/core/rulebook/compile'
import { readyWorld } from '@/core/world'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { reasonFrom, reasonInBrief } from './reasonInBrief'
import { route } from './route'

const refusals = (...given: [RefusalCode, string][]) =>
  given.map(([code, sentence]) => ({ service: 's', carrier: 'c', code, sentence }))
const brief = (code: string, ...given: [RefusalCode, string][]) =>
  reasonInBrief({
    problems: [{ code, sentence: 'A long sentence.' }],
    trail: { stages: [], decisions: [], quotes: [], refusals: refusals(...given) },
  })

test('the reason says what keeps the order, the gravest that a person can change first', () => {
  expect(brief('no-service', ['too-heavy', 'x'], ['dangerous-goods', 'does not take UN 1013'])).toBe(
    'UN 1013: nobody takes it',
  )
  expect(brief('no-service', ['not-covered', 'x'], ['too-dear', 'x'])).toBe('All above the cost ceiling')
  expect(brief('no-service', ['no-offer', 'does not take live goods'])).toBe('Nobody takes live goods')
  expect(brief('no-service')).toBe('No service')
  expect(brief('address-postcode')).toBe('Check the address')
  expect(brief('something new')).toBe('A long sentence.')
})

test('a reason that is one of the place names it; others, and orders without a place, do not', () => {
  expect(reasonFrom('UN 1013: nobody takes it', 'Leeds (partner)')).toBe('Leeds: nobody takes UN 1013')
  expect(reasonFrom(brief('no-service', ['not-covered', 'x'])!, 'Ghent')).toBe('Ghent: no service goes there')
  expect(reasonFrom('UN 1013: nobody takes it', null)).toBe('UN 1013: nobody takes it')
  expect(reasonFrom('Check the address', 'Leeds')).toBe('Check the address')
})

test('every order that needs a person has a reason that fits into its column', () => {
  const ready = readyWorld(testWorld)
  fc.assert(
    fc.property(anyOrder, anyRulebook, (order, rulebook) => {
      const routed = route(order, compileRulebook(rulebook, testWorld.rates), ready, { now: 1_763_628_000_000 })
      const reason = reasonInBrief(routed)
      expect(reason === null).toBe(routed.problems.length === 0)
      expect(reason?.length ?? 0).toBeLessThanOrEqual(32)
    }),
    { numRuns: 300 },
  )
})
