/** @jest-environment jsdom */
import { decisionKinds, decisionValues } from '@/core/rulebook/language'
import { newAction, readTypedAction } from './actionValues'
import { testWorld } from '../../core/rulebook/language/arbitraries.test-help'

const words = { world: testWorld, groups: [] }
const read = (typed: string) => readTypedAction(typed, 'triage', words)

test.each([
  ['hold too heavy', { set: 'hold', to: 'too heavy' }],
  ['hold because it waits until Monday', { set: 'hold', to: { reason: 'it waits', until: { weekday: 'Monday' } } }],
  ['insure 250 EUR', { set: 'insurance', to: { cover: 'amount', amount: { minor: 25_000, currency: 'EUR' } } }],
  ['ins order value', { set: 'insurance', to: { cover: 'order value' } }],
  ['choose cheapest', { set: 'picks', to: [{ by: 'cheapest' }] }],
  ['use fastest else cheapest', { set: 'picks', to: [{ by: 'fastest' }, { by: 'cheapest' }] }],
  ['add tags big, live', { set: 'tags', to: ['big', 'live'] }],
  ['pri urgent', { set: 'priority', to: 'urgent' }],
  ['ask for a signature: yes', { set: 'signature', to: true }],
  ['sign no', { set: 'signature', to: false }],
  ['correct the weight by 60 g', { set: 'weight', to: 60 }],
])('“%s” is an action', (typed, action) => {
  expect(read(typed)).toEqual(action)
})

test.each([
  '',
  'hold',
  'ship from',
  'choose the',
  'ho too heavy',
  'insure a lot',
  'wait until',
  'pack in',
  'pri sometime',
  'tags',
])('“%s” is none: it is looked for in the list', (typed) => {
  expect(read(typed)).toBeUndefined()
})

test('what is read is a value that the rulebook takes, for every kind of action', () => {
  for (const kind of decisionKinds) {
    const { to } = newAction(kind.id, words)
    expect([kind.id, decisionValues[kind.type].safeParse(to).success]).toEqual([kind.id, true])
  }
})

test('an action of an earlier stage is none', () => {
  expect(readTypedAction('hold too heavy', 'service', words)).toBeUndefined()
})
