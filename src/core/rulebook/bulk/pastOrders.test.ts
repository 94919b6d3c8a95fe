import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { withoutPerson } from '@/core/address'
import { handlings, type Order } from '@/core/order'
import { money } from '@/core/units'
import { anyOrder } from '../language/arbitraries.test-help'
import { packRows, unpackRows } from './packedRows'
import { packPast, pastForm, type PastOrder, unpackPast } from './pastOrders'

test('rows of any JSON come back as they were', () => {
  const field = fc.oneof(fc.jsonValue(), fc.constant(undefined))
  fc.assert(
    fc.property(
      fc.array(fc.record({ a: field, b: fc.array(fc.jsonValue()), c: fc.string() }, { requiredKeys: ['c'] })),
      (rows) => {
        const plain = JSON.parse(JSON.stringify(rows)) as object[]
        expect(unpackRows(packRows(plain))).toEqual(plain)
      },
    ),
  )
})

test('more different values than one byte, or two, can number; equal ones are one object', () => {
  for (const n of [255, 256, 65_536]) {
    const rows = Array.from({ length: n }, (_, i) => ({ i, list: [i % 7, 'x'], same: { a: [1] } }))
    const back = unpackRows<(typeof rows)[number]>(packRows(rows))
    expect(back).toEqual(rows)
    expect(back[n - 1]!.same).toBe(back[0]!.same)
    expect(back[7]!.list).toBe(back[0]!.list)
  }
})

test('what is cut off, or longer than it says, is an error', () => {
  const bytes = packRows([{ a: 1 }, { a: 2 }])
  for (const broken of [
    bytes.subarray(0, -1),
    bytes.subarray(0, 3),
    bytes.subarray(0, 9),
    new Uint8Array([...bytes, 0]),
  ])
    expect(() => unpackRows(broken)).toThrow()
})

test('past orders come back without their person, and as rules see them', () => {
  const past = fc.record({
    id: fc.nat(),
    state: fc.constantFrom('ready' as const, 'dispatched' as const),
    order: anyOrder,
  })
  fc.assert(
    fc.property(fc.array(past, { maxLength: 20 }), (orders) => {
      const back = unpackPast(packPast(orders))
      expect(back).toEqual(
        orders.map(({ id, state, order }): PastOrder => {
          const plain = withoutPerson(order)
          return {
            id,
            state,
            order: { ...plain, remoteId: '', changedAt: '', items: plain.items.map((item) => ({ ...item, line: '' })) },
          }
        }),
      )
    }),
  )
})

/** An order with all fields there are. A new field of `Order` does not compile until it is here. */
const full: Required<Order> = {
  channel: 'shop',
  remoteId: 'r-1',
  number: 'N-1',
  status: 'open',
  placedAt: '2026-11-20T08:00:00.000Z',
  paidAt: '2026-11-20T08:01:00.000Z',
  changedAt: '2026-11-20T08:02:00.000Z',
  promisedBy: '2026-11-24',
  paymentMethod: 'cash on delivery',
  wording: 'Express',
  shippingPaid: money(495, 'EUR'),
  value: money(2495, 'EUR'),
  discount: money(100, 'EUR'),
  buyer: { name: 'Noor', email: 'noor@post.example', phone: '+32 9 000 00 00', returning: true },
  shipTo: {
    name: 'Noor',
    company: 'Aqua',
    lines: ['Postbus 12'],
    city: 'Gent',
    postcode: '9000',
    region: 'OV',
    country: 'BE',
  },
  items: [
    {
      line: '1',
      sku: 'A',
      title: 'A lamp',
      quantity: 2,
      unitWeight: null,
      unitPrice: money(1000, 'EUR'),
      size: null,
      tags: ['glass'],
      dangerousGoods: 'UN 1',
      hsCode: '940520',
      origin: 'BE',
      handling: handlings,
    },
  ],
  message: 'For you',
  comesBack: { reason: 'damaged', days: 3, value: money(1000, 'EUR') },
  problems: [{ code: 'no-city', sentence: 'Noor has no city.' }],
}

test('the form of what is kept: whatever changes it raises its number', () => {
  const bytes = packPast([{ id: 7, state: 'ready', order: full, pins: { location: 'leeds' } }])
  const text = new TextDecoder().decode(bytes)
  for (const personal of ['Noor', 'noor@', '000 00', 'Postbus', 'Aqua', 'For you', 'r-1'])
    expect(text).not.toContain(personal)
  const hash = createHash('sha1').update(bytes).digest('hex')
  expect({ form: pastForm, hash }).toEqual({ form: 1, hash: 'c0037c259a3870496d323b4f7b7fb353db9f9190' })
})
