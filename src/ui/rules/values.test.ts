/** @jest-environment jsdom */
import fc from 'fast-check'
import { type FactType, operatorsOf, takesList, type Value } from '@/core/rulebook/language'
import { formatMoney, money } from '@/core/units'
import { changeOperator, firstOperator, firstValue, readList, readQuantity, writeQuantity } from './values'

const types = Object.keys(operatorsOf) as FactType[]

test('what a value is written as is read as the same value', () => {
  const currency = fc.constantFrom('EUR', 'GBP', 'CHF', 'JPY', 'KWD')
  const given = fc.oneof(
    fc.record({ type: fc.constant<FactType>('weight'), value: fc.nat(2_000_000) }),
    fc.record({ type: fc.constant<FactType>('length'), value: fc.nat(20_000) }),
    fc.record({ type: fc.constant<FactType>('number'), value: fc.integer({ min: -1000, max: 1_000_000 }) }),
    fc.record({
      type: fc.constant<FactType>('money'),
      value: fc.tuple(fc.nat(10_000_000), currency).map(([minor, of]) => money(minor, of)),
    }),
  )
  fc.assert(
    fc.property(given, ({ type, value }) => expect(readQuantity(type, writeQuantity(type, value))).toEqual(value)),
    { numRuns: 500 },
  )
})

test.each<[FactType, string, unknown]>([
  ['weight', '2,5 kg', 2500],
  ['weight', '500', 500],
  ['weight', 'heavy', undefined],
  ['length', '60', 600],
  ['length', '0.8 m', 800],
  ['money', '25', money(2500, 'EUR')],
  ['money', '€25,50', money(2550, 'EUR')],
  ['money', '10 gbp', money(1000, 'GBP')],
  ['money', 'a lot', undefined],
  ['number', '1,5', 1.5],
  ['number', ' ', undefined],
  ['number', 'Infinity', undefined],
])('%s typed as %j', (type, text, wanted) => expect(readQuantity(type, text)).toEqual(wanted))

test('a new test is a whole sentence, and stays one whatever operator is chosen', () => {
  const fits = (type: FactType, op: (typeof operatorsOf)[FactType][number], value: Value | undefined): boolean => {
    if (op === 'is missing' || op === 'is known') return value === undefined
    if (type === 'yes/no') return typeof value === 'boolean'
    if (type === 'time') return value !== undefined
    if (takesList(op, type)) return Array.isArray(value)
    return op === 'between' ? Array.isArray(value) && value.length === 2 : value !== undefined && !Array.isArray(value)
  }
  for (const type of types) {
    const first = firstOperator(type)
    expect(operatorsOf[type]).toContain(first)
    expect([type, first, fits(type, first, firstValue(type, first))]).toEqual([type, first, true])
    for (const one of operatorsOf[type])
      for (const two of operatorsOf[type]) {
        const start = firstValue(type, one)
        const { value } = changeOperator(
          { fact: 'x', op: one, ...(start === undefined ? {} : { value: start }) },
          type,
          two,
        )
        expect([type, one, two, fits(type, two, value)]).toEqual([type, one, two, true])
      }
  }
})

test('changing the operator keeps the value as far as it makes sense', () => {
  expect(changeOperator({ fact: 'country', op: 'is', value: 'BE' }, 'country', 'is one of').value).toEqual(['BE'])
  expect(changeOperator({ fact: 'country', op: 'is one of', value: ['BE', 'NL'] }, 'country', 'is').value).toBe('BE')
  expect(changeOperator({ fact: 'country', op: 'is one of', value: [{ group: 'g' }] }, 'country', 'is').value).toBe('')
  expect(changeOperator({ fact: 'weight', op: '<', value: 500 }, 'weight', 'between').value).toEqual([500, 500])
  expect(changeOperator({ fact: 'weight', op: 'between', value: [500, 900] }, 'weight', '>').value).toBe(500)
  expect(changeOperator({ fact: 'now', op: 'weekday is', value: ['Monday'] }, 'time', 'before').value).toMatch(
    /^\d{4}-\d\d-\d\d$/,
  )
})

test('a typed list names groups by their name', () => {
  const groups = [{ id: 'g1', name: 'Benelux' }]
  expect(readList('FR, @benelux , Benelux,, de', groups)).toEqual(['FR', { group: 'g1' }, { group: 'g1' }, 'de'])
  expect(readList(' , ', groups)).toBeUndefined()
})

test('every amount that Gharry shows is read back as it is, whatever its currency', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -1e9, max: 1e9 }),
      fc.constantFrom('EUR', 'GBP', 'USD', 'JPY', 'KWD', 'PLN', 'CHF', 'CAD', 'SEK', 'CNY', 'INR'),
      (minor, currency) =>
        expect(readQuantity('money', formatMoney(money(minor, currency)))).toEqual(money(minor, currency)),
    ),
  )
})

test.each([
  ['€300', 300_00, 'EUR'],
  ['£ 300', 300_00, 'GBP'],
  ['300.00 £', 300_00, 'GBP'],
  ['$12.50', 12_50, 'USD'],
  ['¥10,000', 10_000, 'JPY'],
  ['1,234.50 pln', 1_234_50, 'PLN'],
])('an amount typed as %s is understood', (text, minor, currency) => {
  expect(readQuantity('money', text)).toEqual(money(minor, currency))
})

test('a currency that does not exist is not taken', () => {
  expect(readQuantity('money', '25 XQZ')).toBeUndefined()
})
