import { normaliseOrder, type RawOrder } from '@/core/order'
import { money } from '@/core/units'
import type { Condition, Rule, Rulebook } from './rulebook'
import { rulebookSchema } from './rulebookSchema'
import { readRulebook, writeRulebook } from './rulebookText'
import { ruleSentence } from './sentence'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { checkRulebook, findLogic, findLogicOf } from '@/core/rulebook/findings'
import { readyWorld } from '@/core/world'
import { testWorld } from './arbitraries.test-help'

/* Whatever is put in: never a throw, a hang or a guess, but a located sentence. */
const now = Date.parse('2026-11-20T08:00:00Z')
const ready = readyWorld(testWorld)
const order = (more: Partial<RawOrder> = {}) =>
  normaliseOrder(
    {
      id: '1',
      number: 'N-1',
      placedAt: '2026-11-20T07:00:00Z',
      wording: 'aaab',
      shipTo: { lines: ['Kaai 1'], city: 'G', country: 'BE' },
      items: [{ sku: 'SKU-7', weight: 500, price: '20' }],
      ...more,
    },
    'shop',
    new Map(),
  )
const rule = (when: Condition, more: Partial<Rule> = {}): Rule => ({
  id: 'r',
  stage: 'triage',
  name: 'R',
  on: true,
  when,
  then: [{ set: 'hold', to: 'why' }],
  ...more,
})
const book = (rules: readonly Rule[], more: Partial<Rulebook> = {}): Rulebook => ({
  name: 'b',
  groups: [],
  rules,
  ...more,
})
const words = { world: testWorld, groups: [] }

/** Everything that can be done with a rulebook, one after the other. */
function everything(rulebook: Rulebook): { matched: readonly string[]; errors: string[] } {
  expect(rulebookSchema.safeParse(rulebook).success).toBe(true)
  const findings = checkRulebook(rulebook, testWorld)
  findLogicOf(rulebook, findings, testWorld, now)
  for (const one of rulebook.rules.slice(0, 5)) ruleSentence(one, words)
  const read = readRulebook(writeRulebook(rulebook))
  if (!read.ok) throw new Error(JSON.stringify(read.problems[0]))
  return {
    matched: route(order(), compileRulebook(rulebook, testWorld.rates), ready, { now }).trail.stages.flatMap(
      (stage) => stage.matched,
    ),
    errors: findings.filter((finding) => finding.severity === 'error').map((finding) => finding.sentence),
  }
}

test('100 levels of nesting; 200 are refused in words', () => {
  const nested = (levels: number): Rulebook =>
    book([
      rule(
        Array.from({ length: levels }).reduce<Condition>(
          (inner, _, i) => {
            if (i % 3 === 0) return { all: [inner] }
            return i % 3 === 1 ? { any: [inner] } : { none: [{ none: [inner] }] }
          },
          { fact: 'country', op: 'is', value: 'BE' },
        ),
      ),
    ])
  expect(everything(nested(100))).toEqual({ matched: ['r'], errors: [] })
  expect(readRulebook(writeRulebook(nested(200)))).toMatchObject({
    ok: false,
    problems: [{ sentence: expect.stringContaining('more than 100 deep') as unknown }],
  })
})

test('a pattern of ten thousand stars, and one of ten thousand letters', () => {
  const stars = `a${'*'.repeat(400)}b`
  expect(everything(book([rule({ fact: 'wording', op: 'matches', value: stars })])).matched).toEqual(['r'])
  // Longer than a text may be: refused with its place, not tried.
  expect(
    rulebookSchema.safeParse(book([rule({ fact: 'wording', op: 'matches', value: '*'.repeat(10_000) })])).success,
  ).toBe(false)
  const compiled = compileRulebook(
    book([rule({ fact: 'wording', op: 'matches', value: `a${'*'.repeat(10_000)}b` })]),
    testWorld.rates,
  )
  expect(route(order(), compiled, ready, { now }).decisions.hold).toBe('why')
})

test('facts mixed in more ways than can be told apart: twelve choices of two, and one of 20,000', () => {
  const either = (i: number): Condition => ({
    any: [
      { fact: 'items weight', op: '>', value: i },
      { fact: 'wording', op: 'is', value: `w${i}` },
    ],
  })
  expect(everything(book([rule({ all: Array.from({ length: 12 }, (_, i) => either(i)) })]))).toEqual({
    matched: ['r'],
    errors: [],
  })
  const program = compileRulebook(
    book([
      rule({
        any: Array.from({ length: 10_000 }, (_, i): Condition =>
          i === 9_999
            ? { fact: 'country', op: 'is', value: 'BE' }
            : {
                all: [
                  { fact: 'wording', op: 'is', value: `w${i}` },
                  { fact: 'quantity', op: '>', value: i },
                ],
              },
        ).concat(Array.from({ length: 10_000 }, (_, i) => ({ fact: 'wording', op: 'is', value: `v${i}` }))),
      }),
    ]),
    testWorld.rates,
  )
  expect(route(order(), program, ready, { now }).decisions.hold).toBe('why')
})

