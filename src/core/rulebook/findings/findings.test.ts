import fc from 'fast-check'
import { normaliseOrder, type Order } from '@/core/order'
import { money } from '@/core/units'
import { findLogic } from './findings'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Condition, Routed, Rule, Rulebook } from '@/core/rulebook/language'
import { emptyWorld, readyWorld, type World } from '@/core/world'
import { testWorld } from '../language/arbitraries.test-help'

const now = Date.parse('2026-11-20T08:00:00Z')
const rule = (id: string, when: Condition, more: Partial<Rule> = {}): Rule => ({
  id,
  stage: 'triage',
  name: id,
  on: true,
  when,
  then: [{ set: 'hold', to: id }],
  ...more,
})
const book = (...rules: Rule[]): Rulebook => ({
  name: 'b',
  groups: [{ id: 'near', name: 'near', members: ['BE', 'NL'] }],
  rules,
})
const logic = (rulebook: Rulebook, world: World = emptyWorld) => findLogic(rulebook, world, now)
const kinds = (rulebook: Rulebook, world?: World): string[] =>
  logic(rulebook, world).map((finding) => `${finding.kind} ${finding.rule}`)
const value = (op: '<' | '≥' | 'between' | '=', ...ends: number[]): Condition => ({
  fact: 'order value',
  op,
  value: (ends.length === 2 ? ends.map((n) => money(n, 'EUR')) : money(ends[0]!, 'EUR')) as never,
})

describe('a rule that can never match', () => {
  test.each<[string, Condition]>([
    [
      'two countries at once',
      {
        all: [
          { fact: 'country', op: 'is', value: 'BE' },
          { fact: 'country', op: 'is', value: 'NL' },
        ],
      },
    ],
    [
      'in a group and not',
      {
        all: [
          { fact: 'country', op: 'is one of', value: [{ group: 'near' }] },
          { fact: 'country', op: 'is none of', value: ['be', 'NL'] },
        ],
      },
    ],
    ['no whole amount between', { all: [value('≥', 1000), value('<', 1000)] }],
    ['an amount below nothing', value('<', 0)],
    [
      'a home and a company',
      {
        all: [
          { fact: 'residential', op: 'is', value: true },
          { fact: 'company', op: 'is', value: true },
        ],
      },
    ],
    [
      'an item that is there and is not',
      {
        all: [
          { items: 'any', where: { fact: 'item tags', op: 'has any', value: ['live'] } },
          { items: 'no', where: { fact: 'item tags', op: 'has any', value: ['glass', 'live'] } },
        ],
      },
    ],
    [
      'every item small and one large',
      {
        all: [
          { items: 'every', where: { fact: 'unit weight', op: '<', value: 500 } },
          { items: 'any', where: { fact: 'unit weight', op: '≥', value: 500 } },
        ],
      },
    ],
    [
      'begins and does not contain',
      {
        all: [
          { fact: 'wording', op: 'starts with', value: 'Exp. 2' },
          { none: [{ fact: 'wording', op: 'contains', value: 'exp' }] },
        ],
      },
    ],
    [
      'a pattern against a word',
      {
        all: [
          { fact: 'wording', op: 'matches', value: 'e*p?day' },
          { fact: 'wording', op: 'is', value: 'express' },
        ],
      },
    ],
    [
      'two weekdays',
      {
        all: [
          { fact: 'placed', op: 'weekday is', value: ['Monday'] },
          { fact: 'placed', op: 'weekday is', value: ['Tuesday', 'Sunday'] },
        ],
      },
    ],
    [
      'before and after',
      {
        all: [
          { fact: 'placed', op: 'before', value: '2026-11-20' },
          { fact: 'placed', op: 'after', value: '2026-11-21' },
        ],
      },
    ],
    ['nothing of any', { any: [] }],
  ])('%s', (_name, when) => {
    const [finding] = logic(book(rule('r', when)))
    expect(finding).toMatchObject({ kind: 'never', rule: 'r' })
    expect(finding!.witness).not.toBeNull()
  })
  test('the fewest parts that contradict are named', () => {
    const [finding] = logic(
      book(
        rule('r', {
          all: [
            { fact: 'returning buyer', op: 'is', value: true },
            value('≥', 5000),
            { fact: 'country', op: 'is', value: 'BE' },
            value('<', 2000),
          ],
        }),
      ),
    )
    expect(finding!.sentence).toBe(
      'It can never match: when order value < €20.00, it cannot be that order value ≥ €50.00.',
    )
  })
  test.each<[string, Condition]>([
    ['the ends of between', { all: [value('between', 1000, 2000), value('≥', 2000)] }],
    [
      'a missing value is not',
      {
        all: [
          { fact: 'country', op: 'is missing' },
          { fact: 'country', op: 'is not', value: 'BE' },
        ],
      },
    ],
    [
      'patterns that overlap',
      {
        all: [
          { fact: 'wording', op: 'starts with', value: 'free' },
          { fact: 'wording', op: 'ends with', value: 'day' },
          { fact: 'wording', op: 'is not', value: 'freeday' },
        ],
      },
    ],
    [
      'different items',
      {
        all: [
          { items: 'any', where: { fact: 'item tags', op: 'has any', value: ['live'] } },
          { items: 'any', where: { fact: 'item tags', op: 'has none', value: ['live'] } },
        ],
      },
    ],
    ['an order without items', { all: [{ items: 'no', where: { all: [] } }] }],
    [
      'Wednesday afternoon',
      {
        all: [
          { fact: 'placed', op: 'weekday is', value: ['Wednesday'] },
          { fact: 'placed', op: 'time of day between', value: ['12:00', '23:59'] },
        ],
      },
    ],
  ])('not: %s', (_name, when) => expect(kinds(book(rule('r', when)))).toEqual([]))
  test('ten thousand stars, fifty thousand members and deep nesting are no trouble', () => {
    const deep = Array.from({ length: 200 }).reduce<Condition>(
      (inner, _, i) => (i % 2 ? { any: [inner] } : { all: [inner] }),
      { fact: 'wording', op: 'matches', value: `a${'*'.repeat(10_000)}b` },
    )
    const many: Rulebook = {
      name: 'b',
      groups: [{ id: 'g', name: 'g', kind: 'SKUs', members: Array.from({ length: 50_000 }, (_, i) => `SKU-${i}`) }],
      rules: [
        rule('deep', deep),
        rule('many', { items: 'any', where: { fact: 'sku', op: 'is one of', value: [{ group: 'g' }] } }),
      ],
    }
    expect(kinds(many).filter((kind) => kind.startsWith('never'))).toEqual([])
  })
})

