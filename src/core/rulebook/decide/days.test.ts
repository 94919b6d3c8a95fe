import { normaliseOrder } from '@/core/order'
import { testWorld } from '../language/arbitraries.test-help'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from './route'
import type { Condition, Rule } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'

/*
 * Days are those of the location's clocks, at both ends: Ghent, Auckland (ahead), New York (behind), clock changes,
 * the year's end.
 */

/**
 * Whether a rule of Triage holds for an order placed and promised as said, at a moment, when orders ship from a place
 * with these clocks.
 */
function holds(
  zone: string,
  now: string,
  rule: Partial<Rule>,
  order: { placedAt?: string; promisedBy?: string } = {},
): boolean {
  const ready = readyWorld({ ...testWorld, locations: [{ ...testWorld.locations[0]!, timeZone: zone }] })
  const program = compileRulebook(
    {
      name: 'x',
      groups: [],
      rules: [
        {
          id: 'r',
          stage: 'triage',
          name: 'r',
          on: true,
          when: { all: [] },
          then: [{ set: 'tags', to: ['yes'] }],
          ...rule,
        },
      ],
    },
    testWorld.rates,
  )
  const given = normaliseOrder(
    {
      id: '1',
      number: '1',
      placedAt: order.placedAt ?? '2026-11-20T08:00:00Z',
      promisedBy: order.promisedBy ?? '',
      shipTo: { lines: ['Kaai 1'], city: 'Gent', postcode: '9000', country: 'BE' },
      items: [{ sku: 'A', quantity: 1, weight: 100 }],
    },
    'shop',
    new Map(),
  )
  return route(given, program, ready, { now: Date.parse(now) }).decisions.tags.includes('yes')
}
const when = (fact: string, op: string, value: unknown): { when: Condition } => ({
  when: { fact, op, value } as Condition,
})

test.each([
  ['Europe/Brussels', '2026-11-20T22:59:59Z', '2026-11-20T23:00:00Z'],
  ['Pacific/Auckland', '2026-11-20T10:59:59Z', '2026-11-20T11:00:00Z'],
  ['America/New_York', '2026-11-21T04:59:59Z', '2026-11-21T05:00:00Z'],
])('a rule until 20 November holds until midnight in %s, and one from the 21st begins there', (zone, before, after) => {
  expect([holds(zone, before, { until: '2026-11-20' }), holds(zone, after, { until: '2026-11-20' })]).toEqual([
    true,
    false,
  ])
  expect([holds(zone, before, { from: '2026-11-21' }), holds(zone, after, { from: '2026-11-21' })]).toEqual([
    false,
    true,
  ])
})

test.each([
  ['Europe/Brussels', '2026-12-31T23:00:00Z'],
  ['Pacific/Auckland', '2026-12-31T11:00:00Z'],
  ['America/New_York', '2027-01-01T05:00:00Z'],
])('the year ends in %s at its own midnight', (zone, newYear) => {
  const before = new Date(Date.parse(newYear) - 1).toISOString()
  expect([holds(zone, before, { until: '2026-12-31' }), holds(zone, newYear, { until: '2026-12-31' })]).toEqual([
    true,
    false,
  ])
  expect([
    holds(zone, newYear, when('now', 'after', '2026-12-31')),
    holds(zone, before, when('now', 'after', '2026-12-31')),
  ]).toEqual([true, false])
})

test.each([
  // Full hours from the beginning of 20 November there until the end of the 21st.
  ['Europe/Brussels', '2026-11-19T23:00:00Z', '2026-11-21', 47],
  ['Pacific/Auckland', '2026-11-19T11:00:00Z', '2026-11-21', 47],
  ['America/New_York', '2026-11-20T05:00:00Z', '2026-11-21', 47],
  // Days of 25 and of 23 hours: the last of them is not full.
  ['Europe/Brussels', '2026-10-24T22:00:00Z', '2026-10-25', 24],
  ['Europe/Brussels', '2026-03-28T23:00:00Z', '2026-03-29', 22],
  ['Pacific/Auckland', '2026-04-04T11:00:00Z', '2026-04-05', 24],
  ['America/New_York', '2026-03-08T05:00:00Z', '2026-03-08', 22],
])('hours to the promised day in %s from %s to %s: %i', (zone, now, promisedBy, hours) => {
  expect(holds(zone, now, when('hours to promise', '=', hours), { promisedBy })).toBe(true)
})

test('a promised day is that day, by whatever clocks it is asked', () => {
  for (const zone of ['Europe/Brussels', 'Pacific/Auckland', 'America/New_York', 'Pacific/Kiritimati']) {
    const order = { promisedBy: '2026-11-25' }
    expect([
      zone,
      holds(zone, '2026-11-20T09:00:00Z', when('promised', 'before', '2026-11-26'), order),
      holds(zone, '2026-11-20T09:00:00Z', when('promised', 'after', '2026-11-24'), order),
      holds(zone, '2026-11-20T09:00:00Z', when('promised', 'before', '2026-11-25'), order),
      holds(zone, '2026-11-20T09:00:00Z', when('promised', 'weekday is', ['Wednesday']), order),
    ]).toEqual([zone, true, true, false, true])
  }
})

test('the hour that comes twice, and the one that never comes', () => {
  // Brussels, 25 October: 02:30 stands on the clocks twice; 29 March: there is no 02:30.
  const at = (now: string, from: string, until: string): boolean =>
    holds('Europe/Brussels', now, when('now', 'time of day between', [from, until]))
  expect([
    at('2026-10-25T00:30:00Z', '02:00', '02:59'),
    at('2026-10-25T01:30:00Z', '02:00', '02:59'),
    at('2026-10-25T02:00:00Z', '02:00', '02:59'),
  ]).toEqual([true, true, false])
  expect([
    at('2026-03-29T00:59:00Z', '02:00', '02:59'),
    at('2026-03-29T01:00:00Z', '02:00', '02:59'),
    at('2026-03-29T01:00:00Z', '03:00', '03:00'),
  ]).toEqual([false, false, true])
})
