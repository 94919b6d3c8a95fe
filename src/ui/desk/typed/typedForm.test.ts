/** @jest-environment jsdom */
import { emptyForm, noLine, readForm, typedSize } from './typedForm'

test.each([
  ['30 × 20 × 5 cm', [300, 200, 50]],
  ['30x20x5 cm', [300, 200, 50]],
  ['12 x 9 x 4 in', [305, 229, 102]],
  ['300mm x 20 cm * 5', [300, 200, 50]],
  ['30 × 20', null],
  ['30 × 20 × 5 lb', null],
  ['a × b × c', null],
  ['', null],
])('size %s', (text, size) => {
  expect(typedSize(text)).toEqual(size)
})

test('units of weights are read; what cannot be read is said at its line, and an empty line is none', () => {
  const form = { ...emptyForm, lines: 'Street 1\n\n Flat 2 ', value: '12.50' }
  const line = { what: 'Book', quantity: '2', weight: '1 lb 4 oz', size: '' }
  expect(readForm({ ...form, items: [line, noLine] }, 'k')).toMatchObject({
    order: {
      value: 1250,
      shipTo: { lines: ['Street 1', 'Flat 2'] },
      items: [{ what: 'Book', quantity: 2, weight: 567, size: null }],
    },
  })
  for (const [field, text] of [
    ['weight', "5'"],
    ['weight', '1,5,5 lb'],
    ['size', '3 × 4'],
    ['quantity', '1.5'],
  ] as const)
    expect(readForm({ ...form, items: [{ ...line, [field]: text }] }, 'k')).toMatchObject({
      wrong: { [`items.0.${field}`]: expect.any(String) as string },
    })
})
