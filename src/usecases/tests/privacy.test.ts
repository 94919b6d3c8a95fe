import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { addPinned, fromJson, isPostgres, setDataLife, tableNames } from '@/data'
import type { Order } from '@/core/order'
import { daysFor, forgetByDays } from '@/usecases/privacy/byDays'
import { exportBuyer, findBuyer, forgetBuyer, saveLife, showPrivacy } from '@/usecases/privacy/buyers'
import { forgetAgain } from '@/usecases/privacy/forget'
import { requestImport } from '@/usecases/intake/importOrders'
import { followParcels } from '@/usecases/tracking/followParcels'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const own = {
  name: 'Quirinus Zabriskie',
  company: 'Zabriskie Zinnias',
  street: 'Vlasmarktsteeg 4711',
  email: 'quirinus.z@post.example',
  phone: '+32 9 555 47 11',
}
/** Orders of one buyer, bought, told, delivered; and one of somebody else. */
async function delivered(count = 3): Promise<void> {
  const orders = soundOrders(count + 1).map((order, i) =>
    i === count
      ? order
      : {
          ...order,
          customer: { ...order.customer, name: own.name, email: own.email, phone: own.phone },
          ship_to: { ...order.ship_to, name: own.name, company: own.company, street: [own.street] },
        },
  )
  await buyReady(rig, orders as typeof orders)
  await rig.workAll()
  await rig.nextDay()
  for (let i = 0; i < 9; i++) {
    await rig.nextDay()

    for (const carrier of ['heron', 'corvid', 'northlight', 'skua', 'dray']) await followParcels(rig.gharry, carrier)
    await rig.workAll()
  }
}
const ids = async (): Promise<number[]> =>
  ((await rig.gharry.db('orders').where({ email: own.email }).select('id')) as { id: number }[]).map(({ id }) => id)

/** Every text of every table that holds one of these, with its place: all of the books is looked through. */
async function placesOf(...wanted: string[]): Promise<string[]> {
  const { db } = rig.gharry
  const found = new Set<string>()
  for (const name of await tableNames(db))
    for (const row of (await db(name)) as Record<string, unknown>[])
      for (const [column, value] of Object.entries(row)) {
        const text = (Buffer.isBuffer(value) ? value.toString('latin1') : String(value)).toLowerCase()
        if (wanted.some((word) => text.includes(word.toLowerCase()))) found.add(`${name}.${column}`)
      }
  return [...found].sort()
}
const personal = [own.name, 'Quirinus', 'Zabriskie', own.street, 'Vlasmarktsteeg', own.email, '5554711', own.phone]

test('a buyer is forgotten: not a word is left in any table, nor in the file; figures, money and others stay', async () => {
  await delivered()
  const [first] = await ids()
  // Everything that people and customers add.
  const { db } = rig.gharry
  const facts = fromJson<Order>(
    ((await db('order_facts').where({ orderId: first }).first()) as { facts: string }).facts,
  )
  await addPinned(db, { name: 'an example', order: facts, now: 0, expected: {} as never }, 'me', '2026-11-29T00:00:00Z')
  const label = (await db('labels').where({ orderId: first }).first()) as { id: number }
  const at = '2026-11-20T10:00:00.000Z'
  await db('customer_words').insert({
    orderId: first,
    labelId: label.id,
    kind: 'note',
    about: 'leave',
    text: `For ${own.name}`,
    at,
    closedAt: at,
    answer: own.street,
  })
  await db('tracking_events')
    .where({ labelId: label.id })
    .update({ text: `Left with ${own.name}` })
  await db('order_log').insert({ orderId: first, at, author: 'me', sentence: `Address changed to ${own.street}` })
  await db('address_mends').insert({ address: 'x', mended: JSON.stringify(facts.shipTo), author: 'me', madeAt: at })
  const [sent] = (await db('returns')
    .insert({
      ...{
        orderId: first,
        labelId: label.id,
        state: 'checked',
        location: 'ghent',
        reason: 'damaged',
        words: own.name,
        pieces: '[]',
        askedAt: at,
        askedBy: 'customer',
        key: 'r1',
        nextAt: at,
        madeAt: at,
      },
      news: JSON.stringify([{ at, status: 'delivered', place: '', text: own.name }]),
    })
    .returning('id')) as { id: number }[]
  await db('return_files').insert({
    returnId: sent!.id,
    what: 'photo',
    type: 'image/jpeg',
    content: Buffer.from(own.name),
  })
  expect((await placesOf(...personal)).length).toBeGreaterThan(8)

  const spend = await db('ledger').sum({ sum: 'amount' }).first()
  const decisions = await db('decisions').select('order_id', 'outcome').orderBy('order_id')
  const found = await findBuyer(rig.gharry, ` ${own.email.toUpperCase()} `)
  expect(found.orders).toHaveLength(3)
  expect(found.orders.every(({ waits, state }) => !waits && state === 'delivered')).toBe(true)
  const answer = await forgetBuyer(rig.gharry, { who: own.email, orders: found.orders.map(({ id }) => id) })
  expect(answer).toMatchObject({ ok: true, receipt: 1, orders: 3 })

  expect(await placesOf(...personal)).toEqual([])
  // A file is overwritten, too; PostgreSQL's is its own matter.
  if (!isPostgres(db)) {
    await db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
    const file = readFileSync(join(rig.env.GHARRY_DATA!, 'gharry.db')).toString('latin1')
    for (const word of personal) expect([word, file.includes(word)]).toEqual([word, false])
  }

  expect(await db('ledger').sum({ sum: 'amount' }).first()).toEqual(spend)
  expect(await db('decisions').select('order_id', 'outcome').orderBy('order_id')).toEqual(decisions)
  const left = fromJson<Order>(((await db('order_facts').where({ orderId: first }).first()) as { facts: string }).facts)
  expect(left).toMatchObject({
    number: facts.number,
    items: facts.items,
    shipTo: { country: facts.shipTo.country, name: '…', company: '…' },
  })
  // Somebody else's order is whole.
  const other = (await db('orders').whereNull('forgotten_at').first()) as { buyer: string; email: string }
  expect(other.buyer).not.toBe('…')
  const view = await showPrivacy(rig.gharry)
  expect(view.receipts).toMatchObject([
    { id: 1, why: 'asked', orders: 3, takenOut: { photographs: 1, 'pinned examples': 1, 'words of customers': 1 } },
  ])

  const [salt, hash] = view.receipts[0]!.proof!.split(':')
  expect(
    createHash('sha256')
      .update(salt + own.email)
      .digest('hex'),
  ).toBe(hash)
  expect(await findBuyer(rig.gharry, own.email)).toEqual({ orders: [] })
  expect(await forgetBuyer(rig.gharry, { who: own.email, orders: [] })).toMatchObject({ code: 'unknown-order' })
})

