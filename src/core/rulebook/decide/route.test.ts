import fc from 'fast-check'
import { normaliseOrder, type Order, type RawOrder } from '@/core/order'
import { sumParcels } from '@/core/packing'
import { money } from '@/core/units'
import { anyOrder, anyRulebook, testWorld, testWorlds } from '../language/arbitraries.test-help'
import { type Pins, type Rule, type Rulebook, rulebookSchema } from '@/core/rulebook/language'
import { route } from './route'
import { compileRulebook } from '@/core/rulebook/compile'
import { checkRulebook } from '@/core/rulebook/findings'
import { readyWorld } from '@/core/world'
import { referenceRoute } from './reference.test-help'

const ready = readyWorld(testWorld)
const now = Date.parse('2026-11-20T08:00:00Z') // a Friday morning
const book = (...rules: Partial<Rule>[]): Rulebook => ({
  name: 'b',
  groups: [],
  rules: rules.map((rule, i) => ({
    id: `r${i}`,
    stage: 'triage',
    name: `Rule ${i}`,
    on: true,
    when: { all: [] },
    then: [],
    ...rule,
  })),
})
const order = (more: Partial<RawOrder> = {}): Order =>
  normaliseOrder(
    {
      id: '1',
      number: 'N-1',
      placedAt: '2026-11-20T07:00:00Z',
      wording: 'Free',
      value: '20.00',
      shipTo: { name: 'A', lines: ['Kaai 1'], city: 'Gent', postcode: '9000', country: 'BE' },
      items: [{ sku: 'A', quantity: 1, weight: 500, price: '20.00', size: [100, 80, 50] }],
      ...more,
    },
    'shop',
    new Map(),
  )
const decide = (rules: Rulebook, given = order(), pins?: Pins) =>
  route(given, compileRulebook(rules, testWorld.rates), ready, { now, pins })

test('the compiled program and the reference agree on random rulebooks, orders and pins', () => {
  const anyPins = fc.constantFrom<Pins>(
    {},
    { preset: 'large' },
    { hold: null, weight: 120 },
    { picks: [{ by: 'service', service: 'a-slow' }], tags: ['live'] },
    { allowed: ['a-fast'] },
  )
  // A Friday morning in Ghent, evening in Auckland; a Thursday evening in New York that is Friday in Ghent; the last
  // minutes of a year.
  const moments = [
    now,
    Date.parse('2026-11-20T03:30:00Z'),
    Date.parse('2026-11-19T12:30:00Z'),
    Date.parse('2026-12-31T23:30:00Z'),
  ]
  fc.assert(
    fc.property(
      anyRulebook,
      fc.array(anyOrder, { minLength: 1, maxLength: 6 }),
      anyPins,
      fc.constantFrom(...testWorlds.map(readyWorld)),
      fc.constantFrom(...moments),
      (rulebook, orders, pins, ready, now) => {
        const program = compileRulebook(rulebook, testWorld.rates)
        for (const given of orders) {
          const got = route(given, program, ready, { now, pins })
          const wanted = referenceRoute(given, rulebook, ready, now, pins)
          expect(got.trail.stages.flatMap((stage) => stage.matched)).toEqual(wanted.matched)
          expect(got.decisions).toEqual(wanted.decisions)
          expect(got.quote?.service ?? null).toBe(wanted.service)
          expect(got.parcels.length > 0 ? sumParcels(got.parcels).heaviest : null).toBe(wanted.parcelWeight)
        }
      },
    ),
    { numRuns: 600 },
  )
})

test('random rulebooks are valid, and the same input gives the same output', () => {
  fc.assert(
    fc.property(anyRulebook, anyOrder, (rulebook, given) => {
      expect(rulebookSchema.safeParse(rulebook).success).toBe(true)
      expect(decide(rulebook, given)).toEqual(decide(rulebook, given))
    }),
    { numRuns: 200 },
  )
})