describe('a rule that never acts', () => {
  test('one rule above takes all; several together do; with dates or switched off they do not', () => {
    const inBe: Condition = { fact: 'country', op: 'is', value: 'BE' }
    expect(kinds(book(rule('all', { all: [] }), rule('r', inBe)))).toEqual(['never acts r'])
    expect(
      kinds(
        book(
          rule('low', value('<', 5000)),
          rule('high', value('≥', 3000)),
          rule('none', { none: [{ fact: 'order value', op: 'is known' }] }),
          rule('r', inBe),
        ),
      ),
    ).toContain('never acts r')
    expect(kinds(book(rule('low', value('<', 5000)), rule('high', value('≥', 5001)), rule('r', inBe)))).not.toContain(
      'never acts r',
    )
    expect(kinds(book(rule('all', { all: [] }, { on: false }), rule('r', inBe)))).toEqual([])
    expect(kinds(book(rule('all', { all: [] }, { until: '2026-12-31' }), rule('r', inBe)))).not.toContain(
      'never acts r',
    )
    expect(
      kinds(
        book(
          rule('all', { all: [] }, { until: '2026-12-31' }),
          rule('r', inBe, { from: '2026-12-01', until: '2026-12-31' }),
        ),
      ),
    ).toContain('never acts r')
  })
  test('a stage that always ends before it; sets always act', () => {
    expect(
      logic(book(rule('end', { all: [] }, { finishStage: true, then: [] }), rule('r', { all: [] })))[0],
    ).toMatchObject({
      kind: 'never acts',
      sentence: 'It is never reached: “end” ends the stage for every order it is about.',
    })
    expect(
      kinds(
        book(
          rule('all', { all: [] }),
          rule(
            'r',
            { all: [] },
            {
              then: [
                { set: 'hold', to: 'x' },
                { set: 'tags', to: ['t'] },
              ],
            },
          ),
        ),
      ),
    ).toEqual(['clash r'])
  })
  test('tags are told by the rules that add them', () => {
    const live: Condition = { items: 'any', where: { fact: 'item tags', op: 'has any', value: ['live'] } }
    const tag: Rule = { ...rule('tag', live), then: [{ set: 'tags', to: ['Live'] }] }
    const pack = (id: string, when: Condition): Rule => ({
      ...rule(id, when),
      stage: 'packing',
      then: [{ set: 'preset', to: id }],
    })
    expect(kinds(book(tag, pack('a', live), pack('b', { fact: 'tags', op: 'has any', value: ['live'] })))).toEqual([
      'never acts b',
    ])
    expect(kinds(book(tag, pack('a', { all: [{ fact: 'tags', op: 'has none', value: ['live'] }, live] })))).toEqual([
      'never a',
    ])
  })
})

