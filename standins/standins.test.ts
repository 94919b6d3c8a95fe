import type { FastifyInstance } from 'fastify'
import { money, measured, type Plain } from '@/core/units'
import {
  callJson,
  type CarrierClient,
  carrierKindOf,
  type ChannelClient,
  channelKindOf,
  type CallResult,
  type Fulfilment,
  type LabelRequest,
} from '@/adapters'
import { z } from 'zod'
import { demoCarriers, demoServices } from '../demo/carriers'
import { demoOrders } from '../demo/orders'
import { carrierSettings, carrierStandIn, type CarrierLabel } from './carrier'
import { shopStandIn, type ShopOrder } from './channels/shop'

/*
 * Both ends of each interface: our clients, against servers that answer as shops and carriers do, also on their bad
 * days.
 */

const open: FastifyInstance[] = []
afterEach(async () => {
  for (const app of open.splice(0)) await app.close()
})
const serve = async (app: FastifyInstance): Promise<string> => {
  open.push(app)
  return app.listen({ host: '127.0.0.1', port: 0 })
}
const told = async (url: string, body?: unknown): Promise<unknown> =>
  (
    await fetch(
      url,
      body === undefined
        ? undefined
        : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
    )
  ).json()
const body = <T>(result: CallResult<T>): T => {
  if (!result.ok) throw new Error(result.sentence)
  return result.body
}

const beginShop = async (orders: readonly ShopOrder[] = []): Promise<string> => {
  const url = await serve(
    shopStandIn({ file: ':memory:', key: 'k', secret: 's', name: 'Shop', shippingMethods: ['Standard'], products: [] })
      .app,
  )
  if (orders.length > 0) await told(`${url}/admin/orders`, orders)
  return url
}
const some = (count: number): ShopOrder[] => {
  const made: ShopOrder[] = []
  for (const order of demoOrders('small', 5, '2026-11-20')) {
    made.push(order)
    if (made.length === count) break
  }
  return made
}

const here = (timeoutMs = 15_000) => ({ timeoutMs, privateAddresses: true, pauseMs: 1 })
const noAccess = { token: () => Promise.reject(new Error('needs none')) }
const noMail = { send: () => Promise.reject(new Error('writes none')), close: () => undefined }
const shopClient = (address: string, key: string, secret: string): ChannelClient =>
  channelKindOf('keyed-shop')!.open({ address, key, secret } as never, here(), noAccess, noMail)
const carrierClient = (address: string, token: string, timeoutMs?: number): CarrierClient =>
  carrierKindOf('json-labels')!.open({ address, token } as never, here(timeoutMs), noAccess, noMail)