describe('how actions combine', () => {
  test('one value: the first rule wins, the others stand in the trail with the reason', () => {
    const { decisions, trail } = decide(
      book({ then: [{ set: 'hold', to: 'first' }] }, { then: [{ set: 'hold', to: 'second' }] }),
    )
    expect(decisions.hold).toBe('first')
    expect(trail.decisions.find((entry) => entry.decision === 'hold')).toMatchObject({
      by: { kind: 'rule', rule: 'r0' },
      others: [{ rule: 'r1', value: 'second', why: 'a rule above decided it' }],
    })
  })
  test('sums add up and never take the weight below 0', () => {
    expect(
      decide(book({ then: [{ set: 'weight', to: 60 }] }, { then: [{ set: 'weight', to: 40 }] })).parcels[0]?.weight,
    ).toBe(700)
    expect(decide(book({ then: [{ set: 'weight', to: -5000 }] })).parcels[0]?.weight).toBe(100) // the package alone; the order needs attention
  })
  test('sets join, narrowings intersect, and an empty one is a problem', () => {
    expect(
      decide(book({ then: [{ set: 'tags', to: ['a', 'b'] }] }, { then: [{ set: 'tags', to: ['b', 'c'] }] })).decisions
        .tags,
    ).toEqual(['a', 'b', 'c'])
    const narrowed = decide(
      book(
        { stage: 'service', then: [{ set: 'allowed', to: ['a-slow'] }] },
        { stage: 'service', then: [{ set: 'allowed', to: ['a-fast'] }] },
      ),
    )
    expect(narrowed.problems.map((problem) => problem.code)).toEqual(['nothing-allowed', 'no-service'])
  })
  test('finish stage: later rules of the stage are not looked at, other stages are', () => {
    const { trail } = decide(
      book(
        { finishStage: true },
        { then: [{ set: 'tags', to: ['x'] }] },
        { stage: 'papers', then: [{ set: 'slip', to: 'plain' }] },
      ),
    )
    expect(trail.stages).toEqual([
      { stage: 'triage', matched: ['r0'], finishedBy: 'r0' },
      { stage: 'papers', matched: ['r2'] },
    ])
  })
  test('a hand pin beats every rule, and a released hold stays released', () => {
    const { decisions, trail } = decide(
      book({
        then: [
          { set: 'hold', to: 'wait' },
          { set: 'preset', to: 'small' },
        ],
      }),
      order(),
      { hold: null, preset: 'large' },
    )
    expect(decisions).toMatchObject({ hold: null, preset: 'large' })
    expect(trail.decisions.find((entry) => entry.decision === 'preset')).toMatchObject({
      by: { kind: 'pin' },
      others: [{ rule: 'r0', value: 'small', why: 'pinned by hand' }],
    })
  })
  test('an earlier stage may set a later decision, and its results can be tested later', () => {
    const { decisions } = decide(
      book(
        {
          then: [
            { set: 'tags', to: ['heavy'] },
            { set: 'preset', to: 'large' },
          ],
        },
        {
          stage: 'packing',
          when: { fact: 'tags', op: 'has any', value: ['Heavy '] },
          then: [
            { set: 'preset', to: 'small' },
            { set: 'signature', to: true },
          ],
        },
      ),
    )
    expect(decisions).toMatchObject({ preset: 'large', signature: true })
  })
})

describe('conditions', () => {
  const holds = (when: Rule['when'], given = order()): boolean =>
    decide(book({ when, then: [{ set: 'tags', to: ['yes'] }] }), given).decisions.tags.length > 0
  test('text compares without case, blanks and Unicode form', () => {
    expect(holds({ fact: 'wording', op: 'is', value: ' exp.  2-DAY ' }, order({ wording: 'Exp. 2-day' }))).toBe(true)
    expect(holds({ fact: 'wording', op: 'is', value: 'fine' }, order({ wording: 'ﬁne' }))).toBe(true)
  })
  test('a missing value passes only the negative tests', () => {
    const bare = order({ wording: '' })
    expect(holds({ fact: 'wording', op: 'is', value: '' }, bare)).toBe(false)
    expect(holds({ fact: 'wording', op: 'is not', value: 'Free' }, bare)).toBe(true)
    expect(holds({ fact: 'wording', op: 'is none of', value: ['Free'] }, bare)).toBe(true)
    expect(holds({ fact: 'order value', op: '<', value: money(1, 'EUR') }, order({ currency: 'SEK' }))).toBe(false)
    expect(holds({ fact: 'order value', op: '≠', value: money(1, 'EUR') }, order({ currency: 'SEK' }))).toBe(true)
  })
  test('money is compared in the home currency, both ends of between included', () => {
    const pounds = order({ currency: 'GBP', value: '10.00' }) // 12.00 EUR
    expect(holds({ fact: 'order value', op: 'between', value: [money(1200, 'EUR'), money(1200, 'EUR')] }, pounds)).toBe(
      true,
    )
    expect(holds({ fact: 'order value', op: '>', value: money(1000, 'GBP') }, pounds)).toBe(false)
  })
  test('item tests: every item of an order without items does not hold, no item does', () => {
    const empty = order({ items: [] })
    const where = { fact: 'sku', op: 'is', value: 'A' } as const
    expect([
      holds({ items: 'every', where }, empty),
      holds({ items: 'no', where }, empty),
      holds({ items: 'any', where }, empty),
    ]).toEqual([false, true, false])
  })
})

