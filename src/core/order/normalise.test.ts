import { measured } from '@/core/units'
import fc from 'fast-check'
import { countryCode } from './country'
import { type ItemCard, normaliseOrder, type RawOrder } from './normalise'
import { cleanText, foldText } from './text'

const cards = new Map<string, ItemCard>([
  [
    'A-1',
    measured<ItemCard>({
      sku: 'A-1',
      title: 'Card title',
      weight: 420,
      size: [100, 80, 50],
      tags: ['live'],
      dangerousGoods: '',
      hsCode: '0602',
      origin: 'NL',
    }),
  ],
])
const raw = (more: Partial<RawOrder> = {}): RawOrder => ({
  id: ' 17 ',
  number: 'N-17',
  placedAt: '2026-11-20T08:00:00+01:00',
  wording: ' “Exp.  2-day” ',
  shipTo: { name: 'Ann', lines: [' Kaai  1 ', ''], city: 'Gent', postcode: '9000 ab', country: 'Belgium' },
  items: [{ sku: 'A-1', quantity: 2, price: '3.50' }],
  ...more,
})

test('facts are ours: country codes, grams, minor units, clean text, UTC', () => {
  const order = normaliseOrder(raw(), 'shop', cards)
  expect(order).toMatchObject({
    remoteId: '17',
    placedAt: '2026-11-20T07:00:00.000Z',
    value: { minor: 700, currency: 'EUR' },
    shipTo: { lines: ['Kaai 1'], postcode: '9000 AB', country: 'BE' },
    problems: [],
  })
  expect(order.items[0]).toMatchObject({
    title: 'Card title',
    unitWeight: 420,
    tags: ['live'],
    unitPrice: { minor: 350 },
  })
})

test('the checkout wording stays as it is written', () => {
  expect(normaliseOrder(raw(), 'shop', cards).wording).toBe('“Exp.  2-day”')
})

test.each([
  ['without items', { items: [] }, 'no-items'],
  ['with zero weight', { items: [{ sku: 'X', quantity: 1, weight: 0 }] }, 'no-weight'],
  ['with an unknown currency', { currency: 'Taler' }, 'unknown-currency'],
  ['with an unknown country', { shipTo: { lines: ['x'], city: 'y', country: 'Atlantis' } }, 'unknown-country'],
  ['without a street', { shipTo: { city: 'y', country: 'BE' } }, 'no-street'],
  ['with a wrong amount', { value: 'a lot' }, 'bad-amount'],
  ['with a wrong quantity', { items: [{ sku: 'A-1', quantity: -2 }] }, 'bad-quantity'],
  ['without a time', { placedAt: 'soon' }, 'no-time'],
] as const)('an order %s keeps a problem with a sentence', (_what, more, code) => {
  const order = normaliseOrder(raw(more), 'shop', cards)
  expect(order.problems.map((problem) => problem.code)).toContain(code)
  expect(order.problems.every((problem) => problem.sentence.length > 20)).toBe(true)
})

test('hostile text is kept as text, and cut at 500 characters', () => {
  const nasty = '<script>alert(1)</script>=cmd()'
  const order = normaliseOrder(
    raw({ buyer: { name: nasty }, shipTo: { name: 'x'.repeat(5000), lines: ['Kaai 1'], city: 'Gent', country: 'BE' } }),
    'shop',
    cards,
  )
  expect(order.buyer.name).toBe(nasty)
  expect(order.shipTo.name).toHaveLength(500)
})

test('normalisation never throws, whatever comes', () => {
  fc.assert(
    fc.property(
      fc.record({
        id: fc.string(),
        number: fc.string(),
        placedAt: fc.string(),
        currency: fc.string(),
        value: fc.oneof(fc.string(), fc.double()),
        shipTo: fc.record({ country: fc.string(), lines: fc.array(fc.string({ unit: 'binary' })) }),
        items: fc.array(
          fc.record({
            sku: fc.string(),
            quantity: fc.oneof(fc.integer(), fc.string()),
            weight: fc.double(),
            price: fc.string(),
          }),
        ),
      }),
      (given) => {
        const order = normaliseOrder(given, 'shop', cards)
        expect(Number.isInteger(order.value.minor)).toBe(true)
      },
    ),
  )
})

test('countries by code and by name in five languages', () => {
  expect(
    ['be', 'DEU', 'UK', 'Germany', 'Deutschland', 'Pays-Bas', 'België', 'Polska', 'Kosovo', 'XK', 'Atlantis', ''].map(
      countryCode,
    ),
  ).toEqual(['BE', 'DE', 'GB', 'DE', 'DE', 'NL', 'BE', 'PL', 'XK', 'XK', null, null])
})

test('folding forgets case, outer and repeated blanks, and Unicode form, and nothing else', () => {
  expect(foldText('  Ｅxp.\t2-DAY ')).toBe('exp. 2-day')
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(cleanText(cleanText(text))).toBe(cleanText(text))
      expect(foldText(foldText(text))).toBe(foldText(text))
    }),
  )
})
