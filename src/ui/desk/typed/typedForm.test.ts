/** @jest-environment jsdom */
import { emptyForm, noLine, readForm } from './typedForm'

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
    ['size', '30 × 20 × 0 cm'],
    ['size', '30 × 20 × 5 lb'],
    ['quantity', '1.5'],
  ] as const)
    expect(readForm({ ...form, items: [{ ...line, [field]: text }] }, 'k')).toMatchObject({
      wrong: { [`items.0.${field}`]: expect.any(String) as string },
    })
})
