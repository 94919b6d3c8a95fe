import { demoWorld } from '../../../demo/world'
import type { ShopOrder } from '../../../standins/channels/shop'
import { type NoticePlan, usualPlan } from '@/core/telling'
import { noticesOfOrder, ordersById, saveDocument, silencedBy, wordsOfOrders } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { requestImport } from '../intake/importOrders'
import { workOnce } from '../worker/work'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { followParcels } from '../tracking/followParcels'
import { hearMessenger, receiveLetters } from '../tracking/noticeNews'
import { stopLetters } from '../tracking/customerWords'
import { freePort, makeRig, orderTo, type Rig } from './rig'

/* Customers are told: read back from the inbox and the telephones. */
let rig: Rig
let bounces: { close: () => Promise<void> } | undefined
afterEach(async () => {
  await bounces?.close()
  bounces = undefined
  await rig.close()
})

const told = (change: (plan: NoticePlan) => Partial<NoticePlan>) =>
  saveDocument(
    rig.gharry.db,
    'notices',
    0,
    { ...usualPlan, ...change(usualPlan) },
    true,
    rig.gharry.now().toISOString(),
  )

const on = (plan: NoticePlan, steps: Partial<Record<string, ('mail' | 'text')[]>>): NoticePlan['steps'] => ({
  ...plan.steps,
  ...Object.fromEntries(
    Object.entries(steps).map(([step, media = []]) => [
      step,
      Object.fromEntries(
        (['mail', 'text'] as const).map((medium) => [
          medium,
          { on: media.includes(medium), channels: [], countries: [], languages: [] },
        ]),
      ),
    ]),
  ),
})

async function begin(orders: readonly ShopOrder[], more: Parameters<typeof makeRig>[0] = {}): Promise<number[]> {
  rig = await makeRig({ world: demoWorld, texts: true, ...more })
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}

async function buy(ids: readonly number[]): Promise<void> {
  const plan = await planBatch(rig.gharry, ids)
  expect(plan.labels).toHaveLength(ids.length)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true })
  await rig.workAll()
}

async function happens(status: string, more: object = {}): Promise<void> {
  const label = (await rig.labels()).at(-1)!
  await rig.ask(label.carrier, '/admin/events', { trackingNumber: label.trackingNumber, status, astray: true, ...more })
  await followParcels(rig.gharry, label.carrier)
  await rig.workAll()
}

test('each step is said once, in the customer’s language, by mail and by text message', async () => {
  const ids = await begin([orderTo('DE', { phone: '0151 23456789' })])
  await told((plan) => ({
    steps: on(plan, {
      'label made': ['mail', 'text'],
      'out for delivery': ['text'],
      'waiting to be fetched': ['mail', 'text'],
      delivered: ['mail'],
    }),
  }))
  await buy(ids)
  expect((await rig.mails()).map(({ subject }) => subject)).toEqual(['Ihre Bestellung N-1 ist unterwegs'])
  rig.put(70)
  await happens('out for delivery')
  await happens('waiting to be fetched', { place: 'Kiosk, Lindenstraße 4' })
  rig.put(70)
  await happens('delivered')
  const mails = (await rig.mails()).map(({ subject }) => subject).reverse()
  expect(mails).toEqual([
    'Ihre Bestellung N-1 ist unterwegs',
    'Ihre Bestellung N-1 liegt bereit',
    'Ihre Bestellung N-1 ist angekommen',
  ])
  expect((await rig.mails()).every(({ copies }) => copies === 1)).toBe(true)
  const texts = (await rig.texts()).reverse()
  expect(texts.map(({ to, text }) => [to, text.includes('http://gharry.example/track/')])).toEqual([
    ['+4915123456789', true],
    ['+4915123456789', true],
    ['+4915123456789', true],
  ])
  expect(texts[0]!.text).toContain('antworten Sie STOP')
  expect(texts[2]!.text).toContain('Kiosk, Lindenstraße 4')
  await hearMessenger(rig.gharry)
  const notices = await noticesOfOrder(rig.gharry.db, ids[0]!)
  expect(notices.filter(({ medium }) => medium === 'text').map(({ received }) => received)).toEqual(
    Array(3).fill('delivered'),
  )
})

