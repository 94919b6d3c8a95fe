import fc from 'fast-check'
import { type Condition, isTest, membersOf } from '@/core/rulebook/language'
import { waysToHold } from './alternatives'

/** A condition over the facts a, b and c, each of which is a digit. */
const leaf = fc.record({
  fact: fc.constantFrom('a', 'b', 'c'),
  op: fc.constantFrom('=' as const, '>' as const),
  value: fc.integer({ min: 0, max: 3 }),
})
const { condition } = fc.letrec<{ condition: Condition }>((tie) => ({
  condition: fc.oneof(
    { depthSize: 'small' },
    leaf,
    fc.record({ all: fc.array(tie('condition'), { maxLength: 3 }) }),
    fc.record({ any: fc.array(tie('condition'), { maxLength: 3 }) }),
    fc.record({ none: fc.array(tie('condition'), { maxLength: 3 }) }),
  ),
}))
const sourcesOf = (of: Condition): Set<string> =>
  isTest(of) ? new Set([of.fact]) : new Set(membersOf(of).flatMap((member) => [...sourcesOf(member)]))

function holds(of: Condition, point: Readonly<Record<string, number>>): boolean {
  if (isTest(of)) return of.op === '=' ? point[of.fact] === of.value : point[of.fact]! > (of.value as number)
  const members = membersOf(of).map((member) => holds(member, point))
  if ('all' in of) return members.every(Boolean)
  return 'any' in of ? members.some(Boolean) : !members.some(Boolean)
}

test('a condition holds where all parts of one of its ways do, and a part looks at one source', () => {
  const point = fc.record({ a: fc.nat(3), b: fc.nat(3), c: fc.nat(3) })
  fc.assert(
    fc.property(condition, fc.array(point, { minLength: 1, maxLength: 20 }), (given, points) => {
      const ways = waysToHold(given, sourcesOf, 200)!
      for (const way of ways) for (const part of way) expect(sourcesOf(part).size).toBe(1)
      for (const at of points) expect(ways.some((way) => way.every((part) => holds(part, at)))).toBe(holds(given, at))
    }),
    { numRuns: 500 },
  )
})

test('tests on one fact stay together; what never holds has no way; too many are none', () => {
  const is = (fact: string, value: number): Condition => ({ fact, op: '=', value })
  expect(waysToHold({ any: [is('a', 1), is('b', 1), is('a', 2)] }, sourcesOf, 8)).toEqual([
    [{ any: [is('a', 1), is('a', 2)] }],
    [is('b', 1)],
  ])
  expect(waysToHold({ none: [is('a', 1), { all: [is('b', 1), is('c', 1)] }] }, sourcesOf, 8)).toEqual([
    [{ none: [is('a', 1)] }, { none: [is('b', 1)] }],
    [{ none: [is('a', 1)] }, { none: [is('c', 1)] }],
  ])
  expect(waysToHold({ any: [] }, sourcesOf, 8)).toEqual([])
  expect(waysToHold({ all: [] }, sourcesOf, 8)).toEqual([[]])
  const either: Condition = { any: [is('a', 1), is('b', 1)] }
  expect(waysToHold({ all: [either, either, either] }, sourcesOf, 8)).toHaveLength(8)
  expect(waysToHold({ all: [either, either, either, either] }, sourcesOf, 8)).toBeNull()
})
