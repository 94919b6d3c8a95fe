import fc from 'fast-check'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Pins } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { anyOrder, anyRulebook, testWorlds } from '../src/core/rulebook/language/arbitraries.test-help'
import type { Check } from './check'
import { interpret } from './rules'

const anyPins = fc.constantFrom<Pins>(
  {},
  {},
  { preset: 'large' },
  { hold: null, weight: 120 },
  { hold: 'wait' },
  { weight: -300 },
  { dimensions: [300, 200, 100] as never },
  { picks: [{ by: 'service', service: 'a-slow' }], tags: ['live'] },
  { allowed: ['a-fast'] },
  { barred: ['a'] },
)
/**
 * Mornings and evenings of one day in Ghent, Auckland and New York; the last and first minutes of a year, and both
 * changes of the clocks.
 */
const moments = [
  '2026-11-20T09:00:00Z',
  '2026-11-20T03:30:00Z',
  '2026-11-19T12:30:00Z',
  '2026-12-31T22:59:59Z',
  '2026-12-31T23:30:00Z',
  '2026-10-25T00:59:00Z',
  '2026-10-25T01:01:00Z',
  '2026-03-29T00:59:59Z',
  '2026-11-01T05:30:00Z',
].map((text) => Date.parse(text))

/** Random rulebooks, orders, pins and clocks: every rule that matched and every decision. */
export const pairs: Check = {
  name: 'pairs of a rulebook and an order',
  goal: 100_000,
  property: (count) =>
    fc.property(
      anyRulebook,
      fc.array(anyOrder, { minLength: 1, maxLength: 8 }),
      anyPins,
      fc.constantFrom(...testWorlds),
      fc.constantFrom(...moments),
      (rulebook, orders, pins, world, now) => {
        const program = compileRulebook(rulebook, world.rates)
        const ready = readyWorld(world)
        for (const order of orders) {
          const found = route(order, program, ready, { now, pins })
          const wanted = interpret(order, rulebook, world, now, pins, found)
          same(
            'rules that matched',
            found.trail.stages.flatMap(({ matched }) => matched),
            wanted.matched,
          )
          same('decisions', found.decisions, wanted.decisions)
          count()
        }
      },
    ),
}

/** By their JSON with sorted keys. */
function same(what: string, found: unknown, wanted: unknown): void {
  const [a, b] = [found, wanted].map((value) =>
    JSON.stringify(value, (_, part: unknown) =>
      part !== null && typeof part === 'object' && !Array.isArray(part)
        ? Object.fromEntries(Object.entries(part).sort(([x], [y]) => (x < y ? -1 : 1)))
        : part,
    ),
  )
  if (a !== b) throw new Error(`${what}: the engine says ${a}, the reference says ${b}`)
}
