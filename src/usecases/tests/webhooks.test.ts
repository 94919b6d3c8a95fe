import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Webhook } from 'standardwebhooks'
import { readDraft } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { requestImport } from '../intake/importOrders'
import { announcements } from '../open/announce'
import { changeWebhook, makeWebhook, showWebhooks } from '../open/webhooks'
import { publishDraft } from '../rules/editRulebook'
import { takeNews } from '../tracking/followParcels'
import { workLong, workOnce } from '../worker/work'
import { makeRig, soundOrders, type Rig } from './rig'

/* Others are told of what happens: signed, once under one name, tried again, and sent again by hand. */

interface Got {
  readonly headers: IncomingHttpHeaders
  readonly body: string
}

let rig: Rig
let receiver: Server
let url: string
let got: Got[]
let answer: { status: number; headers?: Record<string, string>; pauseMs?: number }
beforeEach(async () => {
  rig = await makeRig()
  got = []
  answer = { status: 204 }
  receiver = createServer((request, response) => {
    let body = ''
    request.on('data', (part: Buffer) => (body += part.toString()))
    request.on('end', () => {
      got.push({ headers: request.headers, body })
      const { status, headers, pauseMs = 0 } = answer
      setTimeout(() => response.writeHead(status, headers).end(), pauseMs)
    })
  })
  await new Promise<void>((resolve) => void receiver.listen(0, '127.0.0.1', resolve))
  url = `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/hook`
})
afterEach(async () => {
  await rig.close()
  receiver.closeAllConnections()
  await new Promise((resolve) => receiver.close(resolve))
})

async function hooked(types: readonly string[] = Object.keys(announcements)): Promise<{ id: string; secret: string }> {
  const made = await makeWebhook(rig.gharry, { name: 'Warehouse screen', url, types })
  if (!made.ok) throw new Error(made.sentence)
  return made
}
const work = async (rounds = 40): Promise<void> => {
  for (let i = 0; i < rounds; i++) await workOnce(rig.gharry)
}
const typesOf = (list: readonly Got[]): string[] => list.map(({ body }) => (JSON.parse(body) as { type: string }).type)
const messages = async () => (await showWebhooks(rig.gharry)).webhooks[0]!.messages

test('from the order to its news each thing is told once, and its signature is verified by a library that we did not write', async () => {
  const { secret } = await hooked()
  await rig.stockShop(soundOrders(1))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [order] = await rig.orders()
  const plan = await planBatch(rig.gharry, [order!.id])
  await buyBatch(rig.gharry, [order!.id], plan.total)
  await rig.workAll()
  const [label] = await rig.labels()
  await rig.gharry.db.transaction((trx) =>
    takeNews({ ...rig.gharry, db: trx }, trx, label!.carrier, [
      {
        ...{ id: 'n1', trackingNumber: label!.trackingNumber!, status: 'announced', place: '', text: 'Announced' },
        at: rig.gharry.now().toISOString(),
      },
    ]),
  )
  expect(await requestVoid(rig.gharry, label!.id)).toMatchObject({ ok: true })
  const draft = await readDraft(rig.gharry.db)
  expect(await publishDraft(rig.gharry, draft!.revision, 'For the test')).toMatchObject({ ok: true })
  await rig.workAll()
  const types = typesOf(got)
  for (const type of ['order.decided', 'label.bought', 'parcel.moved', 'label.voided', 'edition.published'])
    expect(types).toContain(type)
  expect(types.filter((type) => type === 'label.bought')).toHaveLength(1)
  expect(new Set(got.map(({ headers }) => headers['webhook-id'])).size).toBe(got.length)
  const verify = new Webhook(secret)
  // The rig's clock was put forward by its back-offs; the library wants the present.
  const [first] = got
  const sent = new Date(Number(first!.headers['webhook-timestamp']) * 1000)
  const real = Date.now
  Date.now = () => sent.getTime()
  try {
    expect(verify.verify(first!.body, first!.headers as Record<string, string>)).toMatchObject({
      type: 'order.decided',
    })
    expect(() =>
      verify.verify(first!.body.replace('order', 'other'), first!.headers as Record<string, string>),
    ).toThrow()
  } finally {
    Date.now = real
  }
  const bought = got.find(({ body }) => body.includes('label.bought'))!
  expect(JSON.parse(bought.body)).toMatchObject({
    type: 'label.bought',
    data: { order: { number: order!.number }, trackingNumbers: [label!.trackingNumber], currency: 'EUR' },
  })
  // No names and no addresses leave.
  expect(got.map(({ body }) => body).join('')).not.toContain(order!.buyer)
})