test('a mail says to mailboxes what it is, and how to end it; the link ends it', async () => {
  const ids = await begin([orderTo('BE', {}, 'N-1'), orderTo('BE', {}, 'N-2')])
  await buy([ids[0]!])
  const [mail] = await rig.mails()
  const [label] = await rig.labels()
  expect(mail!.headers['list-unsubscribe']).toBe(`<http://gharry.example/track/${label!.token}/stop>`)
  expect(mail!.headers['list-unsubscribe-post']).toBe('List-Unsubscribe=One-Click')
  const json = /<script type="application\/ld\+json">(.*?)<\/script>/.exec(mail!.html)![1]!
  expect(JSON.parse(json)).toMatchObject({
    '@type': 'ParcelDelivery',
    trackingNumber: label!.trackingNumber,
    partOfOrder: { orderNumber: 'N-1' },
  })
  expect(await stopLetters(rig.gharry, label!.token)).toBe(true)
  await buy([ids[1]!])
  expect(await rig.mails()).toHaveLength(1)
  expect(await noticesOfOrder(rig.gharry.db, ids[1]!)).toMatchObject([
    { state: 'dropped', problem: 'The customer wants no more messages.' },
  ])
})

test('never two within an hour, unless it is of no use later; what is overtaken is not said', async () => {
  const ids = await begin([orderTo('NL')])
  await told((plan) => ({
    steps: on(plan, { 'label made': ['mail'], collected: ['mail'], 'out for delivery': ['mail'], delivered: ['mail'] }),
  }))
  await buy(ids)
  const label = (await rig.labels())[0]!
  const news = async (status: string): Promise<void> => {
    await rig.ask(label.carrier, '/admin/events', { trackingNumber: label.trackingNumber, status, astray: true })
    await followParcels(rig.gharry, label.carrier)
  }
  await news('collected')
  await news('out for delivery')
  rig.put(2)
  while (await workOnce(rig.gharry));
  expect((await rig.mails()).map(({ subject }) => subject).reverse()).toEqual([
    'Uw bestelling N-1 is onderweg',
    'Uw bestelling N-1 komt vandaag',
  ])
  await news('delivered')
  rig.put(10)
  while (await workOnce(rig.gharry));
  expect(await rig.mails()).toHaveLength(2)
  rig.put(60)
  while (await workOnce(rig.gharry));
  expect((await rig.mails())[0]!.subject).toBe('Uw bestelling N-1 is aangekomen')
  const states = (await noticesOfOrder(rig.gharry.db, ids[0]!)).map(({ step, state }) => `${step}: ${state}`)
  expect(states).toContain('collected: dropped')
})

test('who had the dead number is told that it changed; who had none is not', async () => {
  const ids = await begin([orderTo('FR')])
  await buy(ids)
  expect(await requestVoid(rig.gharry, (await rig.labels())[0]!.id)).toMatchObject({ ok: true })
  await rig.workAll()
  rig.put(70)
  await buy(ids)
  const [mail] = await rig.mails()
  expect(mail!.subject).toBe('Un nouveau numéro de suivi pour votre commande N-1')
  expect(mail!.text).toContain((await rig.labels())[1]!.trackingNumber)
})