test('the channel does not bring them back, nor does a restore', async () => {
  await delivered(2)
  await forgetBuyer(rig.gharry, { who: own.email, orders: await ids() })
  await rig.gharry.db('channels').update({ cursor: null })
  const shop = await rig.shopOrders()
  await rig.stockShop(shop.map((order) => ({ ...order, note: 'changed again' }) as typeof order))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  expect(await placesOf(own.email, own.street)).toEqual([])
  // As a backup from before has them.
  const [row] = (await rig.gharry.db('orders').whereNotNull('forgotten_at')) as { id: number }[]
  await rig.gharry.db('orders').where({ id: row!.id }).update({ buyer: own.name, email: own.email, forgottenAt: null })
  expect(existsSync(join(rig.env.GHARRY_DATA!, 'forgotten.jsonl'))).toBe(true)
  expect(readFileSync(join(rig.env.GHARRY_DATA!, 'forgotten.jsonl'), 'utf8')).not.toContain(own.name)
  expect(await forgetAgain(rig.gharry)).toBe(1)
  expect(await placesOf(own.email)).toEqual([])
  expect(await forgetAgain(rig.gharry)).toBe(0)
})

test('what is not over is not forgotten; nor what came in since it was looked at', async () => {
  await buyReady(
    rig,
    soundOrders(1).map((order) => ({ ...order, customer: { ...order.customer, email: own.email } })),
  )
  const [id] = await ids()
  expect(await forgetBuyer(rig.gharry, { who: own.email, orders: [id!] })).toMatchObject({
    code: 'under-way',
    sentence: expect.stringContaining('is not over') as string,
  })
  await rig.gharry.db('orders').update({ state: 'delivered' })
  expect(await forgetBuyer(rig.gharry, { who: own.email, orders: [] })).toMatchObject({ code: 'order-moved' })
  expect(await forgetBuyer(rig.gharry, { who: ' ', orders: [] })).toMatchObject({ code: 'bad-value' })
})

