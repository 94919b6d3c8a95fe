import { ordersById } from '@/data'
import { showOrder } from '../desk/showOrder'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestImport } from '../intake/importOrders'
import { topUp } from '../ledger/balances'
import { demoWorld } from '../../../demo/world'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
afterEach(() => rig.close())

/** What a euro is worth, in millionths of the smallest coin for each of its cents. */
test.each([
  ['GBP', 860_000, /£\d+\.\d\d/, '£'],
  ['JPY', 1_600_000, /JP¥\d[\d,]*(?!\.)/, 'JP¥'],
  ['TND', 33_000_000, /TND \d[\d,]*\.\d\d\d/, 'TND'],
])('with %s at home, everything is counted, bought and said in it', async (home, euro, says, sign) => {
  rig = await makeRig({ world: { ...demoWorld, rates: { home, micro: { EUR: euro, GBP: euro, USD: euro } } } })
  const [one] = soundOrders(1)
  // An order that names no currency is in that of the house.
  const lines = one!.lines.map((line) => ({ ...line, price: '5' }))
  const amounts = { total_items: '5', shipping: '4', discount: '0' }
  await rig.stockShop([{ ...one!, ...amounts, lines, currency: undefined as unknown as string }])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [order] = await rig.orders()
  expect(order!.problem).toBeNull()
  expect((await ordersById(rig.gharry.db, [order!.id]))[0]!.order.value.currency).toBe(home)

  const plan = await planBatch(rig.gharry, [order!.id])
  expect(plan.labels).toHaveLength(1)
  expect(await buyBatch(rig.gharry, [order!.id], plan.total + 1)).toMatchObject({ sentence: says })
  expect(await buyBatch(rig.gharry, [order!.id], plan.total)).toMatchObject({ ok: true })
  await rig.workAll()
  const said = JSON.stringify((await showOrder(rig.gharry, order!.id))!.log)
  expect(said).toMatch(says)
  expect(said).not.toContain('€')
  expect(await topUp(rig.gharry, 'heron', -1, 'key-number-1')).toMatchObject({
    sentence: expect.stringContaining(sign) as string,
  })
  expect(await topUp(rig.gharry, 'heron', 5000, 'key-number-2')).toMatchObject({ ok: true })
  const [carried] = (await (await fetch(`${rig.carrierUrls.get('heron')}/admin/balance`)).json()) as {
    currency: string
  }[]
  expect(carried!.currency).toBe(home)
})
