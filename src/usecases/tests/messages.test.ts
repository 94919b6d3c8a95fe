import { createHmac, randomUUID } from 'node:crypto'
import { messagesOf, ordersById } from '@/data'
import { asQuillOrder, quillCredentials } from '../../../demo/quillOrders'
import { quillStandIn, type QuillOrder } from '../../../standins/channels/quill'
import { receiveMessage, workMessages } from '../intake/messages'
import { saveConnection, showConnections } from '../intake/connections'
import { requestImport } from '../intake/importOrders'
import { makeRig, soundOrders, type Rig } from './rig'
import { withHooks } from './hooks.test-help'

let rig: Rig
let quill: ReturnType<typeof quillStandIn>
let url: string
let hooks: Awaited<ReturnType<typeof withHooks>>
beforeAll(async () => {
  rig = await makeRig()
  quill = quillStandIn({ file: ':memory:', name: 'Quillmart', ...quillCredentials })
  url = await quill.app.listen({ host: '127.0.0.1', port: 0 })
  hooks = await withHooks(rig.gharry)
  expect(
    await saveConnection(rig.gharry, null, {
      role: 'channel',
      kind: 'pushing-market',
      name: 'Quillmart',
      settings: { address: url, ...quillCredentials },
      on: true,
    }),
  ).toMatchObject({ ok: true, id: 'quillmart' })
})
afterAll(async () => {
  await quill.app.close()
  await hooks.close()
  await rig.close()
})

