import { s10CheckDigit } from '@/core/papers'
import { type StockRow, addStockMoves, movesOfStock, ordersById, stockAt, stockPage } from '@/data'
import { rulebookInForce } from '../shared/rulebookInForce'
import { buyBatch } from '../dispatch/buyBatch'
import { putParcelAside } from '../dispatch/bench/checkParcel'
import { openParcel } from '../dispatch/bench/openParcel'
import { dispatchBatch } from '../dispatch/dispatchLabels'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { keepStockTold, setChannelStock } from '../dispatch/stock/channelsStock'
import { countByHand, showStock } from '../dispatch/stock/showStock'
import { exportStock, previewStock, takeStockFile } from '../dispatch/stock/stockFile'
import { requestImport } from '../intake/importOrders'
import { recordOwnNumbers } from '../tracking/ownNumbers'
import { buyReady, makeRig, orderTo, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

const sku = 'TLS-TWEEZ'
const orderOf = (id: string, quantity = 1, of = sku): ReturnType<typeof orderTo> => {
  const base = orderTo('BE', {}, id)
  return { ...base, lines: [{ ...base.lines[0]!, id: '1', sku: of, title: 'Tweezers', quantity, tags: [] }] }
}
const count = (onHand: number, of = sku): Promise<object> =>
  countByHand(rig.gharry, { location: 'ghent', sku: of, onHand, note: '' })
const now = async (of = sku): Promise<Pick<StockRow, 'onHand' | 'reserved'> | undefined> => {
  const row = (await stockAt(rig.gharry.db, 'ghent', [of])).get(of)
  return row && { onHand: row.onHand, reserved: row.reserved }
}
async function imported(...orders: ReturnType<typeof orderTo>[]): Promise<number[]> {
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  return (await rig.orders()).map(({ id }) => id)
}
async function buy(ids: readonly number[]) {
  const plan = await planBatch(rig.gharry, ids)
  const answer = await buyBatch(
    rig.gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
  )
  await rig.workAll()
  return { plan, answer }
}
/** The totals are the sums of the moves, whatever happened: read a second time, row by row. */
async function booksAgree(): Promise<void> {
  for (const row of await stockPage(rig.gharry.db, {}, 0, 10_000)) {
    const moves = await movesOfStock(rig.gharry.db, row.location, row.sku, 10_000)
    const sum = (of: 'onHand' | 'reserved'): number => moves.reduce((total, move) => total + move[of], 0)
    expect([row.sku, row.onHand, row.reserved]).toEqual([row.sku, sum('onHand'), sum('reserved')])
  }
}

test('promised when a label is bought, given back when it is voided, gone when it leaves', async () => {
  const ids = await imported(orderOf('A', 2), orderOf('B'), orderOf('C'))
  await count(10)
  const { answer } = await buy(ids)
  expect(answer).toMatchObject({ ok: true, labels: 3 })
  expect(await now()).toEqual({ onHand: 10, reserved: 4 })
  const labels = await rig.labels()
  await requestVoid(rig.gharry, labels[0]!.id)
  await rig.workAll()
  expect(await now()).toEqual({ onHand: 10, reserved: 2 })
  await dispatchBatch(rig.gharry, (answer as { batch: number }).batch)
  await rig.workAll()
  expect(await now()).toEqual({ onHand: 8, reserved: 0 })
  // What had left and is voided all the same, as it fell off the lorry, is on its shelf again.
  await requestVoid(rig.gharry, labels[1]!.id)
  await rig.workAll()
  expect(await now()).toEqual({ onHand: 9, reserved: 0 })
  await booksAgree()
})

test('what is not there is not bought, also by two at once; without a count everything is there', async () => {
  const ids = await imported(orderOf('A'), orderOf('B'), orderOf('C'))
  expect((await planBatch(rig.gharry, ids)).labels).toHaveLength(3)
  // Another SKU is counted: this one is not known to be missing.
  await count(1, 'OTHER')
  expect((await planBatch(rig.gharry, ids)).labels).toHaveLength(3)
  await count(2)
  const plan = await planBatch(rig.gharry, ids)
  expect(plan.labels).toHaveLength(2)
  expect(plan.blocked.map(({ reason }) => reason)).toEqual([
    'Not in stock in Ghent: none of TLS-TWEEZ is free. Count it under Dispatch, Stock, if it is there.',
  ])
  const both = await Promise.all([
    buyBatch(rig.gharry, [ids[0]!, ids[1]!], plan.total),
    planBatch(rig.gharry, [ids[2]!]).then(({ total }) => buyBatch(rig.gharry, [ids[2]!], total)),
  ])
  expect(both.filter(({ ok }) => ok)).not.toHaveLength(2)
  await rig.workAll()
  expect((await now())!.reserved).toBeLessThanOrEqual(2)
  await booksAgree()
})

test('rules know it: the location with stock is another one once the first has run out, and waiting orders follow', async () => {
  const nearest = {
    ...{ id: 'n', stage: 'origin' as const, name: 'Nearest', on: true, when: { all: [] } },
    then: [{ set: 'location', to: 'nearest with stock' }],
  }
  await rig.close()
  rig = await makeRig({ rulebook: { name: 'R', groups: [], rules: [nearest as never] } })
  await count(1)
  await countByHand(rig.gharry, { location: 'poznan', sku, onHand: 5, note: '' })
  const [first, second] = await imported(orderOf('A'), orderOf('B'))
  const where = async (id: number): Promise<string | null> =>
    (await rig.orders()).find((row) => row.id === id)!.location
  expect([await where(first!), await where(second!)]).toEqual(['ghent', 'ghent'])
  await buy([first!])
  await keepStockTold(rig.gharry)
  await rig.workAll()
  expect(await where(second!)).toBe('poznan')
  await requestVoid(rig.gharry, (await rig.labels())[0]!.id)
  await rig.workAll()
  await keepStockTold(rig.gharry)
  await rig.workAll()
  expect(await where(second!)).toBe('ghent')
  expect(
    (await rulebookInForce(rig.gharry))!.ready.world.locations.find(({ id }) => id === 'ghent')!.stock,
  ).toMatchObject({ [sku]: 1 })
})

test('a short pick at the bench empties the shelf in the books; below nothing is said, and counted anew it is right again', async () => {
  const ids = await imported(orderOf('A', 2), orderOf('B'), orderOf('C'))
  await count(9)
  await buy([ids[0]!, ids[1]!])
  const label = (await rig.labels())[0]!
  const opened = await openParcel(rig.gharry, { code: label.trackingNumber!, bench: 'Bench 1', take: false })
  if (!opened.ok) throw new Error(opened.sentence)
  const { check } = opened.view
  const aside = await putParcelAside(rig.gharry, { check, why: 'Its shelf is empty', short: true })
  expect(aside).toMatchObject({ ok: true })
  expect(await now()).toEqual({ onHand: 1, reserved: 3 })
  expect(await showStock(rig.gharry, { only: 'short' }, 0)).toMatchObject({ short: 1, rows: [{ sku, onHand: 1 }] })
  expect((await planBatch(rig.gharry, [ids[2]!])).blocked[0]!.reason).toContain('none of TLS-TWEEZ is free')
  await count(6)
  expect((await planBatch(rig.gharry, [ids[2]!])).labels).toHaveLength(1)
  await booksAgree()
})

test('a file: columns are named, cells that cannot be read are, a half-right one changes nothing; what leaves comes back the same', async () => {
  const file = (text: string): Buffer => Buffer.from(text)
  expect(await previewStock(rig.gharry, file('sku,pieces\nA,1\n'))).toMatchObject({ ok: false, code: 'bad-file' })
  const bad = file(
    'sku,location,on hand\nA,ghent,5\nA,Ghent,6\nB,mars,1\nC,ghent,-1\nD,ghent,1.5\n,ghent,1\nE,ghent,many\n',
  )
  const preview = await previewStock(rig.gharry, bad)
  expect(preview).toMatchObject({ ok: true, counts: 1 })
  expect((preview.ok ? preview.problems : []).map(({ line, column }) => [line, column])).toEqual([
    ...[
      [3, 'sku'],
      [4, 'location'],
      [5, 'on hand'],
      [6, 'on hand'],
      [7, 'sku'],
      [8, 'on hand'],
    ],
  ])
  expect(await takeStockFile(rig.gharry, bad)).toMatchObject({ ok: false, code: 'bad-table' })
  expect(await stockPage(rig.gharry.db, {}, 0, 10)).toEqual([])
  const good = file('sku,location,on hand\n=1+1,ghent,5\nB,Poznań,0\n')
  expect(await previewStock(rig.gharry, good)).toMatchObject({ changes: 2, some: [{ before: null }, { before: null }] })
  expect(await takeStockFile(rig.gharry, good)).toEqual({ ok: true, changes: 2 })
  expect(await takeStockFile(rig.gharry, good)).toEqual({ ok: true, changes: 0 })
  for (const format of ['csv', 'xlsx'] as const)
    expect(await previewStock(rig.gharry, (await exportStock(rig.gharry, format))!)).toMatchObject({
      counts: 2,
      changes: 0,
    })
  expect((await exportStock(rig.gharry, 'csv'))!.toString()).not.toMatch(/^=1/m)
})

test('a channel says what is there; another way round it is told what is free, absolutely, also after faults', async () => {
  expect(
    await setChannelStock(rig.gharry, { channel: 'mossgill-shop', stock: 'says', location: 'mars' }),
  ).toMatchObject({ code: 'unknown-location' })
  await setChannelStock(rig.gharry, { channel: 'mossgill-shop', stock: 'says', location: 'ghent' })
  await rig.ask('shop', '/admin/stock', { [sku]: 7, OTHER: 0 })
  await keepStockTold(rig.gharry)
  expect(await now()).toEqual({ onHand: 7, reserved: 0 })
  await rig.ask('shop', '/admin/stock', { [sku]: 6 })
  await rig.faults('shop', { serverError: 1 })
  await keepStockTold(rig.gharry)
  expect(
    (await showStock(rig.gharry, {}, 0)).channels.find(({ id }) => id === 'mossgill-shop')!.stockProblem,
  ).toContain('500')
  await rig.faults('shop', { serverError: 0 })
  await keepStockTold(rig.gharry)
  expect(await now()).toEqual({ onHand: 6, reserved: 0 })

  await setChannelStock(rig.gharry, { channel: 'mossgill-shop', stock: 'told', location: '' })
  await keepStockTold(rig.gharry)
  const told = (): Promise<Record<string, number>> => rig.ask('shop', '/admin/stock')
  expect(await told()).toEqual({ [sku]: 6, OTHER: 0 })
  await buyReady(rig, [orderOf('A', 2)])
  await rig.faults('shop', { timeOutAfterWork: 1 })
  await keepStockTold(rig.gharry)
  await rig.faults('shop', { timeOutAfterWork: 0 })
  await keepStockTold(rig.gharry)
  expect(await told()).toEqual({ [sku]: 4, OTHER: 0 })
  // More promised than there is: nothing can be sold.
  await count(1)
  await keepStockTold(rig.gharry)
  expect(await told()).toEqual({ [sku]: 0, OTHER: 0 })
})

test('what left under numbers of somebody else has left the stock; the same move is written once', async () => {
  const [id] = await imported(orderOf('A', 3))
  await count(5)
  const number = `CV20000001${s10CheckDigit('20000001')}BE`
  expect(await recordOwnNumbers(rig.gharry, id!, { carrier: '', numbers: [number] })).toMatchObject({ ok: true })
  expect(await now()).toEqual({ onHand: 2, reserved: 0 })
  const move = {
    at: rig.gharry.now().toISOString(),
    location: 'ghent',
    sku,
    kind: 'returned' as const,
    onHand: 1,
    reserved: 0,
    labelId: null,
    note: '',
    author: 'A',
    key: 'once',
  }
  await addStockMoves(rig.gharry.db, [move])
  await addStockMoves(rig.gharry.db, [move])
  expect(await now()).toEqual({ onHand: 3, reserved: 0 })
  expect((await ordersById(rig.gharry.db, [id!]))[0]!.order.items[0]!.quantity).toBe(3)
  await booksAgree()
})
