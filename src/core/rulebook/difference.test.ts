import fc from 'fast-check'
import { anyRulebook, testWorld } from './arbitraries.test-help'
import { rulebookDifference, type Rule, type Rulebook } from './index'

const rule = (id: string, more: Partial<Rule> = {}): Rule => ({ id, stage: 'packing', name: id.toUpperCase(), on: true, when: { fact: 'items weight', op: '>', value: 4000 }, then: [{ set: 'preset', to: 'large' }], ...more })
const book = (...rules: Rule[]): Rulebook => ({ name: 'b', groups: [{ id: 'g', name: 'Near', members: ['BE', 'NL'] }], rules })
const sentences = (a: Rulebook, b: Rulebook): string[] => rulebookDifference(a, b, testWorld).map((difference) => difference.sentence)

test('a raised limit reads as a raised limit', () => {
  expect(sentences(book(rule('a')), book(rule('a', { when: { fact: 'items weight', op: '>', value: 5500 } })))).toEqual(['"A": When weight of the items > 4 kg: pack in Large. → When weight of the items > 5.5 kg: pack in Large.'])
})

test('added, deleted, switched, moved, renamed, dated', () => {
  expect(sentences(book(rule('a'), rule('b'), rule('c')), book(rule('c'), rule('a', { on: false }), rule('d', { name: 'Dee' })))).toEqual(['"A" is switched off', 'New in packing: "Dee". When weight of the items > 4 kg: pack in Large.', 'Deleted from packing: "B"', '"C" moves to the top of packing'])
  expect(sentences(book(rule('a')), book(rule('a', { name: 'Z', until: '2026-12-31', finishStage: true })))).toEqual(['"A" is now called "Z"', '"Z" ends its stage now', '"Z" takes part until 2026-12-31'])
})

test('groups say who came and who went', () => {
  expect(sentences(book(), { ...book(), groups: [{ id: 'g', name: 'Near', members: ['BE', 'DE'] }, { id: 'h', name: 'Far', members: [] }] })).toEqual(['Group "Near" gains DE and loses NL', 'New: group "Far"'])
})

test('nothing differs from itself, and every real difference is told', () => {
  fc.assert(fc.property(anyRulebook, anyRulebook, (a, b) => {
    expect(sentences(a, a)).toEqual([])
    const told = sentences(a, b)
    if (JSON.stringify(a.rules) !== JSON.stringify(b.rules)) expect(told.length).toBeGreaterThan(0)
  }), { numRuns: 100 })
})
