import { demoItems } from '../../../demo/items'
import { readItemTable, writeItemTable } from './itemTable'
import type { ItemCard } from './normalise'

const cards: readonly ItemCard[] = demoItems.map(({ price: _price, ...card }) => card)

test('items written as a table and read again are the same', () => {
  const rows = writeItemTable(cards).map((cells, i) => ({ line: i + 2, cells }))
  expect(readItemTable(rows, [])).toEqual({ cards, problems: [] })
})

test('empty cells leave what is known, a dash empties it', () => {
  const [card] = readItemTable([{ line: 2, cells: { sku: 'TNK-060', weight: '10.1 kg', tags: '-' } }], cards).cards
  expect(card).toEqual({ ...cards.find(({ sku }) => sku === 'TNK-060')!, weight: 10_100, tags: [] })
  expect(
    readItemTable(
      [
        {
          line: 2,
          cells: {
            sku: 'NEW',
            title: 'New',
            weight: '1,5 kg',
            length: '30',
            origin: 'Belgien',
            'dangerous goods': 'un3481',
          },
        },
      ],
      cards,
    ).cards,
  ).toEqual([
    {
      sku: 'NEW',
      title: 'New',
      weight: 1500,
      size: [300, 1, 1],
      tags: [],
      hsCode: '',
      origin: 'BE',
      dangerousGoods: 'UN 3481',
    },
  ])
})

test('what cannot be read is named with line and column, and its row is not taken', () => {
  const { cards: read, problems } = readItemTable(
    [
      { line: 2, cells: { title: 'no sku' } },
      {
        line: 3,
        cells: {
          sku: 'A',
          weight: 'heavy',
          length: '-3 cm',
          handling: 'softly',
          'hs code': '12',
          origin: 'Atlantis',
          'dangerous goods': '3481',
        },
      },
      { line: 4, cells: { sku: 'B', weight: '5 g' } },
      { line: 5, cells: { sku: 'B', weight: '6 g' } },
    ],
    cards,
  )
  expect(problems.map(({ line, column }) => `${line} ${column}`)).toEqual(
    ['2 sku', '3 length', '3 handling', '3 weight', '3 hs code', '3 origin', '3 dangerous goods', '5 sku'].sort(
      (a, b) =>
        problems.findIndex(({ line, column }) => `${line} ${column}` === a) -
        problems.findIndex(({ line, column }) => `${line} ${column}` === b),
    ),
  )
  expect(read.map(({ sku }) => sku)).toEqual(['B'])
})