test('nobody is woken: it waits for the morning of the customer', async () => {
  const ids = await begin([orderTo('PL')])
  const hour = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', timeZone: 'Europe/Warsaw', hourCycle: 'h23' })
  const now = Number(hour.format(rig.gharry.now()))
  const two = (n: number): string => `${String((n + 24) % 24).padStart(2, '0')}:00`
  await told(() => ({ quiet: { from: two(now - 1), until: two(now + 3) } }))
  const plan = await planBatch(rig.gharry, ids)
  await buyBatch(rig.gharry, ids, plan.total)
  while (await workOnce(rig.gharry));
  rig.put(100)
  while (await workOnce(rig.gharry));
  expect(await rig.mails()).toHaveLength(0)
  rig.put(100)
  while (await workOnce(rig.gharry));
  expect((await rig.mails()).map(({ subject }) => subject)).toEqual(['Zamówienie N-1 jest w drodze'])
})

test('a letter that comes back is on its order, and the mailbox that is not there is not written to again', async () => {
  const port = await freePort()
  const env = { GHARRY_BOUNCE_DOMAIN: 'bounces.gharry.example' }
  const ids = await begin(
    [orderTo('BE', { email: 'nobody@post.example' }, 'N-1'), orderTo('BE', { email: 'full@post.example' }, 'N-2')],
    { bouncePort: port, env },
  )
  bounces = await receiveLetters(rig.gharry, port)
  await buy(ids)
  for (let tries = 0; tries < 300; tries++) {
    const rows = await rig.gharry.db('notices').whereNotNull('received')
    if (rows.length === 2) break
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  const [gone, full] = await Promise.all(ids.map((id) => noticesOfOrder(rig.gharry.db, id)))
  expect(gone).toMatchObject([
    { state: 'failed', received: 'came back', problem: expect.stringContaining('No such mailbox') },
  ])
  expect(full).toMatchObject([{ state: 'failed', received: 'came back' }])
  expect(await silencedBy(rig.gharry.db, 'Nobody@post.example')).toMatchObject({ why: 'came back' })
  expect(await silencedBy(rig.gharry.db, 'full@post.example')).toBeUndefined()
})

test('answers by text message: STOP ends them, others stand on the order; a dead telephone is said', async () => {
  const ids = await begin([
    orderTo('NL', { phone: '06 12345613' }, 'N-1'),
    orderTo('NL', { phone: '+31 6 1234 5624' }, 'N-2'),
  ])
  await told((plan) => ({ steps: on(plan, { 'label made': ['text'], 'out for delivery': ['text'] }) }))
  await buy(ids)
  await rig.ask('texts', '/admin/answers', { from: '+31612345624', text: 'Please ring the bell <b>twice</b>' })
  await hearMessenger(rig.gharry)
  const [dead] = await noticesOfOrder(rig.gharry.db, ids[0]!)
  expect(dead).toMatchObject({ state: 'failed', problem: expect.stringContaining('switched off') })
  expect(await wordsOfOrders(rig.gharry.db, [ids[1]!])).toMatchObject([{ text: 'Please ring the bell <b>twice</b>' }])
  await rig.ask('texts', '/admin/answers', { from: '+31612345624', text: ' stop!' })
  await hearMessenger(rig.gharry)
  rig.put(70)
  await happens('out for delivery')
  expect(await rig.texts()).toHaveLength(2)
})

test('with every fault of mail and gateway switched on, each is sent once', async () => {
  const orders = Array.from({ length: 12 }, (_, i) => orderTo('BE', { phone: '+32470000111' }, `N-${i}`))
  const ids = await begin(orders)
  await told((plan) => ({ steps: on(plan, { 'label made': ['mail', 'text'] }) }))
  await rig.faults('mail', { serverError: 3, timeOutAfterWork: 4, tooManyCalls: 5 })
  await rig.faults('texts', { serverError: 3, timeOutAfterWork: 4, tooManyCalls: 5, malformedBody: 6 })
  await buy(ids)
  expect(new Set((await rig.mails()).map(({ subject }) => subject)).size).toBe(12)
  expect(await rig.mails()).toHaveLength(12)
  expect(new Set((await rig.texts()).map(({ key }) => key)).size).toBe(12)
  expect(await rig.texts()).toHaveLength(12)
  expect((await ordersById(rig.gharry.db, ids)).length).toBe(12)
})