const made = soundOrders(60).map(asQuillOrder)
const tell = async <T>(path: string, body: unknown): Promise<T> =>
  (
    await fetch(`${url}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  ).json() as Promise<T>
const put = (order: QuillOrder): Promise<QuillOrder> => tell(`/admin/orders/${order.id}`, order)
const settled = async (): Promise<void> => {
  await tell('/admin/flush', {})
  while (await workMessages(rig.gharry));
}
const ordersHere = async () => (await rig.orders()).filter(({ channelId }) => channelId === 'quillmart')
const known = async (id: string) => {
  const row = (await ordersHere()).find(({ remoteId }) => remoteId === id)
  return row && { ...row, order: (await ordersById(rig.gharry.db, [row.id]))[0]!.order }
}

/** A message as anybody could make one. */
const message = (
  content: object,
  { secret = quillCredentials.signingSecret, ageSeconds = 0, signature = '' } = {},
): Parameters<typeof receiveMessage>[2] => {
  const body = Buffer.from(JSON.stringify(content))
  const stamp = String(Math.floor(rig.gharry.now().getTime() / 1000) - ageSeconds)
  const signed = createHmac('sha256', secret).update(`${stamp}.`).update(body).digest('hex')
  const heads: Record<string, string> = { 'message-timestamp': stamp, 'message-signature': signature || `v1=${signed}` }
  return { header: (name) => heads[name] ?? null, body }
}
const about = (order: QuillOrder, event: string = randomUUID()) => ({ event, about: order.id, order })

test('an order comes by itself, is decided, and follows what becomes of it: changed, cancelled in part, split, cancelled', async () => {
  await tell('/admin/habits', { to: hooks.url('quillmart') })
  const order: QuillOrder = {
    ...made[0]!,
    positions: [
      { no: '1', sku: 'MG-NET', name: 'Net', ordered: 3, cancelled: 0, each: '4.00' },
      { no: '2', sku: 'MG-PUMP', name: 'Pump', ordered: 1, cancelled: 0, each: '30.00' },
    ],
  }
  await put(order)
  await settled()
  expect(await known(order.id)).toMatchObject({ number: order.number, quantity: 4 })
  await put({ ...order, positions: [{ ...order.positions[0]!, cancelled: 1 }, order.positions[1]!] })
  await settled()
  expect((await known(order.id))!.order.items.map(({ line, quantity }) => [line, quantity])).toEqual([
    ['1', 2],
    ['2', 1],
  ])
  const [kept, apart] = order.positions
  await put({ ...order, positions: [kept!] })
  await put({ ...order, id: `${order.id}-b`, number: `${order.number}-B`, positions: [apart!] })
  await settled()
  expect((await known(order.id))!.order.items.map(({ line }) => line)).toEqual(['1'])
  expect((await known(`${order.id}-b`))!.order.items.map(({ line }) => line)).toEqual(['2'])
  await put({ ...order, positions: [{ ...kept!, cancelled: 3 }] })
  await settled()
  expect((await known(order.id))!.state).toBe('cancelled')
})

test('twice is once; in any order the youngest stays, also when it looks like one that was there before', async () => {
  await tell('/admin/habits', { twice: true, backwards: true })
  const order = made[1]!
  const street = (name: string): QuillOrder => ({ ...order, deliver_to: { ...order.deliver_to, street: name } })
  const versions = []
  for (const name of ['Eerste Straat', 'Tweede Straat', 'Derde Straat']) versions.push(await put(street(name)))
  await settled()
  expect((await known(order.id))!.order.shipTo.lines[0]).toMatch(/^Derde Straat/)
  expect((await ordersHere()).filter(({ remoteId }) => remoteId === order.id)).toHaveLength(1)
  // Back to the first content with a younger date; then the second one comes late.
  const back = await put(street('Eerste Straat'))
  await settled()
  expect(await receiveMessage(rig.gharry, 'quillmart', message(about(back, 'again')))).toMatchObject({ status: 202 })
  expect(await receiveMessage(rig.gharry, 'quillmart', message(about(back, 'again')))).toMatchObject({ status: 200 })
  await receiveMessage(rig.gharry, 'quillmart', message(about(versions[1]!)))
  while (await workMessages(rig.gharry));
  expect((await known(order.id))!.order.shipTo.lines[0]).toMatch(/^Eerste Straat/)
  await tell('/admin/habits', { twice: false, backwards: false })
})

test('what is not its own is refused, and nothing of it is kept', async () => {
  const order = made[2]!
  const before = await rig.gharry.db('messages').count({ n: '*' })
  for (const [wrong, sentence] of [
    [message(about(order), { secret: 'somebody else’s secret' }), /signature does not fit/],
    [message(about(order), { ageSeconds: 301 }), /too old/],
    [message(about(order), { ageSeconds: -400 }), /ahead of time/],
    [message(about(order), { signature: 'v1=' }), /signature/],
    [message({ hello: 'there' }), /no message/],
    [{ header: () => null, body: Buffer.from('{}') }, /no time stamp/],
  ] as const)
    expect(await receiveMessage(rig.gharry, 'quillmart', wrong)).toMatchObject({ status: 401, sentence })
  const valid = message(about(order))
  const other = { ...valid, body: Buffer.from(valid.body.toString().replace(order.number, 'QM-1')) }
  expect(await receiveMessage(rig.gharry, 'quillmart', other)).toMatchObject({ status: 401 })
  expect(await receiveMessage(rig.gharry, 'nobody', valid)).toMatchObject({ status: 404 })
  expect(await receiveMessage(rig.gharry, 'mossgill-shop', valid)).toMatchObject({ status: 404 })
  expect(await rig.gharry.db('messages').count({ n: '*' })).toEqual(before)
  await rig.note()
  const view = (await showConnections(rig.gharry)).connections.find(({ id }) => id === 'quillmart')!
  expect(view.messages).toMatchObject({ refused: 7, waiting: 0 })
  expect(view.health.state).toMatch(/^(works|slow)$/)
})

test('a body of 20 MB is refused unread, and 1,000 messages at once are all taken', async () => {
  const large = await fetch(hooks.url('quillmart'), {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: Buffer.alloc(20_000_000, 'x'),
  })
  expect(large.status).toBe(413)
  const many = soundOrders(1000).map((order, i) => asQuillOrder(order, 1000 + i))
  const answers = await Promise.all(many.map((order) => receiveMessage(rig.gharry, 'quillmart', message(about(order)))))
  expect(new Set(answers.map(({ status }) => status))).toEqual(new Set([202]))
  while (await workMessages(rig.gharry));
  const numbers = new Set((await ordersHere()).map(({ number }) => number))
  expect(many.filter(({ number }) => !numbers.has(number))).toEqual([])
})

test('messages without the order are asked for; one of an order that is unknown there is said', async () => {
  await tell('/admin/habits', { bare: true })
  await put(made[3]!)
  await settled()
  expect(await known(made[3]!.id)).toMatchObject({ number: made[3]!.number })
  await receiveMessage(rig.gharry, 'quillmart', message({ event: 'ghost', about: 'qm-nobody' }))
  await receiveMessage(rig.gharry, 'quillmart', message({ event: 'odd', about: 'x', order: { id: 'x' } }))
  while (await workMessages(rig.gharry));
  const { failed } = await messagesOf(rig.gharry.db, 'quillmart')
  expect(failed.map(({ event, problem }) => [event, problem])).toEqual([
    ['odd', expect.stringMatching(/^number: /)],
    ['ghost', 'Order qm-nobody: There is no such order.'],
  ])
  await tell('/admin/habits', { bare: false })
})

test('what messages lose, asking finds; with no calls left it waits as long as it is told', async () => {
  await tell('/admin/habits', { lost: 1 })
  for (const order of made.slice(4, 14)) await put(order)
  await settled()
  expect(await known(made[4]!.id)).toBeUndefined()
  await tell('/admin/limit', { calls: 1, seconds: 2 })
  await requestImport(rig.gharry, 'quillmart')
  await rig.workAll()
  const client = await rig.gharry.channel('quillmart')
  expect(await client.fetchOrders('')).toMatchObject({ ok: false, kind: 'rate-limited', sentence: /no calls left/ })
  await new Promise((resolve) => setTimeout(resolve, 2100))
  expect(await client.fetchOrders('')).toMatchObject({ ok: true })
  await tell('/admin/limit', { calls: 1000, seconds: 1 })
  expect(await known(made[13]!.id)).toMatchObject({ number: made[13]!.number })
  await tell('/admin/habits', { lost: 0 })
  const refused = (await (await fetch(`${url}/admin/received`)).json()) as { status: number }[]
  // It saw from the heads that nothing was left, and did not run into the limit.
  expect(refused.filter(({ status }) => status === 429)).toEqual([])
})
