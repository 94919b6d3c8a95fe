import { requestImport } from '@/usecases/intake/importOrders'
import { countByHand } from '@/usecases/dispatch/stock/showStock'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import { topUp } from '@/usecases/ledger/balances'
import { requestVoid } from '@/usecases/dispatch/voidLabel'
import { makeRig, soundOrders, type Rig } from '../src/usecases/tests/rig'
import { nothingYet, type Promised } from './acts'
import { compareBooks, type Books } from './books'

/*
 * The campaign's comparison must be able to fail: each thing that can be lost, doubled, silent or stuck is made so by
 * hand.
 */

let rig: Rig
let books: Books
let promised: Promised
beforeAll(async () => {
  rig = await makeRig()
  const stocked = soundOrders(6)
  await rig.stockShop(stocked)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  for (const sku of new Set(stocked.flatMap(({ lines }) => lines.map((line) => line.sku))))
    await countByHand(rig.gharry, { location: 'ghent', sku, onHand: 50, note: '' })
  const plan = await planBatch(rig.gharry, ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: 6 })
  await rig.workAll()
  const [first] = await rig.labels()
  expect(await requestVoid(rig.gharry, first!.id)).toMatchObject({ ok: true })
  expect(await topUp(rig.gharry, first!.carrier, 12_300, 'campaign-1')).toMatchObject({ ok: true })
  await rig.workAll()
  const { db } = rig.gharry
  const labels = await rig.labels()
  const theirs = await rig.carrierLabels()
  const carriers = new Map(
    [...new Set(labels.map(({ carrier }) => carrier))].map((carrier) => [
      carrier,
      theirs.filter(({ trackingNumber }) =>
        labels.some((label) => label.carrier === carrier && label.trackingNumber === trackingNumber),
      ),
    ]),
  )
  books = {
    db,
    labels,
    carriers,
    toppedUp: new Map([...carriers.keys()].map((carrier) => [carrier, carrier === first!.carrier ? 12_300 : 0])),
    news: new Map(),
    shop: new Map((await rig.shopOrders()).map((order) => [order.id, order])),
    mails: await rig.mails(),
    orders: await rig.orders(),
    parcels: await db('label_parcels'),
    posts: await db('posts'),
    notices: await db('notices'),
  }
  promised = { ...nothingYet(), stocked, bought: new Set(ids) }
})
afterAll(() => rig.close())

test('sound books agree', async () => {
  expect(books.labels.filter(({ state }) => state === 'bought')).toHaveLength(5)
  expect(await compareBooks(books, promised)).toEqual([])
})

const without = <T>(list: readonly T[]): readonly T[] => list.slice(0, -1)
const last = <T>(list: readonly T[]): T => list[list.length - 1]!
const changed = <T>(list: readonly T[], change: Partial<T>): readonly T[] => [
  ...without(list),
  { ...last(list), ...change },
]
const shopWith = (change: (order: ReturnType<Books['shop']['get']> & object) => object): Books['shop'] =>
  new Map([...books.shop].map(([id, order], i) => [id, i === 3 ? { ...order, ...change(order) } : order]))
const carriersWith = (change: (list: readonly never[]) => readonly unknown[]): Books['carriers'] =>
  new Map([...books.carriers].map(([id, list], i) => [id, (i === 0 ? change(list as never) : list) as typeof list]))

