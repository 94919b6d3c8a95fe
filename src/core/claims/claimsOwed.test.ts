import { measured, type Plain } from '@/core/units'
import fc from 'fast-check'
import type { Service } from '@/core/rating'
import { claimsOwed, type Consigned } from './index'

const terms = {
  cover: measured<Service['cover']>({ included: 5000, upTo: 100_000 }),
  claims: { late: { permille: 1000, within: 14 }, lost: { after: 10, within: 60 }, damaged: { within: 7 } },
}
const parcel = measured<Consigned>({
  ...{ charged: 1201, parcels: 1, value: 3000, insured: 0, shippedOn: '2026-11-02', foreseen: '2026-11-03' },
  ...{ deliveredOn: '2026-11-03', saidLost: false, seenOn: '2026-11-03', damagedOn: null },
})
const owed = (change: Partial<Plain<Consigned>>, today = '2026-11-05', of: Partial<typeof terms> = {}) =>
  claimsOwed({ ...terms, ...of }, measured<Consigned>({ ...parcel, ...change }), today)

test('on its day nothing is owed; a day late the charge, until fourteen days after the day that was guaranteed', () => {
  expect(owed({})).toEqual([])
  expect(owed({ deliveredOn: '2026-11-04' })).toEqual([
    { kind: 'late', amount: 1201, claimBy: '2026-11-17', reason: 'guaranteed for 2026-11-03, delivered on 2026-11-04' },
  ])
  expect(owed({ deliveredOn: '2026-11-04' }, '2026-11-18')).toEqual([])
  expect(owed({ deliveredOn: '2026-11-04', foreseen: null })).toEqual([])
})

test('a part of the charge, shared by the parcels of a shipment, rounded down', () => {
  const half = { claims: { ...terms.claims, late: { permille: 500, within: 14 } } }
  expect(owed({ deliveredOn: '2026-11-04', parcels: 2 }, '2026-11-05', half)[0]!.amount).toBe(300)
})

test('lost: what is in it as far as it is covered, and the charge', () => {
  expect(owed({ deliveredOn: null, saidLost: true })).toMatchObject([{ kind: 'lost', amount: 4201 }])
  expect(owed({ deliveredOn: null, saidLost: true, value: 90_000 })[0]!.amount).toBe(5000 + 1201)
  expect(owed({ deliveredOn: null, saidLost: true, value: 90_000, insured: 80_000 })[0]!.amount).toBe(80_000 + 1201)
  expect(owed({ deliveredOn: null }, '2026-11-12')).toEqual([])
  expect(owed({ deliveredOn: null }, '2026-11-13')).toMatchObject([
    { kind: 'lost', reason: 'not seen since 2026-11-03' },
  ])
})

test('damaged: by what the customer reported, within its time; a service without terms owes nothing', () => {
  expect(owed({ damagedOn: '2026-11-04' })).toMatchObject([{ kind: 'damaged', amount: 3000, claimBy: '2026-11-10' }])
  expect(owed({ damagedOn: '2026-11-04' }, '2026-11-11')).toEqual([])
  expect(claimsOwed({ cover: terms.cover }, { ...parcel, saidLost: true, deliveredOn: null }, '2026-11-05')).toEqual([])
})

test('never more than what was paid and what is covered, and nothing after its day', () => {
  const days = fc.integer({ min: 1, max: 60 }).map((n) => new Date(Date.UTC(2026, 10, n)).toISOString().slice(0, 10))
  fc.assert(
    fc.property(
      fc.nat(10_000),
      fc.nat(200_000),
      fc.nat(200_000),
      fc.option(days),
      days,
      fc.option(days),
      fc.boolean(),
      days,
      (charged, value, insured, deliveredOn, seenOn, damagedOn, saidLost, today) => {
        for (const { amount, claimBy } of owed(
          { charged, value, insured, deliveredOn, seenOn, damagedOn, saidLost },
          today,
        )) {
          expect(amount).toBeGreaterThan(0)
          expect(amount).toBeLessThanOrEqual(charged + Math.min(value, Math.max(insured, 5000)))
          expect(claimBy >= today).toBe(true)
        }
      },
    ),
  )
})