test('a clash names the winner with an order; an exception above is told apart', () => {
  const found = logic(
    book(
      rule('dear', value('≥', 5000)),
      rule('be', { fact: 'country', op: 'is', value: 'BE' }),
      rule('all', { all: [] }),
    ),
  )
  expect(found.map(({ kind, rule: own, others, exception }) => [kind, own, others[0], exception ?? false])).toEqual([
    ['clash', 'be', 'dear', false],
    ['clash', 'all', 'dear', true],
    ['clash', 'all', 'be', true],
  ])
  expect(found[0]!.witness!.order).toMatchObject({ value: { minor: 5000 }, shipTo: { country: 'BE' } })
})

test('a gap: rules that leave no service, with the order and the rule', () => {
  const service = (id: string, when: Condition, then: Rule['then']): Rule => ({
    ...rule(id, when),
    stage: 'service',
    then,
  })
  expect(
    logic(
      book(service('only', { all: [] }, [{ set: 'picks', to: [{ by: 'service', service: 'a-fast' }] }])),
      testWorld,
    ),
  ).toMatchObject([{ kind: 'gap', rule: 'only' }])
  expect(
    logic(
      book(service('bar', { fact: 'country', op: 'is', value: 'GB' }, [{ set: 'barred', to: ['a-slow'] }])),
      testWorld,
    ),
  ).toMatchObject([{ kind: 'gap', rule: 'bar', witness: { order: { shipTo: { country: 'GB' } } } }])
  expect(
    kinds(
      book(
        service('fine', { all: [] }, [
          { set: 'picks', to: [{ by: 'service', service: 'a-fast' }, { by: 'cheapest' }] },
        ]),
      ),
      testWorld,
    ),
  ).toEqual([])
})

test('a clash is found where only few of many parts can be an order at all', () => {
  const tagged = (id: string, when: Condition, tag: string): Rule =>
    rule(id, when, { then: [{ set: 'tags', to: [tag] }] })
  const boxed = (id: string, when: Condition, preset: string): Rule =>
    rule(id, when, { stage: 'packing', then: [{ set: 'preset', to: preset }] })
  const items = (which: 'any' | 'every' | 'no', tag: string, op: 'has any' | 'has all' = 'has any'): Condition => ({
    items: which,
    where: { fact: 'item tags', op, value: [tag] },
  })
  const tags = (...value: string[]): Condition => ({ fact: 'tags', op: 'has any', value })
  const free: Condition = { fact: 'wording', op: 'is', value: 'Free' }
  const found = logic(
    book(
      tagged('abroad', { all: [{ none: [{ fact: 'country', op: 'is', value: 'BE' }] }] }, 'b'),
      tagged('live', { all: [{ none: [items('no', 'live')] }] }, 'a'),
      boxed('untagged', { none: [tags('a', 'b'), { all: [{ all: [tags('b')] }] }] }, 'p2'),
      boxed('all', { all: [] }, 'p0'),
      tagged(
        'usual',
        { none: [{ all: [items('any', 'glass'), free] }, { any: [items('any', 'live', 'has all'), free] }] },
        'b',
      ),
      tagged('glass', items('every', 'glass'), 'a'),
    ),
  )
  expect(found).toMatchObject([{ kind: 'clash', rule: 'all', others: ['untagged'] }])
})

/* Brute force: all orders of a small world, in which every way a test can come out occurs. */
const countries = ['BE', 'NL', 'GB', '']
// No rate is known for the krona: its order has no value that could be compared.
const values = [...[0, 999, 1000, 1999, 2000, 2001].map((minor) => money(minor, 'EUR')), money(500, 'SEK')]
const wordings = ['', 'free', 'exp', 'slow']
const itemKinds = [[], ['live'], ['glass'], ['live', 'glass']]
const itemSets = Array.from({ length: 16 }, (_, bits) => itemKinds.filter((_kind, i) => (bits >> i) & 1))
const allOrders: Order[] = countries.flatMap((country) =>
  values.flatMap((value) =>
    wordings.flatMap((wording) =>
      itemSets.map((items): Order => ({
        ...normaliseOrder(
          {
            id: '1',
            number: 'N',
            placedAt: '2026-11-20T08:00:00Z',
            wording,
            shipTo: { lines: ['Kaai 1'], city: 'C', country },
            items: items.map((tags) => ({ sku: 'A', tags, weight: 500 })),
          },
          'shop',
          new Map(),
        ),
        value,
      })),
    ),
  ),
)

