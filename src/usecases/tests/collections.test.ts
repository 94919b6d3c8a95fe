import { measured, type Plain } from '@/core/units'
import { dayOf, dayText, weekday } from '@/core/calendar'
import type { Agreement } from '@/core/collections'
import { accountSums, type CollectionPlan, type CollectionRow, collectionsBetween } from '@/data'
import { bookAgreed, saveAgreements } from '../dispatch/collections/agreements'
import { seeCollections } from '../dispatch/collections/askCarrier'
import { bookCollection, cancelCollection, replanCollection, showTerms } from '../dispatch/collections/planCollection'
import { showCollections } from '../dispatch/collections/showCollections'
import { buyReady, makeRig, type Rig, soundOrders } from './rig'

interface Kept {
  confirmation: string
  state: string
  from: string
  until: string
  charge: { minor: number } | null
  wish: { parcels: number; address: string[] }
}

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

/** The next Tuesday or later that is nobody's holiday: carriers that want a day's notice take it. */
const workday = (after = 2): string => {
  let day = dayOf(rig.gharry.now().toISOString().slice(0, 10)) + after
  while (![2, 3, 4].includes(weekday(day)) || ['12-25', '01-01'].includes(dayText(day).slice(5))) day++
  return dayText(day)
}
const plan = measured<CollectionPlan>({
  ...{ from: '14:00', until: '18:00', place: 'Door 2', notes: 'Ring twice', parcels: 40, pallets: 0, weight: 90_000 },
})
let keys = 0
const book = (
  carrier: string,
  more: Partial<Plain<CollectionPlan>> = {},
  day = workday(),
  key = `key-of-${(keys += 1)}-more`,
) =>
  bookCollection(rig.gharry, {
    carrier,
    location: 'ghent',
    day,
    plan: measured({ ...plan, ...more }),
    confirmation: '',
    key,
  })
const rows = (): Promise<CollectionRow[]> => collectionsBetween(rig.gharry.db, '2026-01-01', '2099-01-01')
const kept = (carrier: string): Promise<Kept[]> => rig.ask(carrier, '/admin/collections')
/** A round of the worker, past every back-off. */
const work = () => rig.workAll()
const shipping = async (carrier: string): Promise<number> =>
  (await accountSums(rig.gharry.db)).find((sum) => sum.carrier === carrier && sum.account === 'shipping')?.amount ?? 0

test('a collection is booked on the terms that the carrier says, changed and cancelled', async () => {
  const terms = await showTerms(rig.gharry, { carrier: 'heron', location: 'ghent', day: workday() })
  expect(terms).toMatchObject({ ok: true, terms: { least: 1 } })
  expect(terms.ok && terms.terms?.windows.map(({ from, charge }) => [from, charge?.minor ?? 0])).toEqual([
    ['09:00', 0],
    ['14:00', 0],
    ['18:00', 1200],
  ])
  expect(await book('heron')).toMatchObject({ ok: true })
  await work()
  const [row] = await rows()
  const [there] = await kept('heron')
  expect(row).toMatchObject({ state: 'booked', confirmation: there!.confirmation, cost: 0 })
  expect(there!.wish).toMatchObject({
    parcels: 40,
    address: expect.arrayContaining([expect.stringContaining('9000')]) as unknown,
  })

  expect(
    await replanCollection(rig.gharry, { id: row!.id, plan: { ...plan, parcels: 90 }, confirmation: '' }),
  ).toMatchObject({ ok: true })
  await work()
  expect((await kept('heron'))[0]!.wish.parcels).toBe(90)
  expect((await rows())[0]).toMatchObject({ state: 'booked', wish: { parcels: 90 }, change: null })

  expect(await cancelCollection(rig.gharry, row!.id)).toMatchObject({ ok: true })
  expect(await cancelCollection(rig.gharry, row!.id)).toMatchObject({ ok: false, code: 'under-way' })
  await work()
  expect((await kept('heron'))[0]!.state).toBe('cancelled')
  expect(await cancelCollection(rig.gharry, row!.id)).toMatchObject({ ok: false, code: 'taken-back' })
  expect(await cancelCollection(rig.gharry, 999)).toMatchObject({ ok: false, code: 'not-found' })
})

