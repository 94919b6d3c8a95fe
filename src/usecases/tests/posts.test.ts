import { postsOfOrder } from '@/data'
import { demoWorld } from '../../../demo/world'
import type { ShopOrder } from '../../../standins/channels/shop'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { retryWork } from '../intake/changeChannel'
import { requestImport } from '../intake/importOrders'
import { checkPosts } from '../tracking/checkPosts'
import { makeRig, soundOrders, type Rig } from './rig'

/* What a channel was told is read back from it, and compared. */
let rig: Rig
afterEach(() => rig.close())

/** An order that goes in two parcels; bought and told. */
async function begin(): Promise<number> {
  rig = await makeRig({ world: demoWorld })
  const [base] = soundOrders(1)
  const line = { ...base!.lines[0]!, id: '1', quantity: 2, weight_grams: 20_000, sku: 'SUB-20KG', title: 'Substrate' }
  await rig.stockShop([{ ...base!, payment: 'card', lines: [line] }])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const id = (await rig.orders())[0]!.id
  const plan = await planBatch(rig.gharry, [id])
  await buyBatch(rig.gharry, [id], plan.total)
  await rig.workAll()
  rig.put(5)
  return id
}
const change = async (edit: (order: ShopOrder) => Partial<ShopOrder>): Promise<void> => {
  const [order] = await rig.shopOrders()
  await rig.stockShop([{ ...order!, ...edit(order!) }])
}

test('each parcel with its own pieces; read back, it is the same', async () => {
  const id = await begin()
  const posts = await postsOfOrder(rig.gharry.db, id)
  expect(posts).toHaveLength(2)
  expect((await rig.shopOrders())[0]!.fulfilments.map(({ lines }) => lines)).toEqual([
    [{ line: '1', quantity: 1 }],
    [{ line: '1', quantity: 1 }],
  ])
  await checkPosts(rig.gharry)
  for (const post of await postsOfOrder(rig.gharry.db, id))
    expect(post).toMatchObject({ differs: null, checkedAt: expect.any(String) })
})

test('what the channel lost or shows otherwise is a sentence; told again, it is the same', async () => {
  const id = await begin()
  await change((order) => ({ fulfilments: order.fulfilments.slice(1), status: 'open' }))
  await checkPosts(rig.gharry)
  const differing = (await postsOfOrder(rig.gharry.db, id)).filter(({ differs }) => differs !== null)
  expect(differing).toHaveLength(1)
  expect(differing[0]!.differs).toMatch(/^Mossgill Shop does not show \S+, although it took it\.$/)
  expect(await retryWork(rig.gharry, 'posts', differing[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  rig.put(5)
  await checkPosts(rig.gharry)
  expect((await postsOfOrder(rig.gharry.db, id)).map(({ differs, state }) => [state, differs])).toEqual([
    ['sent', null],
    ['sent', null],
  ])
  expect((await rig.shopOrders())[0]!.fulfilments).toHaveLength(2)
})

test('other pieces than it was told are said; a channel that does not answer is asked later', async () => {
  const id = await begin()
  await change((order) => ({
    fulfilments: order.fulfilments.map((one, i) => (i === 0 ? { ...one, lines: [{ line: '1', quantity: 2 }] } : one)),
  }))
  await rig.faults('shop', { serverError: 1 })
  await checkPosts(rig.gharry)
  expect((await postsOfOrder(rig.gharry.db, id)).every(({ checkedAt }) => checkedAt === null)).toBe(true)
  await rig.faults('shop', { serverError: 0 })
  await new Promise((resolve) => setTimeout(resolve, 50))
  await checkPosts(rig.gharry)
  const said = (await postsOfOrder(rig.gharry.db, id)).map(({ differs }) => differs).filter(Boolean)
  expect(said).toHaveLength(1)
  expect(said[0]).toMatch(/shows 2 of line 1 under \S+; it was told 1 of line 1\.$/)
})