test('what nobody asked for is not queued; a webhook that is off, or taken out, is told nothing', async () => {
  const { id } = await hooked(['label.voided'])
  await rig.stockShop(soundOrders(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect(await messages()).toEqual([])
  expect(await changeWebhook(rig.gharry, id, { on: false })).toMatchObject({ ok: true })
  expect(await changeWebhook(rig.gharry, id, { remove: true })).toMatchObject({ ok: true })
  expect(await changeWebhook(rig.gharry, id, { on: true })).toMatchObject({ code: 'not-found' })
})

test('a receiver that is slow, answers 500, refuses or moves: tried again under the same name, or said', async () => {
  const { id } = await hooked(['order.decided'])
  await rig.stockShop(soundOrders(1))
  await requestImport(rig.gharry, 'mossgill-shop')
  answer = { status: 500 }
  for (let i = 0; i < 4; i++) {
    await workLong(rig.gharry)
    await work(3)
    rig.put(3)
  }
  const names = new Set(got.map(({ headers }) => headers['webhook-id']))
  expect(got.length).toBeGreaterThan(2)
  expect(names.size).toBe(1)
  expect((await messages())[0]).toMatchObject({ problem: expect.stringContaining('500') as string })
  answer = { status: 200 }
  rig.put(2)
  await work()
  expect((await messages())[0]).toMatchObject({ state: 'sent', problem: null })

  // Sent again by hand: the same name, so that the receiver knows it.
  const before = got.length
  expect(await changeWebhook(rig.gharry, id, { again: (await messages())[0]!.id })).toMatchObject({ ok: true })
  await work()
  expect(got.length).toBe(before + 1)
  expect(got.at(-1)!.headers['webhook-id']).toBe([...names][0])

  // It leads elsewhere: nobody follows.
  answer = { status: 302, headers: { location: 'http://127.0.0.1:1/elsewhere' } }
  await changeWebhook(rig.gharry, id, { again: (await messages())[0]!.id })
  await work(3)
  expect((await messages())[0]).toMatchObject({
    state: 'queued',
    problem: expect.stringContaining('reached') as string,
  })
}, 120_000)

test('410 wants no more: it is switched off, and says so', async () => {
  const { id } = await hooked(['order.decided'])
  answer = { status: 410 }
  await rig.stockShop(soundOrders(2))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const [hook] = (await showWebhooks(rig.gharry)).webhooks
  expect(hook).toMatchObject({ on: false, problem: expect.stringContaining('410') as string })
  expect(hook!.messages.every(({ state }) => state === 'failed')).toBe(true)
  answer = { status: 200 }
  await changeWebhook(rig.gharry, id, { on: true })
  expect(await changeWebhook(rig.gharry, id, { again: 'failed' })).toMatchObject({ ok: true })
  await work()
  expect((await messages()).map(({ state }) => state)).toEqual(['sent', 'sent'])
})

test('an address of this house is not called where that is forbidden; nonsense is said at its field', async () => {
  const strict = { ...rig.gharry, outside: { ...rig.gharry.outside, privateAddresses: false } }
  await hooked(['order.decided'])
  await rig.stockShop(soundOrders(1))
  await requestImport(rig.gharry, 'mossgill-shop')
  for (let i = 0; i < 3; i++) {
    await workLong(strict)
    await workOnce(strict)
  }
  expect(got).toEqual([])
  expect((await messages())[0]).toMatchObject({ problem: expect.stringContaining('within this machine') as string })
  expect(await makeWebhook(rig.gharry, { name: '', url: 'ftp://x', types: ['all'] })).toMatchObject({
    fields: { name: /Give it a name/, url: /whole address/, types: /Choose/ },
  })
})
