import { changeChannel, importById, importsPage } from '@/data'
import { requestImport } from '@/usecases/intake/importOrders'
import { workBySchedule } from '@/usecases/worker/work'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const importNow = async (): Promise<NonNullable<Awaited<ReturnType<typeof importById>>>> => {
  const answer = await requestImport(rig.gharry, 'mossgill-shop')
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  return (await importById(rig.gharry.db, answer.id))!
}

test('an import is repeatable: the same orders twice are the same orders', async () => {
  await rig.stockShop(soundOrders(40))
  expect(await importNow()).toMatchObject({ state: 'done', created: 40, bad: 0 })
  await rig.gharry.db('channels').update({ cursor: null })
  expect(await importNow()).toMatchObject({ state: 'done', created: 0, unchanged: 40 })
  expect(await rig.orders()).toHaveLength(40)
  expect((await rig.orders()).every((order) => order.state === 'ready' && order.cost! > 0)).toBe(true)
})

test('a shop that is slow, fails, garbles and repeats itself still gives every order once', async () => {
  await rig.stockShop(soundOrders(520))
  await rig.faults('shop', {
    serverError: 3,
    tooManyCalls: 4,
    malformedBody: 5,
    timeOutAfterWork: 7,
    twice: 2,
    latencyMs: 20,
  })
  const done = await importNow()
  expect(done).toMatchObject({ state: 'done' })
  expect(await rig.orders()).toHaveLength(520)
})

test('a shop that is down is given up with a sentence, and nothing is lost', async () => {
  await rig.shopAt('http://127.0.0.1:9')
  const asked = await requestImport(rig.gharry, 'mossgill-shop')
  // Most tries of the day are behind it.
  await rig.gharry.db('imports').update({ attempts: 1430 })
  await rig.workAll()
  const failed = await importById(rig.gharry.db, (asked as { id: number }).id)
  expect(failed).toMatchObject({ state: 'failed', problem: expect.stringContaining('It cannot be reached.') as string })
  await rig.shopAt(rig.shopUrl)
  await rig.stockShop(soundOrders(3))
  expect(await importNow()).toMatchObject({ state: 'done', created: 3 })
})

test('orders that make no sense are reported, the others come in; hostile text is only text', async () => {
  const [first, second, third] = soundOrders(3)
  await rig.stockShop(
    [
      first!,
      { ...second!, id: undefined as unknown as string, number: 'no id', lines: 'x' as never },
      {
        ...third!,
        customer: { ...third!.customer, name: '<script>alert(1)</script>' },
        ship_to: { ...third!.ship_to, name: '=cmd()'.padEnd(5000, 'x') },
      },
      { ...first!, id: 'empty', lines: [] },
      { ...first!, id: 'coin', currency: 'XQZ' },
      { ...first!, id: 'light', lines: [{ ...first!.lines[0]!, sku: 'UNKNOWN', weight_grams: 0 }] },
    ].map((order, i) => ({ ...order, id: order.id ?? `bad-${i}` })),
  )
  const done = await importNow()
  expect(done).toMatchObject({ state: 'done', created: 5, bad: 1 })
  const orders = await rig.orders()
  expect(orders.find((order) => order.remoteId === third!.id)?.buyer).toBe('<script>alert(1)</script>')
  expect(orders.filter((order) => order.state === 'attention').map((order) => order.problem)).toEqual([
    expect.stringMatching(/no items/),
    expect.stringMatching(/no exchange rate for XQZ/),
    expect.stringMatching(/UNKNOWN has no weight/),
  ])
})

test('changed upstream: routed again while it waits; cancelled: leaves the queue', async () => {
  const orders = soundOrders(2)
  await rig.stockShop(orders)
  await importNow()
  await fetch(`${rig.shopUrl}/admin/orders/${orders[0]!.id}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ ship_to: { ...orders[0]!.ship_to, country: 'FR', postcode: '75011', city: 'Paris' } }),
  })
  await fetch(`${rig.shopUrl}/admin/orders/${orders[1]!.id}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ status: 'cancelled' }),
  })
  const before = await rig.orders()
  expect(await importNow()).toMatchObject({ created: 0, updated: 1, cancelled: 1 })
  const [changed, cancelled] = await rig.orders()
  expect(changed).toMatchObject({ country: 'FR', state: 'ready' })
  expect(changed!.cost).not.toBe(before[0]!.cost)
  expect(cancelled!.state).toBe('cancelled')
})

test('an order that changes while it is imported comes in as it is last', async () => {
  const orders = soundOrders(1100)
  await rig.stockShop(orders)
  await rig.faults('shop', { latencyMs: 150 })
  await requestImport(rig.gharry, 'mossgill-shop')
  const importing = rig.workAll()
  await new Promise((resolve) => setTimeout(resolve, 250))
  await fetch(`${rig.shopUrl}/admin/orders/${orders[0]!.id}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ shipping_method: 'Changed meanwhile' }),
  })
  await importing
  await rig.faults('shop', { latencyMs: 0 })
  await importNow()
  const stored = await rig.orders()
  expect(stored).toHaveLength(1100)
  expect(stored.find((order) => order.remoteId === orders[0]!.id)?.wording).toBe('Changed meanwhile')
})

test('by schedule: asked again when the minutes are over; imports that found nothing do not pile up', async () => {
  await rig.gharry.db('channels').where({ id: 'mossgill-shop' }).update({ everyMinutes: 5 })
  for (let round = 0; round < 4; round++) {
    await workBySchedule(rig.gharry)
    await workBySchedule(rig.gharry)
    await rig.workAll()
    rig.put(5)
  }
  expect(await importsPage(rig.gharry.db, 30, 0)).toHaveLength(1)
})

test('of a channel with several locations only the orders of those that are named come in, and those that name none', async () => {
  const [first, second, third] = soundOrders(3)
  await rig.stockShop([{ ...first!, location: 'Main' }, { ...second!, location: 'Outlet' }, third!])
  await changeChannel(rig.gharry.db, 'mossgill-shop', { places: 'main, Depot' })
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect((await rig.orders()).map(({ number }) => number).sort()).toEqual([first!.number, third!.number].sort())
})