test('what cannot be settled becomes a sentence, with the rule to blame', () => {
  const gone = decide(book({ stage: 'packing', name: 'Old boxes', then: [{ set: 'preset', to: 'gone' }] }))
  expect(gone.problems).toEqual([
    {
      code: 'unknown-preset',
      sentence:
        'The package preset "gone" does not exist: choose another one, or change the rule that names it. (Rule "Old boxes".)',
    },
  ])
  expect(decide(book(), order({ items: [] })).problems.map((problem) => problem.code)).toContain('no-items')
  expect(decide(book(), order({ currency: 'SEK' })).problems[0]?.sentence).toMatch(/no exchange rate for SEK/)
  expect(
    decide(book({ stage: 'service', name: 'Never', then: [{ set: 'barred', to: ['a'] }] })).problems[0]?.sentence,
  ).toBe('No service: A Slow barred by the rule "Never"; A Fast barred by the rule "Never".')
})

test('no rule value of a wrong kind makes it throw', () => {
  const wrong = book(
    {
      when: { fact: 'order value', op: '≥', value: 'much' },
      then: [
        { set: 'tags', to: 7 },
        { set: 'picks', to: 'x' },
        { set: 'nonsense', to: 1 },
      ],
    },
    { when: { fact: 'nonsense', op: 'is', value: 'x' } },
    { then: [{ set: 'allowed', to: null }] },
  )
  expect(decide(wrong).decisions.tags).toEqual([])
  expect(
    checkRulebook(wrong, testWorld)
      .filter((finding) => finding.severity === 'error')
      .map((finding) => finding.code),
  ).toEqual(
    ['no-value', 'bad-value', 'bad-value', 'unknown-action', 'unknown-fact', 'too-late']
      .filter((code) => code !== 'too-late')
      .concat('bad-value'),
  )
})

test('the check names what is not settled yet, missing references and duplicate names', () => {
  const findings = checkRulebook(
    book(
      { name: 'same', when: { fact: 'parcel weight', op: '>', value: 1 }, then: [{ set: 'preset', to: 'gone' }] },
      { name: 'same', stage: 'papers', then: [{ set: 'hold', to: 'x' }] },
    ),
    testWorld,
  )
  expect(findings.map((finding) => `${finding.rule} ${finding.code}`)).toEqual([
    'r0 not-settled',
    'r0 missing',
    'r1 same-name',
    'r1 too-late',
  ])
})

test('200 levels of nesting and a pattern of 10,000 stars are nothing special', () => {
  expect(
    decide(
      book({
        when: {
          all: [
            { fact: 'country', op: 'is', value: 'BE' },
            { fact: 'wording', op: 'matches', value: `${'*'.repeat(10_000)}e` },
          ],
        },
        then: [{ set: 'tags', to: ['x'] }],
      }),
    ).decisions.tags,
  ).toEqual(['x'])
  let deep: Rule['when'] = { fact: 'country', op: 'is', value: 'BE' }
  for (let i = 0; i < 200; i++) deep = { all: [deep] }
  expect(decide(book({ when: deep, then: [{ set: 'tags', to: ['x'] }] })).decisions.tags).toEqual(['x'])
  expect(rulebookSchema.safeParse(book({ when: deep })).success).toBe(true)
})

test('two tests of one rule on the same number must both hold, at every value', () => {
  const number = fc.integer({ min: 0, max: 12 })
  const test1 = fc.record({ op: fc.constantFrom('<', '≤', '>', '≥', '=', '≠'), value: number })
  fc.assert(
    fc.property(fc.array(fc.array(test1, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 12 }), (rules) => {
      const rulebook = book(
        ...rules.map((tests): Partial<Rule> => ({
          when: { all: tests.map(({ op, value }) => ({ fact: 'quantity', op: op as '<', value })) },
        })),
      )
      const program = compileRulebook(rulebook, testWorld.rates)
      for (let quantity = 1; quantity <= 13; quantity++) {
        const given = order({ items: [{ sku: 'A', quantity, weight: 10, size: [10, 10, 10] }] })
        expect(route(given, program, ready, { now }).trail.stages[0]?.matched ?? []).toEqual(
          referenceRoute(given, rulebook, ready, now).matched,
        )
      }
    }),
    { numRuns: 150 },
  )
})