test('a group of 50,000 SKUs', () => {
  const group = {
    id: 'g',
    name: 'G',
    kind: 'SKUs' as const,
    members: Array.from({ length: 50_000 }, (_, i) => `SKU-${i}`),
  }
  expect(
    everything(
      book([rule({ items: 'any', where: { fact: 'sku', op: 'is one of', value: [{ group: 'g' }] } })], {
        groups: [group],
      }),
    ),
  ).toEqual({ matched: ['r'], errors: [] })
})

test('5,000 rules', () => {
  const rules = Array.from({ length: 5000 }, (_, i) =>
    rule(
      {
        all: [
          { fact: 'country', op: 'is', value: ['BE', 'NL', 'GB'][i % 3]! },
          { fact: 'order value', op: '>', value: money(i * 10, 'EUR') },
        ],
      },
      { id: `r${i}`, name: `R${i}` },
    ),
  )
  const program = compileRulebook(book(rules), testWorld.rates)
  expect(route(order(), program, ready, { now }).decisions.hold).toBe('why')
  expect(findLogic(book(rules.slice(0, 300)), testWorld, now).length).toBeGreaterThan(0)
})

test.each<[string, Rulebook, RegExp]>([
  ['an unknown fact', book([rule({ fact: 'colour', op: 'is', value: 'red' })]), /There is no fact "colour"/],
  [
    'a value of the wrong type',
    book([rule({ fact: 'items weight', op: '>', value: 'heavy' })]),
    /needs a weight with its unit/,
  ],
  ['an operator of another type', book([rule({ fact: 'country', op: '>', value: 3 })]), /does not understand ">"/],
  [
    'a cycle of saved conditions',
    book([rule({ saved: 'a' })], {
      conditions: [
        { id: 'a', name: 'A', when: { saved: 'b' } },
        { id: 'b', name: 'B', when: { any: [{ saved: 'a' }] } },
      ],
    }),
    /contains itself/,
  ],
  [
    'money without a rate',
    book([rule({ fact: 'order value', op: '>', value: money(5, 'SEK') })]),
    /no exchange rate for SEK/,
  ],
  [
    'a ceiling without a rate',
    book([rule({ all: [] }, { then: [{ set: 'ceiling', to: money(5, 'SEK') }] })]),
    /no exchange rate for SEK/,
  ],
  [
    'dates the wrong way round',
    book([rule({ all: [] }, { from: '2026-12-01', until: '2026-11-01' })]),
    /ends \(2026-11-01\) before it begins/,
  ],
  ['the same identifier twice', book([rule({ all: [] }), rule({ all: [] })]), /Two rules have the identifier/],
  [
    'a group that is not there',
    book([rule({ fact: 'country', op: 'is one of', value: [{ group: 'gone' }] })]),
    /There is no group "gone"/,
  ],
  [
    'a hold until never',
    book([rule({ all: [] }, { then: [{ set: 'hold', to: { reason: 'x', until: { weekday: 'Someday' } } }] })]),
    /"hold because"/,
  ],
])('%s is named, and nothing stops', (_name, rulebook, sentence) => {
  expect(
    checkRulebook(rulebook, testWorld)
      .filter((finding) => finding.severity === 'error')
      .map((finding) => finding.sentence)
      .join(' '),
  ).toMatch(sentence)
  expect(() => route(order(), compileRulebook(rulebook, testWorld.rates), ready, { now })).not.toThrow()
  expect(() => findLogicOf(rulebook, checkRulebook(rulebook, testWorld), testWorld, now)).not.toThrow()
})

test('an order that lacks everything is decided all the same', () => {
  const rulebook = book([
    rule({
      none: [
        { fact: 'country', op: 'is known' },
        { fact: 'wording', op: 'is known' },
        { fact: 'order value', op: 'is known' },
      ],
    }),
  ])
  const bare = normaliseOrder({ id: '', number: '', currency: 'what' }, 'shop', new Map())
  const routed = route(bare, compileRulebook(rulebook, testWorld.rates), ready, { now })
  expect(routed.decisions.hold).toBe('why')
  expect(routed.problems.length).toBeGreaterThan(2)
  expect(routed.problems.every((problem) => /[a-z] .*[.?]$/.test(problem.sentence))).toBe(true)
})