const leaf: fc.Arbitrary<Condition> = fc.oneof(
  fc.record({
    fact: fc.constant('country'),
    op: fc.constantFrom('is' as const, 'is not' as const),
    value: fc.constantFrom('BE', 'NL', 'GB'),
  }),
  fc.record({
    fact: fc.constant('country'),
    op: fc.constantFrom('is one of' as const, 'is none of' as const),
    value: fc.subarray(['be', 'NL', 'GB'], { minLength: 1 }),
  }),
  fc.record({
    fact: fc.constant('order value'),
    op: fc.constantFrom('<' as const, '≤' as const, '>' as const, '≥' as const, '=' as const, '≠' as const),
    value: fc.constantFrom(1000, 2000).map((n) => money(n, 'EUR')),
  }),
  fc.constantFrom<Condition>(
    { fact: 'wording', op: 'is', value: 'Free' },
    { fact: 'wording', op: 'is not', value: 'exp' },
    { fact: 'wording', op: 'is one of', value: ['exp', 'FREE'] },
    { fact: 'wording', op: 'is missing' },
  ),
  fc.record({
    items: fc.constantFrom('any' as const, 'every' as const, 'no' as const),
    where: fc.record({
      fact: fc.constant('item tags'),
      op: fc.constantFrom('has any' as const, 'has all' as const, 'has none' as const),
      value: fc.subarray(['live', 'glass'], { minLength: 1 }),
    }),
  }),
)
const tree = (base: fc.Arbitrary<Condition>): fc.Arbitrary<Condition> =>
  fc.letrec<{ node: Condition }>((tie) => ({
    node: fc.oneof(
      { maxDepth: 3 },
      { weight: 3, arbitrary: base },
      fc.array(tie('node'), { maxLength: 3 }).map((all): Condition => ({ all })),
      fc.array(tie('node'), { maxLength: 3 }).map((any): Condition => ({ any })),
      fc.array(tie('node'), { maxLength: 2 }).map((none): Condition => ({ none })),
    ),
  })).node
const smallRule = (id: number): fc.Arbitrary<Rule> =>
  fc.constantFrom('triage' as const, 'packing' as const).chain((stage) =>
    fc.record({
      id: fc.constant(`r${id}`),
      stage: fc.constant(stage),
      name: fc.constant(`r${id}`),
      on: fc.constant(true),
      finishStage: fc.constantFrom(false, false, false, true),
      when: tree(
        stage === 'packing'
          ? fc.oneof(
              leaf,
              fc.record({
                fact: fc.constant('tags'),
                op: fc.constantFrom('has any' as const, 'has none' as const),
                value: fc.subarray(['a', 'b'], { minLength: 1 }),
              }),
            )
          : leaf,
      ),
      then:
        stage === 'triage'
          ? fc.subarray(
              [
                { set: 'hold', to: `because ${id % 3}` },
                { set: 'tags', to: [id % 2 ? 'a' : 'b'] },
              ],
              { minLength: 1 },
            )
          : fc.constant([{ set: 'preset', to: `p${id % 3}` }]),
    }),
  )
const smallBook = fc
  .tuple(...[0, 1, 2, 3, 4, 5].map(smallRule))
  .map((rules): Rulebook => ({ name: 'small', groups: [], rules }))

test('brute force: nothing is called dead that can act, and nothing that cannot goes unsaid', () => {
  const ready = readyWorld(emptyWorld)
  fc.assert(
    fc.property(smallBook, (rulebook) => {
      const found = logic(rulebook)
      const said = (kind: string, id: string): boolean =>
        found.some((finding) => finding.kind === kind && finding.rule === id)
      const routedBy = (rules: readonly Rule[]): Routed[] => {
        const program = compileRulebook({ ...rulebook, rules }, emptyWorld.rates)
        return allOrders.map((order) => route(order, program, ready, { now }))
      }
      const all = routedBy(rulebook.rules)
      for (const own of rulebook.rules) {
        const others = rulebook.rules.filter((other) => other.stage === 'triage' && own.stage === 'packing')
        const matches = routedBy([...others, own]).some((routed) =>
          routed.trail.stages.some((stage) => stage.matched.includes(own.id)),
        )
        expect([own.id, said('never', own.id)]).toEqual([own.id, !matches])
        if (!matches) continue
        const reached = all.some((routed) => routed.trail.stages.some((stage) => stage.matched.includes(own.id)))
        const acts = all.some((routed) =>
          routed.trail.decisions.some(
            (entry) =>
              (entry.by.kind === 'rule' && entry.by.rule === own.id) ||
              entry.parts.some((part) => part.rule === own.id),
          ),
        )
        expect([own.id, said('never acts', own.id)]).toEqual([own.id, !reached || (!acts && !own.finishStage)])
        const loses = all.some((routed) =>
          routed.trail.decisions.some(
            (entry) =>
              entry.by.kind === 'rule' &&
              entry.others.some(
                (other) => other.rule === own.id && JSON.stringify(other.value) !== JSON.stringify(entry.value),
              ),
          ),
        )
        if (!said('never acts', own.id)) expect([own.id, said('clash', own.id)]).toEqual([own.id, loses])
      }
      for (const finding of found) if (finding.kind !== 'partly covered') expect(finding.witness).not.toBeNull()
    }),
    { numRuns: Number(process.env.RUNS ?? 40) },
  )
})
