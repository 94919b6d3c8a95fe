/** @jest-environment jsdom */
import { testWorld } from '../../../core/rulebook/language/arbitraries.test-help'
import { wordsOf } from '../deciding/offers'
import { readColumn } from './readColumn'

const words = wordsOf(testWorld)
const orders = [
  { id: 7, number: 'MS-1' },
  { id: 3, number: 'MS-2' },
  { id: 9, number: 'MS-3' },
]
const read = (text: string, of: Parameters<typeof readColumn>[2] = 'weigh') => readColumn(text, orders, of, words)

test('one column goes by the sequence of the list; an empty cell leaves its order as it is', () => {
  expect(read('1 kg\n\n250 g\n')).toEqual({
    values: [
      [7, 1000],
      [9, 250],
    ],
    example: 'MS-1: 1 kg …',
    wrong: '',
  })
  expect(read('weight\r\n1 kg\r\n2 kg\r\n3 kg').values).toHaveLength(3)
})

test('two columns go by order numbers, in any sequence, with or without a head', () => {
  const values = [
    [9, 'urgent'],
    [7, 'later'],
  ]
  expect(read('MS-3\turgent\nms-1\tlater', 'priority').values).toEqual(values)
  expect(read('Order\tPriority\nMS-3\turgent\nMS-1\tlater', 'priority').values).toEqual(values)
})

test.each([
  ['1 kg\n2 kg', 'There are 2 values for 3 orders: select as many, or paste order numbers, too.'],
  ['1 kg\n2 kg\n3 kg\n4 kg', 'There are 4 values for 3 orders: select as many, or paste order numbers, too.'],
  ['a\tb\tc', 'There are 3 columns: paste one of values, or two with order numbers before them.'],
  ['1 kg\nheavy\n3 kg', 'Line 2: “heavy” cannot be read for order MS-2.'],
  ['1 kg\n-2 kg\n3 kg', 'Line 2: “-2 kg” cannot be read for order MS-2.'],
  ['MS-1\t1 kg\nMS-9\t2 kg', 'Line 2: order “MS-9” is not among those that are selected.'],
  ['', 'Paste the values, one line for each order.'],
  ['\n\n\n', 'Paste the values, one line for each order.'],
  ['MS-1\t', 'There is no value in it.'],
])('%j is refused as a whole, with its place', (text, sentence) => {
  expect(read(text)).toEqual({ values: [], example: '', wrong: sentence })
})
