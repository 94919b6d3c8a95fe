import { normaliseOrder, type RawOrder } from '@/core/order'
import { copyRules, pasteRules, readyWorld, suggestRules, withRuleIn, withRulePlaced, type Precedent, type Rule, type Rulebook } from './index'
import { testWorld } from './arbitraries.test-help'

const ready = readyWorld(testWorld)
let next = 0
const precedent = (more: Partial<RawOrder>, pins: Precedent['pins'], decided: Precedent['decided'] = {}): Precedent => {
  const id = ++next
  return { id, number: `N-${id}`, pins, decided, order: normaliseOrder({ id: String(id), number: `N-${id}`, placedAt: '2026-11-20T08:00:00Z', wording: 'Free', shipTo: { country: 'BE', lines: ['Kaai 1'], city: 'G', postcode: '9000' }, items: [{ sku: 'A', weight: 500, price: '20' }], ...more }, 'shop', new Map()) }
}
const fast = { picks: [{ by: 'service', service: 'a-fast' }] }
const slow = { picks: [{ by: 'service', service: 'a-slow' }] }

describe('suggestions from hand pins', () => {
  test('the pattern that tells the pinned orders from the others, with what speaks for and against it', () => {
    const orders = [
      ...[1, 2, 3, 4].map(() => precedent({ wording: '810' }, fast)), precedent({ wording: '810' }, {}, slow),
      ...[1, 2, 3, 4, 5].map(() => precedent({}, {}, slow)), precedent({ wording: '810' }, {}, fast),
    ]
    const [found] = suggestRules(orders, ready, 0)
    expect(found).toMatchObject({ decision: 'picks', value: fast.picks, when: { all: [{ fact: 'wording', op: 'is', value: '810' }] }, pinned: 4 })
    expect(found!.support).toHaveLength(4)
    expect(found!.against.map(({ number }) => number)).toEqual(['N-5'])
  })
  test('two tests together when one does not do', () => {
    const orders = [...[1, 2, 3].map(() => precedent({ wording: '810', shipTo: { country: 'NL', lines: ['Kaai 1'], city: 'G', postcode: '1000' } }, fast)), ...[1, 2, 3, 4].map(() => precedent({ wording: '810' }, {}, slow)), ...[1, 2, 3, 4].map(() => precedent({ shipTo: { country: 'NL', lines: ['Kaai 1'], city: 'G', postcode: '1000' } }, {}, slow))]
    expect(suggestRules(orders, ready, 0)[0]!.when).toEqual({ all: [{ fact: 'wording', op: 'is', value: '810' }, { fact: 'country', op: 'is', value: 'NL' }] })
  })
  test('too few, or too many that were decided otherwise: nothing is said', () => {
    expect(suggestRules([1, 2].map(() => precedent({ wording: '810' }, fast)), ready, 0)).toEqual([])
    expect(suggestRules([...[1, 2, 3].map(() => precedent({}, fast)), ...Array.from({ length: 6 }, () => precedent({}, {}, slow))], ready, 0)).toEqual([])
    expect(suggestRules([1, 2, 3].map(() => precedent({}, { hold: 'x', weight: 5 })), ready, 0)).toEqual([])
  })
})

describe('pieces of a rulebook', () => {
  const rule = (id: string, more: Partial<Rule> = {}): Rule => ({ id, stage: 'triage', name: id, on: true, when: { all: [] }, then: [], ...more })
  const book: Rulebook = { name: 'b', groups: [{ id: 'g', name: 'G', members: ['BE'] }, { id: 'other', name: 'Other', members: [] }], conditions: [{ id: 'c', name: 'C', when: { fact: 'country', op: 'is one of', value: [{ group: 'g' }] } }], rules: [rule('a', { when: { saved: 'c' } }), rule('b'), rule('p', { stage: 'packing' })] }
  const ids = (rulebook: Rulebook): string[] => rulebook.rules.map(({ id, stage }) => `${id} ${stage}`)
  test('a copied rule brings what it points to, and keeps its name apart', () => {
    const text = copyRules(book, ['a'])
    expect(text).toContain('id: g\n')
    expect(text).not.toContain('id: other\n')
    const same = pasteRules(book, text, 'triage', 'a', () => 'new')
    expect(same).toMatchObject({ ok: true, rulebook: { rules: [{ id: 'a' }, { id: 'new', name: 'a (2)' }, { id: 'b' }, { id: 'p' }] } })
    const elsewhere = pasteRules({ name: 'e', groups: [], rules: [] }, text, 'packing', null, () => 'new')
    expect(elsewhere).toMatchObject({ ok: true, rulebook: { groups: [{ id: 'g' }], conditions: [{ id: 'c' }], rules: [{ id: 'new', stage: 'packing', name: 'a' }] } })
    expect(pasteRules(book, 'just words', 'triage', null, () => 'x')).toMatchObject({ ok: false, problems: [{ sentence: expect.stringContaining('holds no rulebook') as string }] })
  })
  test('moving within a stage and to another one', () => {
    expect(ids(withRulePlaced(book, 'b', 'a'))).toEqual(['b triage', 'a triage', 'p packing'])
    expect(withRulePlaced(book, 'b', 'p')).toBe(book)
    expect(ids(withRuleIn(book, 'a', 'packing'))).toEqual(['b triage', 'p packing', 'a packing'])
    expect(ids(withRuleIn(book, 'p', 'papers'))).toEqual(['a triage', 'b triage', 'p papers'])
  })
})
