/** @jest-environment jsdom */
import { decisionValues, decisionById } from '@/core/rulebook/language'
import { testWorld } from '../../../core/rulebook/language/arbitraries.test-help'
import { offersFor, wordsOf } from './offers'

const words = wordsOf(testWorld)
const first = (text: string) => offersFor(text, words)[0]
const edits = (text: string) => offersFor(text, words).flatMap(({ edit }) => edit ?? [])

test.each([
  ['hold call the buyer', { do: 'pin', decision: 'hold', value: 'call the buyer' }],
  ['hold wait until Friday', { do: 'pin', decision: 'hold', value: { reason: 'wait', until: { weekday: 'Friday' } } }],
  ['urgent', { do: 'pin', decision: 'priority', value: 'urgent' }],
  ['signature yes', { do: 'pin', decision: 'signature', value: true }],
  [
    'insurance 250 EUR',
    { do: 'pin', decision: 'insurance', value: { cover: 'amount', amount: { minor: 25_000, currency: 'EUR' } } },
  ],
  ['order value', { do: 'pin', decision: 'insurance', value: { cover: 'order value' } }],
  ['weight correction -20 g', { do: 'pin', decision: 'weight', value: -20 }],
  ['weight 1.2 kg', { do: 'weigh', grams: 1200 }],
  ['1.2 kg', { do: 'weigh', grams: 1200 }],
  ['tag gift, blue', { do: 'tag', add: ['gift', 'blue'], remove: [] }],
  ['without gift', { do: 'tag', add: [], remove: ['gift'] }],
  ['release priority', { do: 'release', decision: 'priority' }],
  ['release hold', { do: 'pin', decision: 'hold', value: null }],
])('“%s” is decided with the first offer, or one of them', (text, edit) => {
  expect(edits(text)).toContainEqual(edit)
})

test('a service is found by its name alone, in any order of words', () => {
  const { id, name } = testWorld.services[0]!
  const turned = name.toLowerCase().split(' ').reverse().join(' ')
  expect(edits(turned)).toContainEqual({ do: 'pin', decision: 'picks', value: [{ by: 'service', service: id }] })
})

test('what cannot be read is not decided: how it is written is said', () => {
  const offered = first('weight correction quite heavy')
  expect([offered?.value, offered?.edit]).toEqual(['A weight such as 60 g, or -20 g.', undefined])
  expect(offersFor('quite heavy', words)).toEqual([])
  expect(offersFor('weight -3 kg', words).every(({ edit }) => edit?.do !== 'weigh')).toBe(true)
})

test('every offer has a value that its decision allows, for any letters', () => {
  const letters = 'abcdefghijklmnopqrstuvwxyz'.split('')
  for (const text of ['', ...letters, ...letters.map((letter) => `e${letter}`)])
    for (const { edit, fill } of offersFor(text, words)) {
      expect(edit !== undefined || fill !== undefined).toBe(true)
      if (edit?.do !== 'pin' || edit.value === null) continue
      const { type } = decisionById.get(edit.decision)!
      expect({ type, ok: decisionValues[type].safeParse(edit.value).success }).toEqual({ type, ok: true })
    }
})
