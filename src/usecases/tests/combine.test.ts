import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { combine, combineByRule, takeApart } from '@/usecases/desk/combineOrders'
import { dispatchBatch } from '@/usecases/dispatch/dispatchLabels'
import { saveConnection } from '@/usecases/intake/connections'
import { requestImport } from '@/usecases/intake/importOrders'
import { pinDecision } from '@/usecases/desk/pinDecision'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { showOrder } from '@/usecases/desk/showOrder'
import { findByOrder } from '@/usecases/tracking/trackParcel'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { demoRulebook } from '../../../demo/rulebook'
import { shopStandIn, type ShopOrder } from '../../../standins/channels/shop'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
let market: ReturnType<typeof shopStandIn>
let marketUrl: string
afterEach(async () => {
  await rig.close()
  await market.app.close()
})

const [plain, other] = soundOrders(2) as [ShopOrder, ShopOrder]
const twin = (id: string, more: Partial<ShopOrder> = {}): ShopOrder => ({ ...plain, id, number: `MG-${id}`, ...more })
const marketOrders = async (): Promise<ShopOrder[]> =>
  (await fetch(`${marketUrl}/admin/orders`)).json() as Promise<ShopOrder[]>

/** Two channels, each told in its own way: the shop when the label is bought, the market when it is handed over. */
async function begin(
  inShop: readonly ShopOrder[],
  inMarket: readonly ShopOrder[] = [],
  rules = demoRulebook.rules.slice(0, 0),
): Promise<void> {
  rig = await makeRig({ rulebook: { ...demoRulebook, rules } })
  market = shopStandIn({
    file: ':memory:',
    key: 'k',
    secret: 's',
    name: 'Market',
    shippingMethods: ['Standard'],
    products: [],
  })
  marketUrl = await market.app.listen({ host: '127.0.0.1', port: 0 })
  await saveConnection(rig.gharry, null, {
    role: 'channel',
    kind: 'keyed-shop',
    name: 'Market',
    settings: { address: marketUrl, key: 'k', secret: 's' },
    on: true,
    channel: { tellWhen: 'dispatched' },
  })
  await rig.stockShop(inShop)
  await fetch(`${marketUrl}/admin/orders`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(inMarket),
  })
  for (const channel of ['mossgill-shop', 'market']) await requestImport(rig.gharry, channel)
  await rig.workAll()
}
async function together(ids: readonly number[]): Promise<number> {
  const answer = await combine(rig.gharry, ids)
  if (!answer.ok) throw new Error(answer.sentence)
  return answer.order
}
async function buy(ids: readonly number[]): Promise<number> {
  const plan = await planBatch(rig.gharry, ids)
  const answer = await buyBatch(rig.gharry, ids, plan.total)
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  return answer.batch
}
const states = async (): Promise<string[]> => (await rig.orders()).map(({ state }) => state)

test('orders of two channels go as one shipment: one label, one mail, each channel told of its own lines at its own moment', async () => {
  await begin(
    [twin('1'), { ...other, id: '3', number: 'MG-3' }],
    [twin('2', { lines: plain.lines.map((line) => ({ ...line, quantity: 2 })) })],
  )
  const [one, stranger, two] = await rig.orders()
  expect((await showOrder(rig.gharry, one!.id))!.together.others.map(({ number }) => number)).toEqual(['MG-2'])
  expect((await planBatch(rig.gharry, [one!.id, two!.id, stranger!.id])).together).toEqual([[one!.id, two!.id]])
  expect(await combine(rig.gharry, [one!.id, stranger!.id])).toMatchObject({ ok: false, code: 'not-together' })

  const shipment = await together([one!.id, two!.id])
  const view = (await showOrder(rig.gharry, shipment))!
  expect(view.order.items.reduce((sum, { quantity }) => sum + quantity, 0)).toBe(3)
  expect(view.together.members.map(({ number }) => number)).toEqual(['MG-1', 'MG-2'])
  expect((await showOrder(rig.gharry, two!.id))!.together.within!.id).toBe(shipment)
  expect((await planBatch(rig.gharry, [one!.id])).blocked[0]!.reason).toContain('shipment of several')

  const batch = await buy([shipment])
  expect(await rig.carrierLabels()).toHaveLength(1)
  expect(await states()).toEqual(['labelled', 'ready', 'labelled', 'labelled'])
  const number = (await rig.labels())[0]!.trackingNumber!
  const [told] = (await rig.shopOrders()).filter(({ id }) => id === '1')
  expect(
    told!.fulfilments.map(({ tracking_number, lines }) => [tracking_number, lines.map(({ quantity }) => quantity)]),
  ).toEqual([[number, [1]]])
  expect((await marketOrders())[0]!.fulfilments).toEqual([])
  await dispatchBatch(rig.gharry, batch)
  await rig.workAll()
  expect(
    (await marketOrders())[0]!.fulfilments.map(({ tracking_number, lines }) => [
      tracking_number,
      lines.map(({ quantity }) => quantity),
    ]),
  ).toEqual([[number, [2]]])
  expect((await rig.shopOrders()).flatMap(({ fulfilments }) => fulfilments)).toHaveLength(1)
  const mails = await rig.mails()
  expect(mails).toHaveLength(1)
  for (const text of ['MG-1', 'MG-2', number]) expect(mails[0]!.text).toContain(text)
  expect(await findByOrder(rig.gharry, 'MG-2', plain.customer.email, 'here')).toMatchObject({ ok: true })
})

