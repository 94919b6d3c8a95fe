/** @jest-environment jsdom */
import fc from 'fast-check'
import { type FactType, facts, operatorsOf, takesList, type Test } from '@/core/rulebook/language'
import { money } from '@/core/units'
import { demoWorld } from '../../../demo/world'
import { readTypedCondition, readTypedTest, readTypedValue } from './typedConditions'
import { writeQuantity } from './values'

const names = {
  groups: [{ id: 'alps', name: 'Alpine countries' }],
  world: demoWorld,
  channels: [{ id: 'mossgill-shop', name: 'Mossgill Shop' }],
}

test.each<[string, Omit<Test, never>]>([
  ['order value >= 400', { fact: 'order value', op: '≥', value: money(40_000, 'EUR') }],
  ['order value >= £400', { fact: 'order value', op: '≥', value: money(40_000, 'GBP') }],
  ['Order Value above 25.50', { fact: 'order value', op: '>', value: money(2550, 'EUR') }],
  ['weight 2-5 kg', { fact: 'weight', op: 'between', value: [2000, 5000] }],
  ['weight between 500 g and 2 kg', { fact: 'weight', op: 'between', value: [500, 2000] }],
  ['items weight below 2 kg', { fact: 'items weight', op: '<', value: 2000 }],
  ['quantity 3', { fact: 'quantity', op: '≥', value: 3 }],
  ['quantity = 3', { fact: 'quantity', op: '=', value: 3 }],
  ['quantity is missing', { fact: 'quantity', op: 'is missing' }],
  ['country BE, NL', { fact: 'country', op: 'is one of', value: ['BE', 'NL'] }],
  ['country be or nl', { fact: 'country', op: 'is one of', value: ['BE', 'NL'] }],
  ['country is DE', { fact: 'country', op: 'is', value: 'DE' }],
  ['country not DE', { fact: 'country', op: 'is not', value: 'DE' }],
  ['country not DE, FR', { fact: 'country', op: 'is none of', value: ['DE', 'FR'] }],
  ['country alpine countries', { fact: 'country', op: 'is one of', value: [{ group: 'alps' }] }],
  ['city starts with San', { fact: 'city', op: 'starts with', value: 'San' }],
  ['tags vip, gift', { fact: 'tags', op: 'has any', value: ['vip', 'gift'] }],
  ['tags has none of vip', { fact: 'tags', op: 'has none', value: ['vip'] }],
  ['service Heron Road', { fact: 'service', op: 'is', value: 'heron-road' }],
  ['channel is mossgill shop', { fact: 'channel', op: 'is', value: 'mossgill-shop' }],
  ['val >400', { fact: 'order value', op: '>', value: money(40_000, 'EUR') }],
  ['val>400', { fact: 'order value', op: '>', value: money(40_000, 'EUR') }],
  ['ord val 400', { fact: 'order value', op: '≥', value: money(40_000, 'EUR') }],
  ['w>30 kg', { fact: 'weight', op: '>', value: 30_000 }],
  ['coun = be', { fact: 'country', op: 'is', value: 'BE' }],
  ['order was placed 12:00-14:00', { fact: 'placed', op: 'time of day between', value: ['12:00', '14:00'] }],
  ['order was placed thu, friday', { fact: 'placed', op: 'weekday is', value: ['Thursday', 'Friday'] }],
  ['placed before 2026-12-24', { fact: 'placed', op: 'before', value: '2026-12-24' }],
  ['order was paid within the last 36 hours', { fact: 'paid', op: 'within the last', value: { hours: 36 } }],
  ['returning buyer yes', { fact: 'returning buyer', op: 'is', value: true }],
])('“%s” is understood in one go', (text, expected) => {
  expect(readTypedCondition(text, 'papers', false, names)).toEqual(expected)
})

test.each([
  'order value',
  'val lots',
  'order was placed noon',
  'order value lots',
  'weightless 3',
  'hello',
  '',
  'country',
  'quantity 5-',
])('“%s” is no condition, and nothing is guessed', (text) => {
  expect(readTypedCondition(text, 'service', false, names)).toBeUndefined()
})

test('a fact that a later stage settles cannot be typed before it', () => {
  expect(readTypedCondition('service cost > 10', 'triage', false, names)).toBeUndefined()
})

test.each<[string, FactType, Omit<Test, 'fact'> | undefined]>([
  ['>= 400', 'money', { op: '≥', value: money(40_000, 'EUR') }],
  ['≥400', 'money', { op: '≥', value: money(40_000, 'EUR') }],
  ['below 2 kg', 'weight', { op: '<', value: 2000 }],
  ['between 10 and 20', 'number', { op: 'between', value: [10, 20] }],
  ['at most 3', 'number', { op: '≤', value: 3 }],
  ['not DE', 'country', { op: 'is not', value: 'DE' }],
  ['5', 'number', { op: '<', value: 5 }],
  ['-5', 'number', { op: '<', value: -5 }],
  ['nothing', 'number', undefined],
])('as a value, “%s” sets the operator too', (text, type, expected) => {
  expect(readTypedValue(text, { fact: '', op: type === 'country' ? 'is' : '<' }, type, names)).toEqual(expected)
})

test('each operator with a written value is read as it was meant', () => {
  const ordered = fc.constantFrom<FactType>('number', 'money', 'weight', 'length').chain((type) =>
    fc.record({
      type: fc.constant(type),
      op: fc.constantFrom(...operatorsOf[type].filter((op) => !['between', 'is missing', 'is known'].includes(op))),
      value: type === 'money' ? fc.nat(10_000_000).map((minor) => money(minor, 'EUR')) : fc.nat(900_000),
    }),
  )
  fc.assert(
    fc.property(ordered, ({ type, op, value }) =>
      expect(readTypedTest(`${op} ${writeQuantity(type, value)}`, '', type, names)).toEqual({ op, value }),
    ),
  )
  const textual = fc.record({
    type: fc.constant<FactType>('text'),
    op: fc.constantFrom(...operatorsOf.text.filter((op) => !['is missing', 'is known'].includes(op))),
    value: fc.constantFrom('Express', 'heron road', 'A-1'),
  })
  fc.assert(
    fc.property(textual, ({ type, op, value }) =>
      expect(readTypedTest(`${op} ${value}`, '', type, names)).toEqual({
        op,
        value: takesList(op, type) ? [value] : value,
      }),
    ),
  )
})

test('whatever is typed, a fact’s test is one that its type allows', () => {
  fc.assert(
    fc.property(fc.constantFrom(...facts), fc.string(), ({ id, type }, text) => {
      const read = readTypedTest(text, id, type, names)
      if (read) expect(operatorsOf[type]).toContain(read.op)
    }),
  )
})