test('a key is one collection, whatever fails on the line', async () => {
  await rig.faults('heron', { timeOutAfterWork: 2, serverError: 3, malformedBody: 4 })
  await Promise.all([1, 2, 3].map(() => book('heron', {}, workday(), 'one key of one intent')))
  await work()
  expect(await kept('heron')).toHaveLength(1)
  expect(await rows()).toMatchObject([{ state: 'booked' }])
})

test('what it costs outside the usual times is in the books, follows a change, and is given back', async () => {
  await book('heron', { from: '18:00', until: '20:00' })
  await work()
  const [row] = await rows()
  expect(row!.cost).toBe(1200)
  expect(await shipping('heron')).toBe(1200)
  await replanCollection(rig.gharry, { id: row!.id, plan, confirmation: '' })
  await work()
  expect(await shipping('heron')).toBe(0)
  await replanCollection(rig.gharry, {
    id: row!.id,
    plan: { ...plan, from: '18:00', until: '20:00' },
    confirmation: '',
  })
  await work()
  await cancelCollection(rig.gharry, row!.id)
  await work()
  expect(await shipping('heron')).toBe(0)
  const booked = (await rig.gharry.db('bookings').where({ kind: 'collection' })) as { amount: number; debit: string }[]
  expect(booked.map(({ amount, debit }) => (debit === 'shipping' ? amount : -amount))).toEqual([
    1200, -1200, 1200, -1200,
  ])
})

test.each([
  ['corvid', { from: '10:00', until: '16:00', parcels: 3 }, 'We come for 10 parcels or more'],
  ['heron', { from: '13:00', until: '15:00' }, 'We do not collect from 13:00 to 15:00'],
])('what %s refuses is said in its words, and nobody is booked', async (carrier, more, sentence) => {
  await book(carrier, more)
  await work()
  const [row] = await rows()
  expect(row).toMatchObject({ state: 'failed', problem: expect.stringContaining(sentence) as unknown })
  const { lanes } = await showCollections(rig.gharry, workday())
  const cell = lanes.find((lane) => lane.carrier === carrier && lane.location === 'ghent')!.cells[0]!
  expect(cell.warning).toContain('Nobody comes')
  expect(await replanCollection(rig.gharry, { id: row!.id, plan, confirmation: '' })).toMatchObject({
    ok: false,
    code: 'taken-back',
  })
})

test('a change that is refused leaves what was booked, with the reason', async () => {
  await book('corvid', { from: '10:00', until: '16:00' })
  await work()
  const [row] = await rows()
  await replanCollection(rig.gharry, {
    id: row!.id,
    plan: { ...plan, from: '10:00', until: '16:00', parcels: 2 },
    confirmation: '',
  })
  await work()
  expect((await rows())[0]).toMatchObject({
    ...{ state: 'booked', change: null, wish: { parcels: 40 } },
    problem: expect.stringContaining('It stays as it was booked: We come for 10') as unknown,
  })
})

test('what the carrier changes, or cancels, by itself is seen; cancelled twice is cancelled once', async () => {
  await book('heron')
  await book('northlight', { from: '18:00', until: '21:00' })
  await book('skua', { from: '13:00', until: '17:00' })
  await work()
  const of = async (carrier: string) => (await rows()).find((row) => row.carrier === carrier)!
  await rig.ask('heron', `/admin/collections/${(await of('heron')).confirmation}`, { from: '15:00', until: '17:00' })
  await rig.ask('northlight', `/admin/collections/${(await of('northlight')).confirmation}`, { state: 'cancelled' })
  await rig.ask('skua', `/admin/collections/${(await of('skua')).confirmation}`, { state: 'cancelled' })
  // Before Gharry looks, a person cancels the one that is cancelled already.
  await cancelCollection(rig.gharry, (await of('skua')).id)
  await work()
  rig.put(20)
  await seeCollections(rig.gharry)
  expect(await of('heron')).toMatchObject({
    state: 'booked',
    wish: { from: '15:00' },
    note: expect.stringContaining('from 15:00 to 17:00') as unknown,
  })
  expect(await of('northlight')).toMatchObject({
    state: 'cancelled',
    cost: 0,
    note: expect.stringContaining('nobody comes') as unknown,
  })
  expect(await of('skua')).toMatchObject({ state: 'cancelled', cost: 0 })
  expect(await shipping('northlight')).toBe(0)
  expect(await shipping('skua')).toBe(0)
})