describe('the shop', () => {
  test('page after page every order comes once, and afterwards only what changed', async () => {
    const orders = some(1203)
    const url = await beginShop(orders)
    const client = shopClient(url, 'k', 's')
    const seen: string[] = []
    let cursor = ''
    for (let more = true; more;) {
      const page = body(await client.fetchOrders(cursor))
      seen.push(...page.orders.map(({ id }) => id))
      ;({ cursor, more } = page)
    }
    expect(seen.sort()).toEqual(orders.map(({ id }) => id).sort())
    expect(body(await client.fetchOrders(cursor)).orders).toEqual([])
    await told(`${url}/admin/orders/${orders[3]!.id}`, { status: 'cancelled' })
    expect(body(await client.fetchOrders(cursor)).orders).toMatchObject([{ id: orders[3]!.id, status: 'cancelled' }])
  })

  test('what makes no sense is handed over with its reason, and the rest goes on', async () => {
    const [first, second] = some(2)
    const url = await beginShop([first!, { ...second!, lines: 'none' as never }])
    const page = body(await shopClient(url, 'k', 's').fetchOrders(''))
    expect(page.orders.map(({ id }) => id)).toEqual([first!.id])
    expect(page.bad).toEqual([
      { row: expect.stringContaining(second!.number) as string, reason: expect.stringMatching(/^lines: /) as string },
    ])
  })

  const fulfilment = (order: ShopOrder, more: Partial<Fulfilment> = {}): Fulfilment => ({
    remoteOrder: order.id,
    lines: order.lines.map(({ id, quantity }) => ({ line: id, quantity })),
    carrier: 'Heron',
    carrierId: 'heron',
    recipient: 'Noor Van Acker',
    trackingNumber: '12345678',
    trackingUrl: 'http://gharry.example/track/x',
    ...more,
  })

  test('a fulfilment counts once for its key; never more than was ordered; taken back, the order is open again', async () => {
    const [order] = some(1)
    const url = await beginShop([order!])
    const client = shopClient(url, 'k', 's')
    const state = async (): Promise<ShopOrder> => ((await told(`${url}/admin/orders`)) as ShopOrder[])[0]!
    const first = body(await client.fulfil(fulfilment(order!), 'key-number-1'))
    expect(body(await client.fulfil(fulfilment(order!), 'key-number-1'))).toMatchObject({
      id: (first as { id: string }).id,
    })
    expect(await state()).toMatchObject({
      status: 'fulfilled',
      fulfilments: [{ tracking_number: '12345678', withdrawn: false }],
    })
    expect(await client.fulfil(fulfilment(order!), 'key-number-2')).toMatchObject({
      ok: false,
      kind: 'refused',
      sentence: expect.stringMatching(/^Of line 1 \d+ were ordered: more are fulfilled already\.$/) as string,
    })
    body(await client.withdraw(order!.id, '12345678', 'key-number-3'))
    body(await client.withdraw(order!.id, '12345678', 'key-number-4'))
    expect(await state()).toMatchObject({ status: 'open', fulfilments: [{ withdrawn: true }] })
    expect(body(await client.fulfil(fulfilment(order!, { trackingNumber: '87654321' }), 'key-number-5'))).toBeTruthy()
  })

  test('part of an order leaves it open; a cancelled or unknown one, a wrong key and blanks in a number are refused with the reason', async () => {
    const [order, other] = some(2).map((one) => ({ ...one, lines: [{ ...one.lines[0]!, quantity: 3 }] }))
    const url = await beginShop([order!, { ...other!, status: 'cancelled' }])
    const client = shopClient(url, 'k', 's')
    body(await client.fulfil(fulfilment(order!, { lines: [{ line: '1', quantity: 2 }] }), 'key-number-1'))
    expect(((await told(`${url}/admin/orders`)) as ShopOrder[]).find(({ id }) => id === order!.id)).toMatchObject({
      status: 'open',
    })
    expect(await client.fulfil(fulfilment(other!), 'key-number-2')).toMatchObject({
      ok: false,
      kind: 'refused',
      sentence: 'The order is cancelled.',
    })
    expect(await client.fulfil(fulfilment({ ...order!, id: 'gone' }), 'key-number-3')).toMatchObject({
      ok: false,
      sentence: 'There is no such order.',
    })
    expect(await client.fulfil(fulfilment(order!, { trackingNumber: '12 34' }), 'key-number-4')).toMatchObject({
      ok: false,
      kind: 'refused',
    })
    expect(await client.withdraw(order!.id, 'never', 'key-number-5')).toMatchObject({
      ok: false,
      sentence: 'There is no such fulfilment.',
    })
    expect(await shopClient(url, 'k', 'wrong').fetchOrders('')).toMatchObject({
      ok: false,
      kind: 'not allowed',
      sentence: 'It refuses the credentials: Key or secret is wrong. Enter them again.',
    })
  })

  test('a buyer orders on the page, and looks it up by number and e-mail', async () => {
    const url = await serve(
      shopStandIn({
        file: ':memory:',
        key: 'k',
        secret: 's',
        name: 'Shop',
        shippingMethods: ['Standard'],
        products: [
          {
            sku: 'A',
            title: 'Fern & Co',
            price: '12.50',
            weight_grams: 200,
            size_mm: [100, 100, 100],
            tags: [],
            un_number: '',
            hs_code: '',
            origin: '',
          },
        ],
      }).app,
    )
    expect(await (await fetch(url)).text()).toContain('Fern &#38; Co')
    const placed = await fetch(`${url}/order`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({
        sku: 'A',
        quantity: '2',
        method: 'Standard',
        name: 'Ann',
        email: 'ann@post.example',
        street: 'Kaai 1',
        postcode: '9000',
        city: 'Gent',
        country: 'BE',
      }),
    })
    expect(await placed.text()).toContain('Not shipped yet.')
    const [order] = body(await shopClient(url, 'k', 's').fetchOrders('')).orders
    expect(order).toMatchObject({ value: '25.00', wording: 'Standard', items: [{ sku: 'A', quantity: 2 }] })
    expect((await fetch(`${url}/order?number=${order!.number}&email=ANN@post.example`)).status).toBe(200)
    expect((await fetch(`${url}/order?number=${order!.number}&email=other@post.example`)).status).toBe(404)
  })
})

