import { decisionOf, isPostgres, keepParts, ordersById } from '@/data'
import { requestImport } from '@/usecases/intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const partsOf = async (table: string): Promise<string[]> => {
  const { rows } = (await rig.gharry.db.raw(
    'SELECT relname AS name FROM pg_inherits JOIN pg_class ON pg_class.oid = inhrelid WHERE inhparent = ?::regclass ORDER BY 1',
    [table],
  )) as { rows: { name: string }[] }
  return rows.map(({ name }) => name)
}

test('what grows with all orders is in parts; a part that is missing loses nothing, and one that is empty goes', async () => {
  const { db } = rig.gharry
  // A file has none.
  if (!isPostgres(db)) return expect(await keepParts(db)).toBe(0)
  expect(await partsOf('decisions')).toEqual(['decisions_0', 'decisions_1', 'decisions_rest'])
  // Beyond the last part, as if nobody had made the next one.
  await db.raw('ALTER SEQUENCE orders_id_seq RESTART WITH 3000001')
  await rig.stockShop(soundOrders(4))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  expect(ids[0]).toBe(3_000_001)
  expect(await db('order_facts_rest').pluck('order_id')).toHaveLength(4)
  expect(await ordersById(db, ids)).toHaveLength(4)
  expect((await decisionOf(db, ids[0]!))?.outcome.quote).not.toBeNull()
  // Their part cannot be made beside them, and that is said; the next one can, and the empty ones go.
  // No line of a history is there yet, and no parcel.
  expect(await keepParts(db)).toBe(2)
  expect(await partsOf('decisions')).toEqual(['decisions_4', 'decisions_rest'])
  await db.raw('ALTER SEQUENCE orders_id_seq RESTART WITH 4000001')
  await rig.stockShop(soundOrders(6).map((order) => ({ ...order, id: `next-${order.id}` })))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect((await db('decisions_4').pluck('order_id')).length).toBeGreaterThan(0)
  expect(await keepParts(db)).toBe(0)
  expect(await partsOf('order_facts')).toEqual(['order_facts_4', 'order_facts_5', 'order_facts_rest'])
})