test('a carrier that takes no bookings is one’s own record, with the number that was said', async () => {
  const connections = rig.gharry.db('connections').where({ belongs_to: 'bramble' })
  await connections.update({ kind: 'xml-freight' })
  await bookCollection(rig.gharry, {
    carrier: 'bramble',
    location: 'ghent',
    day: workday(),
    plan,
    confirmation: ' B-77 ',
    key: 'own record',
  })
  await work()
  const [row] = await rows()
  expect(row).toMatchObject({ state: 'own', confirmation: 'B-77' })
  await replanCollection(rig.gharry, { id: row!.id, plan: { ...plan, pallets: 2 }, confirmation: 'B-78' })
  expect((await rows())[0]).toMatchObject({ state: 'own', confirmation: 'B-78', wish: { pallets: 2 } })
  await cancelCollection(rig.gharry, row!.id)
  expect((await rows())[0]!.state).toBe('cancelled')
})

test.each([
  [{ until: '14:00' }, 'bad-range'],
  [{ parcels: 0, pallets: 0 }, 'bad-amount'],
  [{ parcels: 1_000_000 }, 'bad-amount'],
])('a plan with %j is refused before anybody is asked', async (more, code) => {
  expect(await book('heron', more)).toMatchObject({ ok: false, code })
  expect(await rows()).toEqual([])
})

test('a day that is over, a carrier and a location that do not exist are refused', async () => {
  expect(await book('heron', {}, '2026-01-05')).toMatchObject({ ok: false, code: 'past-day' })
  expect(await book('nobody')).toMatchObject({ ok: false, code: 'unknown-carrier' })
})

test('agreed collections are booked for their days but not on holidays, once, and what comes unasked is only shown', async () => {
  const daily: Agreement = {
    ...{ id: 'a', location: 'ghent', carrier: 'heron', weekdays: [1, 2, 3, 4, 5, 6, 7], from: '14:00', until: '18:00' },
    ...{ place: 'Door 2', notes: '', unasked: false },
  }
  const bad = await saveAgreements(rig.gharry, { version: 0, agreements: [{ ...daily, weekdays: [] }] })
  expect(bad).toMatchObject({ ok: false, sentence: 'Collection 1: weekdays are missing: choose a day.' })
  const list = [daily, { ...daily, id: 'b', carrier: 'dray', unasked: true }]
  expect(await saveAgreements(rig.gharry, { version: 0, agreements: list })).toMatchObject({ ok: true })
  expect(await saveAgreements(rig.gharry, { version: 0, agreements: [] })).toMatchObject({
    ok: false,
    code: 'world-changed',
  })
  const first = dayOf(rig.gharry.now().toISOString().slice(0, 10))
  await bookAgreed(rig.gharry)
  await bookAgreed(rig.gharry)
  const days = (await rows()).map(({ day }) => day)
  expect(new Set(days).size).toBe(days.length)
  expect(days.length).toBeLessThanOrEqual(5)
  expect((await rows()).every(({ carrier, agreement }) => carrier === 'heron' && agreement === 'a')).toBe(true)
  const { lanes } = await showCollections(rig.gharry)
  const dray = lanes.find((lane) => lane.carrier === 'dray' && lane.location === 'ghent')!
  expect(dray.cells.filter(({ agreed }) => agreed.length > 0).length).toBe(
    dray.cells.filter(({ closed }) => !closed).length,
  )
  expect(dayText(first) <= dray.cells[0]!.day).toBe(true)
})

test('what stands there is shown beside what was booked, and what does not fit is said', async () => {
  await buyReady(rig, soundOrders(6))
  const today = (await showCollections(rig.gharry)).today
  await rig.gharry.db('labels').update({ shipOn: today })
  const cell = async () =>
    (await showCollections(rig.gharry)).lanes.find((lane) => lane.carrier === 'heron' && lane.location === 'ghent')!
      .cells[0]!
  const before = await cell()
  expect(before.there.parcels).toBeGreaterThan(0)
  expect(before.warning).toContain('Nobody is booked for')
  await rig.gharry.db('collections').insert({
    ...{ carrier: 'heron', location: 'ghent', day: today, key: 'k', state: 'booked', author: 'x', confirmation: 'C1' },
    ...{ wish: JSON.stringify({ ...plan, parcels: 200 }), next_at: today, made_at: today },
  })
  expect((await cell()).warning).toContain('Booked for 200 parcels')
})