const address = {
  lines: ['Mossgill', 'Kaai 1', '9000 Gent', 'BELGIUM'],
  country: 'BE',
  postcode: '9000',
  phone: '',
  email: '',
} as unknown as LabelRequest['from']
const request = (more: Partial<Plain<LabelRequest>> = {}) =>
  measured<LabelRequest>({
    service: 'heron-road',
    fromCountry: 'BE',
    toCountry: 'BE',
    toPostcode: '2000',
    from: address,
    to: address,
    parcels: [{ weight: 1200, size: [300, 200, 100] }],
    reference: 'MG-1',
    shipOn: '2026-11-25',
    signature: false,
    insured: 0,
    toCollect: 0,
    residential: true,
    postOfficeBox: false,
    notStackable: false,
    dangerousGoods: [],
    duties: 'DAP',
    returnLabel: false,
    customs: null,
    ...more,
  })
const beginCarrier = (id = 'heron'): Promise<string> => serve(carrierStandIn(carrierSettings(id, ':memory:', 't')).app)
const labelsOf = async (url: string): Promise<CarrierLabel[]> => (await told(`${url}/admin/labels`)) as CarrierLabel[]

describe('the carriers', () => {
  test('the same key buys one label, whatever was asked the second time; another key buys another', async () => {
    const url = await beginCarrier()
    const client = carrierClient(url, 't')
    const first = body(await client.buy(request(), 'key-number-1'))
    expect(
      body(await client.buy(request({ parcels: [{ weight: 9000, size: [300, 200, 100] }] }), 'key-number-1')),
    ).toEqual(first)
    const second = body(
      await client.buy(
        request({
          parcels: [
            { weight: 500, size: [100, 100, 100] },
            { weight: 700, size: [100, 100, 100] },
          ],
        }),
        'key-number-2',
      ),
    )
    expect(second.parcels).toHaveLength(2)
    expect(new Set([...first.parcels, ...second.parcels].map(({ trackingNumber }) => trackingNumber)).size).toBe(3)
    expect(await labelsOf(url)).toHaveLength(2)
  })

  test('bought but not answered: the call fails, and the same key brings the label that was bought', async () => {
    const url = await beginCarrier()
    const client = carrierClient(url, 't', 500)
    await told(`${url}/admin/faults`, { timeOutAfterWork: 1 })
    expect(await client.buy(request(), 'key-number-1')).toMatchObject({ ok: false })
    expect(await labelsOf(url)).toHaveLength(1)
    await told(`${url}/admin/faults`, { timeOutAfterWork: 0 })
    const label = body(await client.buy(request(), 'key-number-1'))
    expect((await labelsOf(url)).map(({ trackingNumber }) => trackingNumber)).toEqual(
      label.parcels.map(({ trackingNumber }) => trackingNumber),
    )
  })

  test.each([
    [{ tooManyCalls: 1 }, { kind: 'rate-limited', retryAfter: 1 }],
    [{ serverError: 1 }, { kind: 'server error' }],
    [{ malformedBody: 1 }, { kind: 'garbled answer' }],
    [{ latencyMs: 900 }, { kind: 'time-out' }],
  ])('on a bad day (%j) the call says which kind of failure it was', async (faults, wanted) => {
    const url = await beginCarrier()
    await told(`${url}/admin/faults`, faults)
    const got = await carrierClient(url, 't', 400).buy(request(), 'key-number-1')
    expect(got).toMatchObject({ ok: false, ...wanted })
    expect(got).toHaveProperty('sentence', expect.stringMatching(/^It.*\.$/))
  })

  test('nobody there, a wrong token, a request that makes no sense', async () => {
    const url = await beginCarrier()
    expect(await carrierClient(url, 'wrong').buy(request(), 'key-number-1')).toMatchObject({
      ok: false,
      kind: 'not allowed',
      sentence: 'It refuses the credentials: The token is wrong. Enter them again.',
    })
    expect(
      await carrierClient(url, 't').buy(request({ parcels: [{ weight: 0, size: [1, 1, 1] }] }), 'key-number-2'),
    ).toMatchObject({ ok: false, kind: 'refused', sentence: 'parcels.0.weight must be more than 0 g' })
    expect(await carrierClient(url, 't').buy(request({ service: 'gone' }), 'key-number-3')).toMatchObject({
      ok: false,
      kind: 'refused',
    })
    await open.pop()!.close()
    expect(await carrierClient(url, 't').buy(request(), 'key-number-4')).toMatchObject({
      ok: false,
      kind: 'unreachable',
      sentence: 'It cannot be reached.',
    })
    expect(await labelsOf(await beginCarrier())).toEqual([])
  })

  test('a parcel goes its way by the carrier’s clock: each event once, in order, to the last; then the label is not taken back', async () => {
    const url = await beginCarrier()
    const client = carrierClient(url, 't')
    const {
      parcels: [parcel],
    } = body(await client.buy(request(), 'key-number-1'))
    const seen: string[] = []
    let cursor = ''
    for (let day = 0; day < 8; day++) {
      const { events, cursor: next } = body(await client.events(cursor))
      cursor = next
      seen.push(
        ...events.filter(({ trackingNumber }) => trackingNumber === parcel!.trackingNumber).map(({ status }) => status),
      )
      await told(`${url}/admin/clock`, { days: 1 })
    }
    expect(seen).toEqual(['announced', 'collected', 'in transit', 'out for delivery', 'delivered'])
    expect(await client.voidLabel(parcel!.trackingNumber, 'key-number-2')).toMatchObject({
      ok: false,
      sentence: 'The parcel has been collected.',
    })
  })

  test('a label is taken back once, and a voided one goes nowhere; letters are kept', async () => {
    const url = await beginCarrier('corvid')
    const client = carrierClient(url, 't')
    const [parcel] = body(await client.buy(request({ service: 'corvid-parcel' }), 'key-number-1')).parcels
    expect(body(await client.voidLabel(parcel!.trackingNumber, 'key-number-2'))).toEqual({ refund: 'pending' })
    expect(body(await client.voidLabel(parcel!.trackingNumber, 'key-number-3'))).toEqual({ refund: 'pending' })
    await told(`${url}/admin/clock`, { days: 3 })
    expect(
      body(await client.events('')).events.filter(({ trackingNumber }) => trackingNumber === parcel!.trackingNumber),
    ).toEqual([])
    const [letter] = body(
      await client.buy(
        request({ service: 'corvid-letter', parcels: [{ weight: 80, size: [240, 160, 20] }] }),
        'key-number-4',
      ),
    ).parcels
    expect(await client.voidLabel(letter!.trackingNumber, 'key-number-5')).toMatchObject({
      ok: false,
      sentence: 'Letters are not taken back.',
    })
  })

  test('a void that was done is done, when it is asked for again after the time for it has gone by', async () => {
    const url = await beginCarrier('northlight')
    const client = carrierClient(url, 't')
    const [one] = body(await client.buy(request({ service: 'northlight-day' }), 'key-number-1')).parcels
    const [other] = body(await client.buy(request({ service: 'northlight-day' }), 'key-number-2')).parcels
    expect(body(await client.voidLabel(one!.trackingNumber, 'key-number-3'))).toEqual({ refund: 'pending' })
    await told(`${url}/admin/clock`, { days: 2 })
    expect(body(await client.voidLabel(one!.trackingNumber, 'key-number-3'))).toEqual({ refund: 'pending' })
    expect(await client.voidLabel(other!.trackingNumber, 'key-number-4')).toMatchObject({ ok: false })
  })

  test('a top-up counts once for its key', async () => {
    const url = await beginCarrier()
    const client = carrierClient(url, 't')
    for (const key of ['key-number-1', 'key-number-1', 'key-number-2'])
      body(await client.topUp(money(5000, 'EUR'), key))
    expect(await told(`${url}/admin/balance`)).toMatchObject([{ minor: 5000 }, { minor: 5000 }])
  })

  test('each carrier numbers its parcels in its own way, and none of them twice', async () => {
    const forms: Record<string, RegExp> = {
      heron: /^00\d{18}$/,
      corvid: /^CV\d{9}BE$/,
      northlight: /^NX\d{12}$/,
      skua: /^918\d{8}$/,
      bramble: /^BF\d{8}$/,
      dray: /^DL\d{7}$/,
    }
    for (const { id } of demoCarriers) {
      const { habits } = carrierSettings(id, ':memory:', 't')
      const numbers = Array.from({ length: 300 }, (_, n) => habits.number(n + 1, 'BE'))
      expect(new Set(numbers).size).toBe(300)
      for (const number of numbers) expect(number).toMatch(forms[id]!)
      expect(demoServices.some(({ carrier }) => carrier === id)).toBe(true)
    }
  })
})

test('an answer that does not fit is garbled, with the place; a redirect is not followed', async () => {
  const url = await beginCarrier()
  const call = (path: string) =>
    callJson(
      here(),
      { method: 'GET', url: `${url}${path}`, headers: { authorization: 'Bearer t' } },
      z.object({ events: z.array(z.object({ price: z.number() })), cursor: z.number() }),
    )
  await carrierClient(url, 't').buy(request(), 'key-number-1')
  expect(await call('/api/events')).toMatchObject({
    ok: false,
    kind: 'garbled answer',
    sentence: expect.stringMatching(/^Its answer cannot be used \((events\.0\.price|cursor)\)\.$/) as string,
  })
  expect(await call('/api/nothing')).toMatchObject({ ok: false, kind: 'refused' })
})
