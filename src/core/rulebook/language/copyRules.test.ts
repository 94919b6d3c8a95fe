import { copyRules, pasteRules, withNewRule, withRuleIn, withRulePlaced } from './copyRules'
import type { Rule, Rulebook } from './rulebook'

describe('pieces of a rulebook', () => {
  const rule = (id: string, more: Partial<Rule> = {}): Rule => ({
    id,
    stage: 'triage',
    name: id,
    on: true,
    when: { all: [] },
    then: [],
    ...more,
  })
  const book: Rulebook = {
    name: 'b',
    groups: [
      { id: 'g', name: 'G', members: ['BE'] },
      { id: 'other', name: 'Other', members: [] },
    ],
    conditions: [{ id: 'c', name: 'C', when: { fact: 'country', op: 'is one of', value: [{ group: 'g' }] } }],
    rules: [rule('a', { when: { saved: 'c' } }), rule('b'), rule('p', { stage: 'packing' })],
  }
  const ids = (rulebook: Rulebook): string[] => rulebook.rules.map(({ id, stage }) => `${id} ${stage}`)
  test('a copied rule brings what it points to, and keeps its name apart', () => {
    const text = copyRules(book, ['a'])
    expect(text).toContain('id: g\n')
    expect(text).not.toContain('id: other\n')
    const same = pasteRules(book, text, 'triage', 'a', () => 'new')
    expect(same).toMatchObject({
      ok: true,
      rulebook: { rules: [{ id: 'a' }, { id: 'new', name: 'a (2)' }, { id: 'b' }, { id: 'p' }] },
    })
    const elsewhere = pasteRules({ name: 'e', groups: [], rules: [] }, text, 'packing', null, () => 'new')
    expect(elsewhere).toMatchObject({
      ok: true,
      rulebook: {
        groups: [{ id: 'g' }],
        conditions: [{ id: 'c' }],
        rules: [{ id: 'new', stage: 'packing', name: 'a' }],
      },
    })
    expect(pasteRules(book, 'just words', 'triage', null, () => 'x')).toMatchObject({
      ok: false,
      problems: [{ sentence: expect.stringContaining('holds no rulebook') as string }],
    })
  })
  test('moving within a stage and to another one', () => {
    expect(ids(withRulePlaced(book, 'b', 'a'))).toEqual(['b triage', 'a triage', 'p packing'])
    expect(withRulePlaced(book, 'b', 'p')).toBe(book)
    expect(ids(withRuleIn(book, 'a', 'packing'))).toEqual(['b triage', 'p packing', 'a packing'])
    expect(ids(withRuleIn(book, 'p', 'papers'))).toEqual(['a triage', 'b triage', 'p papers'])
    expect(withRuleIn(book, 'p', 'packing')).toBe(book)
  })
  describe('a new rule goes last, but above what takes every order', () => {
    const rest = rule('rest', { then: [{ set: 'priority', to: 'high' }] })
    const special = rule('special', {
      when: { fact: 'country', op: 'is', value: 'BE' },
      then: [{ set: 'priority', to: 'low' }],
    })
    const added = (rules: readonly Rule[], own = rule('new')): string[] =>
      withNewRule({ name: 'b', groups: [], rules }, own).rules.map(({ id }) => id)
    test.each([
      ['one that takes everything else', [special, rest], ['special', 'new', 'rest']],
      ['two of them', [special, rest, { ...rest, id: 'rest 2' }], ['special', 'new', 'rest', 'rest 2']],
      ['one that is not at the end', [rest, special], ['rest', 'special', 'new']],
      ['one that is off', [special, { ...rest, on: false }], ['special', 'rest', 'new']],
      ['one that counts only for some days', [special, { ...rest, until: '2026-12-31' }], ['special', 'rest', 'new']],
      ['one that does nothing yet', [special, rule('made before')], ['special', 'made before', 'new']],
      [
        'those of other stages',
        [special, { ...rest, id: 'p', stage: 'packing' as const, then: [{ set: 'preset', to: 'box' }] }],
        ['special', 'new', 'p'],
      ],
      ['none of its stage', [{ ...special, stage: 'packing' as const }], ['special', 'new']],
    ])('%s', (_, rules, wanted) => {
      expect(added(rules)).toEqual(wanted)
      // The same place for what is pasted, and what comes from another stage.
      const book = { name: 'b', groups: [], rules }
      expect(
        pasteRules(book, copyRules({ ...book, rules: [special] }, ['special']), 'triage', null, () => 'new'),
      ).toMatchObject({ rulebook: { rules: wanted.map((id) => ({ id })) } })
      expect(
        withRuleIn({ ...book, rules: [...rules, rule('new', { stage: 'papers' })] }, 'new', 'triage').rules.map(
          ({ id }) => id,
        ),
      ).toEqual(wanted)
    })
  })
})
