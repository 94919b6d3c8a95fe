/** @jest-environment jsdom */
import { beginAddress } from '../desk/order/addressForm'
import type * as halfDoneModule from './halfDone'

type Kept = typeof halfDoneModule

/** The page opened anew: what it remembers is what the browser kept. */
async function opened(): Promise<Kept> {
  jest.resetModules()
  return import('./halfDone')
}
const at = (daysAgo = 0): string => new Date(Date.now() - daysAgo * 86_400_000).toISOString()

beforeEach(() => {
  localStorage.clear()
  document.documentElement.dataset.person = 'ilse'
})
afterEach(() => jest.restoreAllMocks())

test('what is typed outlives the page, and says that it was there before', async () => {
  const first = await opened()
  first.writeHalfDone('service heron-road', { began: '{}', value: { name: 'Heron' }, at: at() })
  expect(first.isResumed('service heron-road')).toBe(false)
  const again = await opened()
  expect(again.halfDone().get('service heron-road')).toMatchObject({ value: { name: 'Heron' } })
  expect(again.isResumed('service heron-road')).toBe(true)
  again.writeHalfDone('service heron-road', null)
  expect(again.isResumed('service heron-road')).toBe(false)
  expect((await opened()).halfDone().size).toBe(0)
})

test('each person has their own', async () => {
  ;(await opened()).writeHalfDone('seller', { began: '', value: 1, at: at() })
  document.documentElement.dataset.person = 'bram'
  expect((await opened()).halfDone().size).toBe(0)
  document.documentElement.dataset.person = 'ilse'
  expect((await opened()).halfDone().size).toBe(1)
})

test('what is two weeks old, or cannot be read, is forgotten; the rest stays', async () => {
  const first = await opened()
  for (const [id, days] of [
    ['old', 15],
    ['young', 13],
  ] as const)
    first.writeHalfDone(id, { began: '', value: id, at: at(days) })
  const [key] = Object.keys(localStorage).filter((name) => name.endsWith('young'))
  localStorage.setItem(key!.replace('young', 'broken'), '{"began":')
  localStorage.setItem(key!.replace('young', 'odd'), 'null')
  localStorage.setItem('another program', 'stays')
  expect([...(await opened()).halfDone().keys()]).toEqual(['young'])
  expect(Object.keys(localStorage)).toHaveLength(2)
})

test('a browser that keeps nothing keeps it while the page is there; who listens is told', async () => {
  jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new DOMException('full', 'QuotaExceededError')
  })
  const page = await opened()
  const told = jest.fn()
  const stop = page.onHalfDone(told)
  page.writeHalfDone('seller', { began: '', value: 1, at: at() })
  expect(page.halfDone().get('seller')).toMatchObject({ value: 1 })
  expect(told).toHaveBeenCalledTimes(1)
  stop()
  page.writeHalfDone('seller', null)
  expect(told).toHaveBeenCalledTimes(1)
})

test('an address to be looked at is an edit of its order', async () => {
  const shipTo = {
    name: 'Noor',
    company: '',
    lines: ['Kouter 1', 'Bus 2'],
    postcode: '9000',
    city: 'Gent',
    region: '',
    country: 'BE',
  }
  beginAddress(7, shipTo)
  const [kept] = Object.entries(localStorage).filter(([name]) => name.endsWith('address 7'))
  expect(JSON.parse(kept![1] as string)).toMatchObject({ value: { lines: 'Kouter 1\nBus 2', city: 'Gent' } })
})
