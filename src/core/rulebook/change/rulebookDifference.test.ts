import fc from 'fast-check'
import { money } from '@/core/units'
import { anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { rulebookDifference } from './rulebookDifference'
import { type Condition, equalJson, type Rule, type Rulebook } from '@/core/rulebook/language'

const rule = (id: string, more: Partial<Rule> = {}): Rule => ({
  id,
  stage: 'packing',
  name: id.toUpperCase(),
  on: true,
  when: { fact: 'items weight', op: '>', value: 4000 },
  then: [{ set: 'preset', to: 'large' }],
  ...more,
})
const book = (...rules: Rule[]): Rulebook => ({
  name: 'b',
  groups: [{ id: 'g', name: 'Near', members: ['BE', 'NL'] }],
  rules,
})
const sentences = (a: Rulebook, b: Rulebook): string[] =>
  rulebookDifference(a, b, testWorld).map((difference) => difference.sentence)

const heavy: Condition = { fact: 'items weight', op: '>', value: 4000 }
const near: Condition = { fact: 'country', op: 'is one of', value: ['BE', 'NL', { group: 'g' }] }

test.each<[string, Partial<Rule>, Partial<Rule>, string[]]>([
  [
    'a raised limit',
    { when: heavy },
    { when: { ...heavy, value: 5500 } },
    ['"A" raises the limit of weight of the items from 4 kg to 5.5 kg'],
  ],
  [
    'a lowered amount',
    { when: { fact: 'order value', op: '≥', value: money(40000, 'EUR') } },
    { when: { fact: 'order value', op: '≥', value: money(15000, 'EUR') } },
    ['"A" lowers the limit of order value from €400.00 to €150.00'],
  ],
  [
    'an amount in another currency is no limit that moves',
    { when: { fact: 'order value', op: '≥', value: money(40000, 'EUR') } },
    { when: { fact: 'order value', op: '≥', value: money(30000, 'GBP') } },
    ['"A" asks order value ≥ £300.00, not order value ≥ €400.00'],
  ],
  [
    'another operator',
    { when: heavy },
    { when: { ...heavy, op: '≥' } },
    ['"A" asks weight of the items ≥ 4 kg, not weight of the items > 4 kg'],
  ],
  [
    'a list that gains and loses',
    { when: near },
    { when: { ...near, value: ['NL', { group: 'g' }, 'DE'] } },
    ['"A" asks for other values: “ship-to country is one of” gains DE and loses BE'],
  ],
  [
    'a list that loses a group',
    { when: near },
    { when: { ...near, value: ['BE', 'NL'] } },
    ['"A" asks for other values: “ship-to country is one of” loses Near'],
  ],
  [
    'one more condition',
    { when: heavy },
    { when: { all: [heavy, near] } },
    ['"A" also asks: ship-to country is one of BE, NL, Near'],
  ],
  [
    'one condition fewer',
    { when: { all: [heavy, near] } },
    { when: { all: [near] } },
    ['"A" no longer asks: weight of the items > 4 kg'],
  ],
  [
    'a nested part',
    { when: { all: [heavy, { any: [near, heavy] }] } },
    { when: { all: [heavy, { none: [near] }] } },
    [
      '"A" also asks: neither ship-to country is one of BE, NL, Near',
      '"A" no longer asks: ship-to country is one of BE, NL, Near or weight of the items > 4 kg',
    ],
  ],
  [
    'another value of an action',
    {},
    { then: [{ set: 'preset', to: 'small' }] },
    ['"A" will pack in Small; it was Large'],
  ],
  [
    'one more action, one fewer',
    {},
    { then: [{ set: 'split', to: 'when cheaper' }] },
    ['"A" will also take several parcels when cheaper', '"A" will no longer pack in Large'],
  ],
  [
    'nothing but the order of conditions',
    { when: { all: [heavy, near] } },
    { when: { all: [near, heavy] } },
    [
      '"A": When weight of the items > 4 kg and ship-to country is one of BE, NL, Near: pack in Large. → When ship-to country is one of BE, NL, Near and weight of the items > 4 kg: pack in Large.',
    ],
  ],
  [
    'the same, with its parts named in another order',
    { when: heavy },
    { when: { value: 4000, op: '>', fact: 'items weight' } },
    [],
  ],
])('%s', (_, was, now, told) => {
  expect(sentences(book(rule('a', was)), book(rule('a', now)))).toEqual(told)
})

test('of a rule that is another one altogether, both sentences are told', () => {
  const facts = ['items weight', 'quantity', 'lines', 'parcel weight', 'longest side']
  const [told] = sentences(
    book(rule('a')),
    book(rule('a', { when: { all: facts.map((fact): Condition => ({ fact, op: '<', value: 7 })) } })),
  )
  expect(told).toMatch(/^"A": When weight of the items > 4 kg: pack in Large\. → When .* and .*: pack in Large\.$/)
})

test('added, deleted, switched, moved, renamed, dated', () => {
  expect(
    sentences(
      book(rule('a'), rule('b'), rule('c')),
      book(rule('c'), rule('a', { on: false }), rule('d', { name: 'Dee' })),
    ),
  ).toEqual([
    '"A" is switched off',
    'New in packing: "Dee". When weight of the items > 4 kg: pack in Large.',
    'Deleted from packing: "B"',
    '"C" moves to the top of packing',
  ])
  expect(sentences(book(rule('a')), book(rule('a', { name: 'Z', until: '2026-12-31', finishStage: true })))).toEqual([
    '"A" is now called "Z"',
    '"Z" ends its stage now',
    '"Z" takes part until 2026-12-31',
  ])
})

test('groups say who came and who went', () => {
  expect(
    sentences(book(), {
      ...book(),
      groups: [
        { id: 'g', name: 'Near', members: ['BE', 'DE'] },
        { id: 'h', name: 'Far', members: [] },
      ],
    }),
  ).toEqual(['Group "Near" gains DE and loses NL', 'New: group "Far"'])
})

test('nothing differs from itself, and every real difference is told', () => {
  fc.assert(
    fc.property(anyRulebook, anyRulebook, (a, b) => {
      expect(sentences(a, a)).toEqual([])
      const told = sentences(a, b)
      if (JSON.stringify(a.rules) !== JSON.stringify(b.rules)) expect(told.length).toBeGreaterThan(0)
    }),
    { numRuns: 100 },
  )
})

test('equal is what JSON says is equal, whatever the order of names', () => {
  const turned = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(turned)
    return typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .reverse()
            .map(([key, part]) => [key, turned(part)]),
        )
      : value
  }
  fc.assert(
    fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
      expect(equalJson(a, turned(a))).toBe(true)
      if (!equalJson(a, b)) expect(JSON.stringify(a)).not.toBe(JSON.stringify(b))
      expect(equalJson(a, b)).toBe(equalJson(b, a))
    }),
  )
  expect(equalJson({ a: 1, b: undefined }, { a: 1 })).toBe(true)
  expect(equalJson([], {})).toBe(false)
  expect(equalJson(null, {})).toBe(false)
})