test('with faults on it is bought once and told once each; a voided label is withdrawn in every channel, and the shipment waits again with its orders', async () => {
  await begin([twin('1'), twin('2')])
  const shipment = await together((await rig.orders()).map(({ id }) => id))
  // Carrier and shop do the work and then say nothing: each is asked again under the same key.
  for (const which of ['heron', 'corvid', 'shop']) await rig.faults(which, { timeOutAfterWork: 2, serverError: 3 })
  await buy([shipment])
  expect(await rig.carrierLabels()).toHaveLength(1)
  expect((await rig.shopOrders()).map(({ fulfilments }) => fulfilments.length)).toEqual([1, 1])
  expect(await requestVoid(rig.gharry, (await rig.labels())[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect(await states()).toEqual(['combined', 'combined', 'ready'])
  const posts = (await showOrder(rig.gharry, shipment))!.posts
  expect(posts.map(({ kind, state, orderId }) => [kind, state, orderId])).toEqual([
    ['fulfil', 'sent', 1],
    ['fulfil', 'sent', 2],
    ['withdraw', 'sent', 1],
    ['withdraw', 'sent', 2],
  ])
  await buy([shipment])
  expect(await states()).toEqual(['labelled', 'labelled', 'labelled'])
})

test('taken apart each goes by itself again; so it does when one changes in its channel, unless the label is bought', async () => {
  await begin([twin('1'), twin('2')])
  const ids = (await rig.orders()).map(({ id }) => id)
  const first = await together(ids)
  expect(await takeApart(rig.gharry, first)).toEqual({ ok: true })
  expect(await states()).toEqual(['ready', 'ready', 'cancelled'])
  expect(await takeApart(rig.gharry, first)).toMatchObject({ ok: false })

  const second = await together(ids)
  await rig.stockShop([
    twin('1', {
      ship_to: { ...plain.ship_to, street: ['Kouter 3'] },
      changed_at: new Date(rig.gharry.now().getTime() + 1000).toISOString(),
    }),
  ])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect(await states()).toEqual(['ready', 'ready', 'cancelled', 'cancelled'])
  expect((await showOrder(rig.gharry, second))!.log.at(-1)!.sentence).toContain('changed in the channel')
  expect((await showOrder(rig.gharry, ids[0]!))!.together.others).toEqual([])
})

test('by rule ready orders go together without being asked; those with hand pins or another way of payment do not', async () => {
  const rule = {
    id: 'c',
    stage: 'triage' as const,
    name: 'Together',
    on: true,
    when: { all: [{ fact: 'country', op: 'is' as const, value: 'BE' }] },
    then: [{ set: 'combine', to: true }],
  }
  await begin(
    [
      twin('1'),
      twin('2'),
      twin('3'),
      { ...other, id: '4', number: 'MG-4' },
      { ...other, id: '5', number: 'MG-5', payment: 'cod' },
    ],
    [],
    [rule],
  )
  const [, , three, four, five] = (await rig.orders()).map(({ id }) => id)
  await pinDecision(rig.gharry, three!, 'notice', false)
  expect(await combineByRule(rig.gharry)).toBe(1)
  expect((await rig.orders()).map(({ number, state }) => `${number} ${state}`)).toEqual(
    expect.arrayContaining(['MG-1 combined', 'MG-2 combined', 'MG-3 ready', 'MG-1 + MG-2 ready']),
  )
  expect(await combine(rig.gharry, [1, three!])).toMatchObject({ ok: false })
  expect(await combine(rig.gharry, [four!, five!])).toMatchObject({
    ok: false,
    sentence: expect.stringContaining('delivery') as string,
  })
  expect(await combineByRule(rig.gharry)).toBe(0)
})

test('an order that is cancelled in its channel after the label was bought is not sent by a second label', async () => {
  await begin([twin('1'), twin('2')])
  const shipment = await together((await rig.orders()).map(({ id }) => id))
  await buy([shipment])
  await rig.stockShop([
    twin('2', { status: 'cancelled', changed_at: new Date(rig.gharry.now().getTime() + 1000).toISOString() }),
  ])
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect((await rig.orders())[1]!.flag).toContain('Cancelled in the channel after the label was bought')
  expect(await requestVoid(rig.gharry, (await rig.labels())[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  expect(await states()).toEqual(['ready', 'cancelled', 'cancelled'])
  expect((await rig.orders())[1]!.flag).toBeNull()
})