test.each<[string, () => Partial<Books>, RegExp]>([
  ['an order is lost', () => ({ orders: without(books.orders) }), /0 times|in the books/],
  ['an order is there twice', () => ({ orders: [...books.orders, { ...last(books.orders), id: 99 }] }), /2 times/],
  [
    'a label is bought twice',
    () => ({ carriers: carriersWith((list) => [...list, { ...(last(list) as object), trackingNumber: 'X' }]) }),
    /2 times|no book has/,
  ],
  ['a carrier charged something else', () => ({ labels: changed(books.labels, { charged: 1 }) }), /cost/],
  ['a label is voided here only', () => ({ labels: changed(books.labels, { state: 'voided' }) }), /voided here/],
  ['a promised label is gone', () => ({ labels: without(books.labels) }), /promised/],
  [
    'the shop was told twice',
    () => ({ shop: shopWith(({ fulfilments }) => ({ fulfilments: [...fulfilments, ...fulfilments] })) }),
    /twice/,
  ],
  ['the shop was not told', () => ({ shop: shopWith(() => ({ fulfilments: [] })) }), /not told/],
  [
    'a withdrawal is missing',
    () => ({
      shop: new Map(
        [...books.shop].map(([id, order]) => [
          id,
          { ...order, fulfilments: order.fulfilments.map((fulfilment) => ({ ...fulfilment, withdrawn: false })) },
        ]),
      ),
    }),
    /what travels is/,
  ],
  [
    'a change after the purchase is silent',
    () => ({
      shop: shopWith(({ ship_to: to }) => ({ ship_to: { ...(to as object), city: 'Elsewhere' } })),
      orders: books.orders.map((row) => ({ ...row, city: books.shop.get(row.remoteId)!.ship_to.city })),
    }),
    /nothing says so/,
  ],
  ['a letter never came', () => ({ mails: without(books.mails) }), /no inbox has it/],
  ['a letter is stuck', () => ({ notices: changed(books.notices, { state: 'waiting' }) }), /nobody wrote/],
  ['a letter belongs to nobody', () => ({ notices: [] }), /no notice/],
  ['a post is stuck', () => ({ posts: changed(books.posts, { state: 'queued' }) }), /still waits/],
  [
    'a delivery is not known',
    () => ({ news: new Map(books.parcels.map(({ trackingNumber }) => [trackingNumber!, 'delivered'])) }),
    /at its carrier/,
  ],
  [
    'a top-up is paid and not booked',
    () => ({ toppedUp: new Map([...books.toppedUp].map(([id, sum]) => [id, sum + 500])) }),
    /top-ups/,
  ],
])('%s', async (_, wrong, said) => {
  expect((await compareBooks({ ...books, ...wrong() }, promised)).join('\n')).toMatch(said)
})

test('a count of the Desk that is not what the orders say is found', async () => {
  const [row] = (await books.db('order_counts').where('n', '>', 0).limit(1)) as { state: string; n: number }[]
  await books
    .db('order_counts')
    .where(row!)
    .update({ n: row!.n + 1 })
  expect((await compareBooks(books, promised)).join('\n')).toMatch(/^the count of orders .* there are/)
  await books
    .db('order_counts')
    .where({ ...row!, n: row!.n + 1 })
    .update({ n: row!.n })
  expect(await compareBooks(books, promised)).toEqual([])
})

test('what was promised is looked for', async () => {
  const faults = (
    await compareBooks(books, {
      ...promised,
      published: [7],
      handedOver: new Set([last(books.labels).id]),
      pins: [{ order: 1, value: 'note 5' }],
    })
  ).join('\n')
  for (const said of [/edition 7 was promised/, /handed over, and the books forgot it/, /the pin of order 1 is gone/])
    expect(faults).toMatch(said)
})

test('stock that is lost, or promised to nobody, is said', async () => {
  const { db } = rig.gharry
  const held = db('stock_held').where({ state: 'held' }).limit(1).select('label_id')
  expect(await held.clone()).toHaveLength(1)
  for (const [change, back, said] of [
    [{ onHand: db.raw('on_hand - 1') }, { onHand: db.raw('on_hand + 1') }, /onHand is 49, its moves come to 50/],
    [{ reserved: db.raw('reserved + 1') }, { reserved: db.raw('reserved - 1') }, /are promised, labels hold/],
  ] as const) {
    await db('stock').update(change)
    expect((await compareBooks(books, promised)).join('\n')).toMatch(said)
    await db('stock').update(back)
  }
  const [{ labelId }] = (await held) as [{ labelId: number }]
  await db('stock_held').where({ labelId }).update({ state: 'back' })
  expect((await compareBooks(books, promised)).join('\n')).toMatch(/as back, it is held/)
  await db('stock_held').where({ labelId }).update({ state: 'held' })
  expect(await compareBooks(books, promised)).toEqual([])
})
