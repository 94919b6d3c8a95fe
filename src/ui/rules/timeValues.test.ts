import { weekdays } from '@/core/rulebook/language'
import { readTypedTime, timeReader } from './timeValues'

test.each([
  ['12:00-14:00', { op: 'time of day between', value: ['12:00', '14:00'] }],
  ['between 8:05 and 23:59', { op: 'time of day between', value: ['08:05', '23:59'] }],
  ['time of day between 0:00 and 6:30', { op: 'time of day between', value: ['00:00', '06:30'] }],
  ['Monday, Tuesday', { op: 'weekday is', value: ['Monday', 'Tuesday'] }],
  ['on sat or sun', { op: 'weekday is', value: ['Saturday', 'Sunday'] }],
  ['is fri and mon', { op: 'weekday is', value: ['Friday', 'Monday'] }],
  ['before 2026-12-24', { op: 'before', value: '2026-12-24' }],
  ['After  2026-12-24 ', { op: 'after', value: '2026-12-24' }],
  ['last 36 hours', { op: 'within the last', value: { hours: 36 } }],
  ['within the next 2.5 d', { op: 'within the next', value: { days: 2.5 } }],
  ['is missing', { op: 'is missing' }],
  ['is known', { op: 'is known' }],
  ['is missing today', undefined],
  ['before Christmas', undefined],
  ['before 2026-13-45', undefined],
  ['last 0 hours', undefined],
  ['last 3 weeks', undefined],
  ['25:00-26:00', undefined],
  ['12:00', undefined],
  ['mo', undefined],
  ['Monday, someday', undefined],
  ['', undefined],
])('“%s” is %j', (text, test) => {
  const read = readTypedTime(text)
  const named = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map((one: string) => weekdays.find((day) => day.toLowerCase() === one.toLowerCase()) ?? one)
      : value
  expect(read && { ...read, ...(read.value === undefined ? {} : { value: named(read.value) }) }).toEqual(test)
})

test('each way of testing a moment says what to type, and reads what it says', () => {
  for (const [op, example] of [
    ['before', '2026-12-24'],
    ['time of day between', '12:00 and 23:59'],
    ['within the last', '36 hours'],
  ] as const) {
    const [hint, read] = timeReader(op)
    expect(hint).toContain(example)
    expect(read(example)).toBeDefined()
    expect(read('soon')).toBeUndefined()
  }
})
