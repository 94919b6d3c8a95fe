import type { PackagePreset } from '@/core/packing'
import { measured } from '@/core/units'
import { checkRulebook } from './checkRulebook'
import { findLogic } from './findings'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Condition, Rule, Rulebook } from '@/core/rulebook/language'
import { emptyWorld, readyWorld } from '@/core/world'

const now = Date.parse('2026-11-20T08:00:00Z')
const newBuyer: Condition = { fact: 'returning buyer', op: 'is', value: false }
const rule = (
  id: string,
  stage: Rule['stage'],
  when: Condition,
  then: Rule['then'],
  more: Partial<Rule> = {},
): Rule => ({ id, stage, name: id, on: true, when, then, ...more })
const preset = (to: string): Rule['then'] => [{ set: 'preset', to }]
const logic = (...rules: Rule[]) => findLogic({ name: 'b', groups: [], rules }, emptyWorld, now)
const routed = (rules: readonly Rule[], order: Parameters<typeof route>[0]) =>
  route(order, compileRulebook({ name: 'b', groups: [], rules }, emptyWorld.rates), readyWorld(emptyWorld), { now })

test('a clash between stages is said though a rule between them ends its own stage', () => {
  const rules = [
    rule('small', 'triage', { none: [{ fact: 'country', op: 'is', value: 'FR' }] }, preset('small')),
    rule('ends', 'triage', newBuyer, [{ set: 'tags', to: ['new'] }], { finishStage: true }),
    rule('large', 'packing', newBuyer, preset('large')),
  ]
  expect(logic(...rules)).toMatchObject([{ kind: 'clash', rule: 'large', others: ['small'] }])
})

test('a clash is said where the rule that would decide further up is cut off by one that ends its stage', () => {
  const rules = [
    rule('ends', 'triage', newBuyer, [{ set: 'tags', to: ['new'] }], { finishStage: true }),
    rule('early', 'triage', { all: [] }, preset('early')),
    rule('small', 'packing', { fact: 'country', op: 'is', value: 'FR' }, preset('small')),
    rule(
      'large',
      'packing',
      { fact: 'order value', op: '≥', value: { minor: 1000 as never, currency: 'EUR' } },
      preset('large'),
    ),
  ]
  const clash = logic(...rules).find(
    (finding) => finding.kind === 'clash' && finding.rule === 'large' && finding.others.includes('small'),
  )
  expect(clash).toBeDefined()
  expect(routed(rules, clash!.witness!.order).decisions.preset).toBe('small')
})

test('the order that shows a rule that never acts comes to that rule', () => {
  const rules = [
    rule('ends', 'packing', newBuyer, [{ set: 'split', to: 'when needed' }], { finishStage: true }),
    rule('all', 'triage', { all: [] }, preset('small')),
    rule('never', 'packing', { fact: 'country', op: 'is', value: 'BE' }, preset('large')),
  ]
  const finding = logic(...rules).find(({ rule: id }) => id === 'never')!
  expect(finding.kind).toBe('never acts')
  const { trail } = routed(rules, finding.witness!.order)
  expect(trail.stages.flatMap(({ matched }) => matched)).toContain('never')
  expect(trail.decisions.find(({ decision }) => decision === 'preset')!.others.map((other) => other.rule)).toContain(
    'never',
  )
})

/** Saved conditions, each naming the next one twice: written out, they have 2^depth parts. */
/** The next saved condition, named twice in one way or the other. */
const twice = (i: number): Condition =>
  i % 2
    ? {
        any: [
          { all: [{ saved: `c${i + 1}` }, { fact: 'country', op: 'is', value: 'BE' }] },
          { all: [{ saved: `c${i + 1}` }, { fact: 'country', op: 'is', value: 'NL' }] },
        ],
      }
    : { all: [{ saved: `c${i + 1}` }, { saved: `c${i + 1}` }] }
const doubling = (depth: number, last: Condition): Rulebook => ({
  name: 'b',
  groups: [],
  conditions: Array.from({ length: depth }, (_, i) => ({
    id: `c${i}`,
    name: `C ${i}`,
    when: i === depth - 1 ? last : twice(i),
  })),
  rules: [rule('r', 'packing', { saved: 'c0' }, preset('small')), rule('s', 'packing', { all: [] }, preset('large'))],
})

test('saved conditions that name each other twice are read, checked, reasoned about and decided without being written out', () => {
  const value: Condition = { fact: 'returning buyer', op: 'is', value: false }
  const deep = doubling(60, value)
  expect(
    checkRulebook(deep, {
      ...emptyWorld,
      presets: ['small', 'large'].map((id) =>
        measured<PackagePreset>({
          id,
          name: id,
          inner: [1, 1, 1],
          outer: [1, 1, 1],
          tare: 1,
          limit: 1,
        }),
      ),
    }),
  ).toEqual([])
  const program = compileRulebook(deep, emptyWorld.rates)
  const shallow = compileRulebook(doubling(4, value), emptyWorld.rates)
  for (const country of ['BE', 'FR', 'NL', ''])
    for (const returning of [true, false]) {
      const order = { ...findLogic(doubling(4, value), emptyWorld, now)[0]!.witness!.order }
      const given = { ...order, shipTo: { ...order.shipTo, country }, buyer: { ...order.buyer, returning } }
      const [a, b] = [program, shallow].map(
        (one) => route(given, one, readyWorld(emptyWorld), { now }).decisions.preset,
      )
      expect(a).toBe(b)
    }
  expect(findLogic(deep, emptyWorld, now).filter(({ kind }) => kind === 'never' || kind === 'never acts')).toEqual([])
})

test('a saved condition that contains itself never holds, wherever it is named', () => {
  const rulebook: Rulebook = {
    name: 'b',
    groups: [],
    conditions: [
      { id: 'a', name: 'A', when: { none: [{ saved: 'b' }] } },
      { id: 'b', name: 'B', when: { any: [{ saved: 'a' }] } },
    ],
    rules: [
      rule('r', 'packing', { saved: 'a' }, preset('small')),
      rule('s', 'packing', { none: [{ saved: 'b' }] }, preset('large')),
    ],
  }
  expect(checkRulebook(rulebook, emptyWorld).map(({ code }) => code)).toContain('cycle')
  const { order } = findLogic(
    {
      ...rulebook,
      rules: [
        rule(
          'x',
          'triage',
          {
            all: [
              { fact: 'company', op: 'is', value: true },
              { fact: 'company', op: 'is', value: false },
            ],
          },
          [],
        ),
      ],
    },
    emptyWorld,
    now,
  )[0]!.witness!
  expect(
    route(order, compileRulebook(rulebook, emptyWorld.rates), readyWorld(emptyWorld), { now }).decisions.preset,
  ).toBe('large')
})
