import { countItemDays, itemUses } from '@/data'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

/* How often items are ordered is counted day by day, and is the same as counting all of it. */

let rig: Rig
afterEach(() => rig.close())
const day = (ago: number): string => new Date(rig.gharry.now().getTime() - ago * 86_400_000).toISOString().slice(0, 10)
const sorted = async (since: string) =>
  (await itemUses(rig.gharry.db, since)).sort((a, b) => (a.sku < b.sku ? -1 : 1)).map((use) => ({ ...use }))

test('counted by day or all at once, some days late, with orders that came in late: the same', async () => {
  rig = await makeRig()
  await rig.stockShop(soundOrders(60))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const { db } = rig.gharry
  const orders = await rig.orders()
  for (const [i, { id }] of orders.entries())
    await db('orders')
      .where({ id })
      .update({ placedAt: `${day(i % 12)}T0${i % 9}:30:00.000Z` })
  const since = day(9)
  const all = await sorted(since)
  const some = all.reduce((sum, { recent }) => sum + recent, 0)
  expect(some).toBeGreaterThan(40)
  // A few days at a time, as the worker does it.
  expect(await countItemDays(db, since, day(0), 4)).toBe(4)
  expect(await sorted(since)).toEqual(all)
  while ((await countItemDays(db, since, day(0), 4)) === 4);
  expect(await sorted(since)).toEqual(all)
  // What was counted is not looked at again: an order that moves within it changes nothing, until its day is counted
  // anew.
  const moved = orders.find((_, i) => i % 12 === 11)!
  await db('orders')
    .where({ id: moved.id })
    .update({ placedAt: `${day(1)}T10:00:00.000Z` })
  expect(await sorted(since)).toEqual(all)
  await countItemDays(db, since, day(0), 4)
  const next = await sorted(since)
  expect(next).not.toEqual(all)
  await db('item_days').delete()
  expect(await sorted(since)).toEqual(next)
})
