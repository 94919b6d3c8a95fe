import fc from 'fast-check'
import { anyDraft, anyOrder, anyRulebook, testWorld, testWorlds } from '../language/arbitraries.test-help'
import { manyDecider } from './decideMany'
import { type GivenOrder, orderMemory } from './orderBlocks'
import { flowCounter } from './ruleFlow'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Pins } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'

const moments = [
  Date.parse('2026-11-20T08:00:00Z'),
  Date.parse('2026-11-25T17:30:00Z'),
  Date.parse('2026-11-19T23:30:00Z'),
]
const anyPins = fc.constantFrom<Pins | undefined>(
  undefined,
  undefined,
  undefined,
  { preset: 'large' },
  { hold: null, weight: 120 },
)
const anyGiven: fc.Arbitrary<GivenOrder[]> = fc
  .array(fc.record({ order: anyOrder, now: fc.constantFrom(...moments), pins: anyPins }), {
    minLength: 1,
    maxLength: 12,
  })
  .map((given) => given.map(({ order, now, pins }) => ({ order, now, ...(pins ? { pins } : {}) })))

test('many orders at once are decided as each of them by itself, by one rulebook after another, block after block', () => {
  fc.assert(
    fc.property(
      fc.tuple(anyRulebook, anyDraft),
      anyGiven,
      anyGiven,
      fc.constantFrom(...testWorlds.map(readyWorld)),
      (rulebooks, one, two, ready) => {
        const memory = orderMemory(ready)
        const programs = rulebooks.map((rulebook) => compileRulebook(rulebook, testWorld.rates))
        const deciders = programs.map((program) => manyDecider(program, memory))
        const counters = rulebooks.map(flowCounter)
        for (const given of [one, two, one]) {
          const block = memory.read(given)
          programs.forEach((program, p) => {
            let next = 0
            deciders[p]!.decide(block, (i, got) => {
              expect(i).toBe(next++)
              const { order, now, pins } = given[i]!
              const wanted = route(order, program, ready, { now, ...(pins ? { pins } : {}) })
              counters[p]!.add(wanted.trail)
              expect({ ...got, stuck: got.stuck }).toMatchObject({
                decisions: wanted.decisions,
                holdUntil: wanted.holdUntil,
                parcels: wanted.parcels,
                location: wanted.location,
                quote: wanted.quote,
                daysLate: wanted.daysLate,
                stuck: wanted.problems.length > 0,
              })
            })
            expect(next).toBe(given.length)
          })
        }
        deciders.forEach((decider, p) => expect(decider.flow()).toEqual(counters[p]!.counts))
      },
    ),
    { numRuns: 150 },
  )
})

test('what two rulebooks say alike is the same object, so that differences are found quickly', () => {
  const memory = orderMemory(readyWorld(testWorld))
  expect(memory.same([{ by: 'cheapest' }])).toBe(memory.same([{ by: 'cheapest' }]))
  expect(memory.same(['a'])).not.toBe(memory.same(['b']))
})