test('by their days: the shortest that applies, counted from the delivery; what is open about an order keeps it', async () => {
  const life = [
    { scope: 'all', days: 90 },
    { scope: 'channel tallow-lane', days: 30 },
    { scope: 'country DE', days: 60 },
  ]
  expect(daysFor(life, { channelId: 'mossgill-shop', country: 'BE' })).toBe(90)
  expect(daysFor(life, { channelId: 'tallow-lane', country: 'DE' })).toBe(30)
  expect(daysFor(life, { channelId: 'mossgill-shop', country: 'DE' })).toBe(60)
  expect(daysFor([life[1]!], { channelId: 'mossgill-shop', country: 'DE' })).toBeNull()

  await delivered(3)
  const { db } = rig.gharry
  await setDataLife(db, [{ scope: 'all', days: 20 }])
  expect(await forgetByDays(rig.gharry)).toBe(0)
  const now = rig.gharry.now().getTime()
  const daysAgo = (days: number): string => new Date(now - days * 86_400_000).toISOString()
  await db('orders').update({ placedAt: daysAgo(50) })
  const [first, second, third] = await ids()
  await db('labels').update({ deliveredAt: daysAgo(25) })
  await db('labels')
    .where({ orderId: second })
    .update({ deliveredAt: daysAgo(5) })
  const label = (await db('labels').where({ orderId: third }).first()) as { id: number }
  await db('customer_words').insert({
    orderId: third,
    labelId: label.id,
    kind: 'report',
    about: 'missing',
    text: 'Where is it?',
    at: daysAgo(1),
  })
  await db('orders').whereNotIn('id', [first!, second!, third!]).update({ state: 'dispatched' })
  expect(await forgetByDays(rig.gharry)).toBe(1)
  const left = (await db('orders').whereNull('forgotten_at').select('id')) as { id: number }[]
  expect(left.map(({ id }) => id)).not.toContain(first)
  expect(left).toHaveLength(3)
  await db('customer_words').update({ closedAt: daysAgo(0) })
  expect(await forgetByDays(rig.gharry)).toBe(1)
  expect(await forgetByDays(rig.gharry)).toBe(0)
})

test('days that make no sense are refused; two people at once are told', async () => {
  for (const [after, sentence] of [
    [[{ scope: 'all', days: 0 }], /at least one day/],
    [[{ scope: 'all', days: 99_999 }], /at most/],
    [[{ scope: 'country XX', days: 5 }], /There is no country XX/],
    [[{ scope: 'channel nobody', days: 5 }], /There is no channel nobody/],
    [[{ scope: 'everything', days: 5 }], /There is no everything/],
    [
      [
        { scope: 'all', days: 5 },
        { scope: 'all', days: 6 },
      ],
      /set twice/,
    ],
  ] as const)
    expect(await saveLife(rig.gharry, [], after)).toMatchObject({
      ok: false,
      sentence: expect.stringMatching(sentence) as string,
    })
  expect(
    await saveLife(
      rig.gharry,
      [],
      [
        { scope: 'country DE', days: 60 },
        { scope: 'all', days: 90 },
      ],
    ),
  ).toEqual({ ok: true })
  expect(await saveLife(rig.gharry, [], [{ scope: 'all', days: 10 }])).toMatchObject({ code: 'world-changed' })
  expect((await showPrivacy(rig.gharry)).life).toEqual([
    { scope: 'all', days: 90 },
    { scope: 'country DE', days: 60 },
  ])
})

test('a buyer gets what the books know of them, as a file that says so in the audit', async () => {
  await delivered(2)
  const answer = await exportBuyer(rig.gharry, own.email)
  if (!answer.ok) throw new Error(answer.sentence)
  const given = JSON.parse(answer.content) as { orders: { order: Order; parcels: unknown[]; notices: unknown[] }[] }
  expect(given.orders).toHaveLength(2)
  expect(given.orders[0]!.order.shipTo.lines).toEqual([own.street])
  expect(given.orders[0]!.parcels).toHaveLength(1)
  expect(given.orders[0]!.notices.length).toBeGreaterThan(0)
  const line = (await rig.gharry.db('audit').orderBy('seq', 'desc').first()) as { action: string; after: string }
  expect(line.action).toBe('data of a buyer taken away')
  expect(JSON.stringify(line)).not.toContain('quirinus')
  writeFileSync(join(rig.env.GHARRY_DATA!, answer.name), answer.content)
  expect(await exportBuyer(rig.gharry, 'nobody@post.example')).toMatchObject({ code: 'unknown-order' })
})

test('many orders that may stay longer do not hide those whose days are over', async () => {
  await rig.stockShop(soundOrders(1))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const { db } = rig.gharry
  const [row] = (await db('orders')) as Record<string, unknown>[]
  const longAgo = new Date(rig.gharry.now().getTime() - 100 * 86_400_000).toISOString()
  const { id: _id, ...ended } = { ...row!, state: 'delivered', placedAt: longAgo, country: 'BE' } as Record<
    string,
    unknown
  >
  const rows = Array.from({ length: 5300 }, (_, i) => ({
    ...ended,
    remoteId: `r${i}`,
    country: i < 5200 ? 'BE' : 'DE',
  }))
  await db.transaction(async (trx) => {
    for (let i = 0; i < rows.length; i += 300) await trx('orders').insert(rows.slice(i, i + 300))
  })
  await setDataLife(db, [
    { scope: 'country BE', days: 365 },
    { scope: 'country DE', days: 30 },
  ])
  expect(await forgetByDays(rig.gharry)).toBe(100)
})
