import { learnSilence, type BoardFilter, type BoardRow } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { requestVoid } from '../dispatch/voidLabel'
import { requestImport } from '../intake/importOrders'
import { takeNews } from '../tracking/followParcels'
import { showBoard, spreadBoard } from '../tracking/showBoard'
import { makeRig, soundOrders, type Rig } from './rig'

/* Where parcels on their way are: held to the books of labels and parcels after every kind of news. */

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
})
afterEach(() => rig.close())

async function bought(count: number): Promise<BoardRow[]> {
  await rig.stockShop(soundOrders(count))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  const plan = await planBatch(rig.gharry, ids)
  expect(await buyBatch(rig.gharry, ids, plan.total)).toMatchObject({ ok: true, labels: count })
  await rig.workAll()
  return [...(await board()).rows]
}
const board = (filter: BoardFilter = {}) => showBoard(rig.gharry, filter, { column: 'due', down: false }, 0, 100)
const needs = async () => (await spreadBoard(rig.gharry, {})).needs
let told = 0
const tell = (row: BoardRow, status: string, minutesAgo = 0): Promise<void> =>
  rig.gharry.db.transaction((trx) =>
    takeNews({ ...rig.gharry, db: trx }, trx, row.carrier, [
      {
        id: `e${++told}`,
        trackingNumber: row.trackingNumber,
        at: new Date(rig.gharry.now().getTime() - minutesAgo * 60_000).toISOString(),
        status: status as 'collected',
        place: '',
        text: status,
      },
    ]),
  )
/** What a reader of the books alone would put on the board. */
async function fromTheBooks(): Promise<string[]> {
  const rows = (await rig.gharry
    .db('labels')
    .join('label_parcels', 'label_parcels.label_id', 'labels.id')
    .where('labels.state', 'bought')
    .select({ number: 'label_parcels.tracking_number', status: 'label_parcels.status' })) as {
    number: string
    status: string
  }[]
  return rows
    .filter(({ status }) => status !== 'delivered')
    .map(({ number, status }) => `${number} ${status}`)
    .sort()
}
const onTheBoard = async (): Promise<string[]> =>
  (await board()).rows.map(({ trackingNumber, status }) => `${trackingNumber} ${status}`).sort()

test('a parcel comes onto the board when it is bought, goes along with its news, and leaves when it is delivered or voided', async () => {
  const rows = await bought(3)
  expect(rows.map(({ status }) => status)).toEqual(['announced', 'announced', 'announced'])
  const [first, second, third] = rows
  await tell(first!, 'collected', 30)
  await tell(first!, 'in transit', 20)
  // Told late, and twice: what was seen before the last news changes nothing.
  await tell(first!, 'collected', 40)
  await tell(second!, 'collected', 30)
  await tell(second!, 'delivered', 1)
  expect(await requestVoid(rig.gharry, third!.labelId)).toMatchObject({ ok: true })
  await rig.workAll()
  expect(await onTheBoard()).toEqual([`${first!.trackingNumber} in transit`])
  expect(await onTheBoard()).toEqual(await fromTheBooks())
  await tell(first!, 'delivery failed')
  await tell(first!, 'returned')
  expect(await onTheBoard()).toEqual(await fromTheBooks())
  expect((await needs()).returned).toBe(1)
  // A delivery that comes back is on the board again.
  await tell(second!, 'returned')
  expect(await onTheBoard()).toEqual(await fromTheBooks())
})

test('announced and never collected, silent, late, at customs: each is said, and found by its filter', async () => {
  const rows = await bought(4)
  await tell(rows[0]!, 'collected')
  await tell(rows[1]!, 'held at customs')
  await tell(rows[2]!, 'waiting to be fetched')
  expect(await needs()).toMatchObject({ 'never collected': 0, silent: 0 })
  rig.put(9 * 24 * 60)
  expect(await needs()).toEqual({
    ...{ 'never collected': 1, silent: 3, late: 4, 'held at customs': 1, 'waiting to be fetched': 1 },
    ...{ 'delivery failed': 0, returned: 0, lost: 0, 'late and not told': 4, 'the customer wrote': 0 },
  })
  for (const need of ['never collected', 'silent', 'held at customs'] as const)
    expect((await board({ need })).total).toBe((await needs())[need])
  expect((await board({ need: 'never collected' })).rows[0]!.trackingNumber).toBe(rows[3]!.trackingNumber)
  expect((await board({ search: rows[2]!.trackingNumber.replace(/(.{5})/g, '$1 ') })).total).toBe(1)
  expect((await board({ search: rows[2]!.number })).total).toBe(1)
  // A sign of patterns is a sign as all others.
  expect((await board({ search: '%' })).total).toBe(0)
  expect((await board({ search: rows[2]!.number.toLowerCase() })).total).toBe(1)
  const ofAll = await spreadBoard(rig.gharry, { carriers: [...new Set(rows.map(({ carrier }) => carrier))] })
  expect(ofAll.needs).toEqual(await needs())
  expect((await board({ statuses: ['collected'], carriers: ['nobody'] })).total).toBe(0)
  const { status } = await spreadBoard(rig.gharry, { statuses: ['collected'] })
  expect(status.map(({ value }) => value).sort()).toEqual([
    ...['announced', 'collected', 'held at customs', 'waiting to be fetched'],
  ])
})

test('how long a lane is usually silent is learned from what was delivered: 95 of 100 pauses are not longer', async () => {
  const [row] = await bought(1)
  const { db } = rig.gharry
  const at = (hours: number): string => new Date(Date.parse('2026-11-01T00:00:00Z') + hours * 3_600_000).toISOString()
  // Forty pauses of 10 h, one of 50 h and one of 200 h, on the lane of the parcel.
  const pauses = [...Array.from({ length: 40 }, () => 10), 50, 200]
  let now = 0
  const events = [0, ...pauses].map((pause, i) => ({
    ...{ labelId: row!.labelId, remoteId: `l${i}`, status: 'in transit', place: '', text: '' },
    at: at((now += pause)),
  }))
  await db('tracking_events').where({ labelId: row!.labelId }).delete()
  await db('tracking_events').insert(events)
  await db('labels')
    .where({ id: row!.labelId })
    .update({ deliveredAt: at(now) })
  await learnSilence(db, '2026-01-01', 100)
  expect(await db('lane_silence')).toEqual([{ service: row!.service, zone: row!.zone, hours: 24, seen: 42 }])
  await db('tracking_events').insert([1, 2].map((i) => ({ ...events[0]!, remoteId: `m${i}`, at: at(now + 60 * i) })))
  await learnSilence(db, '2026-01-01', 100)
  // 44 pauses: the 42nd in order of length is 60 h.
  expect(await db('lane_silence')).toMatchObject([{ hours: 60, seen: 44 }])
})

test('a parcel for which no day was promised or foreseen is not late, and comes behind the others', async () => {
  const rows = await bought(2)
  const { db } = rig.gharry
  const [first] = rows
  await db('orders').where({ id: first!.orderId }).update({ promisedBy: '' })
  await db('labels').where({ id: first!.labelId }).update({ arrivesOn: null })
  await tell(first!, 'collected')
  rig.put(60 * 24 * 60)
  const all = (await board()).rows
  expect(all.at(-1)).toMatchObject({ labelId: first!.labelId, due: null })
  expect((await board({ need: 'late' })).rows.map(({ labelId }) => labelId)).toEqual([rows[1]!.labelId])
})
