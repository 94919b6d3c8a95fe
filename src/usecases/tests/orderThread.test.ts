import { shopRawOrder } from '@/adapters'
import type { RawOrder } from '@/core/order'
import type { Rule } from '@/core/rulebook/language'
import {
  addChannel,
  addImport,
  openStates,
  readDraft,
  setCorrection,
  takeDue,
  type Database,
  type ImportRow,
} from '@/data'
import { orderThread, makeReady, type OrderThread } from '@/usecases/intake/orderThread'
import { orderIn, type Ready, readyOrders } from '@/usecases/intake/readyOrders'
import { storeOrders } from '@/usecases/intake/storeOrders'
import { publishDraft, saveDraft } from '@/usecases/rules/editRulebook'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { demoOrders } from '../../../demo/orders'
import { demoRulebook } from '../../../demo/rulebook'
import { demoWorld } from '../../../demo/world'
import { makeRig, type Rig } from './rig'
import { workerScript } from './builtPrograms'

let rig: Rig
let thread: OrderThread
beforeEach(async () => {
  rig = await makeRig({ rulebook: demoRulebook, world: demoWorld })
  thread = orderThread(workerScript(), rig.gharry.settings.books)
})
afterEach(async () => {
  await thread.end()
  await rig.close()
})

/** Orders of all kinds: with doubtful addresses, with problems, of many countries; some named twice. */
function kindsOfOrders(count: number): RawOrder[] {
  const orders: RawOrder[] = []
  for (const order of demoOrders('large', 3, '2026-11-20')) {
    orders.push(shopRawOrder(order)!)
    if (orders.length === count) break
  }
  const again = orders
    .slice(0, 5)
    .map((order) => ({ ...order, changedAt: '2026-11-21T09:00:00Z', status: 'cancelled' }))
  const wished = orders.slice(5, 8).map((order) => ({ ...order, wishes: { weight: 900 } }))
  return [...orders.slice(0, 5), ...wished, ...orders.slice(8), ...again] as RawOrder[]
}

/** All that is compared is done at the same moment. */
let moment: Date

const tables = ['orders', 'order_facts', 'order_items', 'order_tags', 'decisions', 'hand_pins', 'order_log']

/** What storing would leave in the books, and what it says. Nothing stays. */
async function books(raw: readonly RawOrder[], made: Ready | null): Promise<unknown> {
  const inForce = (await rulebookInForce(rig.gharry))!
  const back = new Error('nothing stays')
  let found: unknown
  await rig.gharry.db
    .transaction(async (trx) => {
      const counts = await storeOrders(trx, 'mossgill-shop', raw, inForce, moment, made)
      found = { counts, rows: await Promise.all(tables.map((table) => rowsOf(trx, table))) }
      throw back
    })
    .catch((error: unknown) => {
      if (error !== back) throw error
    })
  return found
}
/** Rows as texts. Numbers that were given once are not given again on every database: orders are counted anew. */
async function rowsOf(db: Database, table: string): Promise<unknown[]> {
  const ids = await db('orders').orderBy('id').pluck<number[]>('id')
  const place = new Map(ids.map((id, i) => [id, i + 1]))
  const rows = (await db(table)) as { id?: number; orderId?: number }[]
  return rows.map(({ id, orderId, ...row }) => JSON.stringify({ ...row, order: place.get(orderId ?? id ?? 0) })).sort()
}

test('what another thread makes ready is what the own one would have made, to the last value', async () => {
  rig.realTime()
  moment = rig.gharry.now()
  const raw = kindsOfOrders(420)
  const { db } = rig.gharry
  const inForce = (await rulebookInForce(rig.gharry))!
  // Some orders are known, and of those some have changed; one address was corrected before, one was wanted as it is.
  await db.transaction((trx) => storeOrders(trx, 'mossgill-shop', raw.slice(300, 360), inForce, rig.gharry.now()))
  const next = raw.map((order, i) => (i > 350 && i < 356 ? { ...order, message: 'By Friday, please' } : order))
  const doubtful = readyOrders(next.slice(0, 300), 'mossgill-shop', inForce).filter(({ doubt }) => doubt)
  const [first, second] = doubtful.map((one) => ({ doubt: one.doubt!, shipTo: orderIn(one).shipTo }))
  await setCorrection(
    db,
    first!.doubt,
    { ...first!.shipTo, city: 'Ghent', postcode: '9000', country: 'BE' },
    'Ilse',
    '',
  )
  await setCorrection(db, second!.doubt, null, 'Ilse', '')

  const made = (await thread.ready('mossgill-shop', next, moment))!
  expect(made.orders).toHaveLength(420)
  expect(made.orders.filter(({ decided }) => decided)).toHaveLength(360)
  const alone = await books(next, null)
  expect(await books(next, made)).toEqual(alone)
  expect(alone).toMatchObject({ counts: { fetched: 425, created: 360, updated: 5, cancelled: 5 } })
})

test('what was made ready by a rulebook that is not in force any more is made anew', async () => {
  rig.realTime()
  moment = rig.gharry.now()
  const raw = kindsOfOrders(60)
  const made = (await thread.ready('mossgill-shop', raw, moment))!
  const draft = (await readDraft(rig.gharry.db))!
  const hold: Rule = {
    id: 'all wait',
    stage: 'triage',
    name: 'All wait',
    on: true,
    when: { all: [] },
    then: [{ set: 'hold', to: 'until Ilse has seen it' }],
  }
  const saved = await saveDraft(
    rig.gharry,
    { ...draft.rulebook, rules: [hold, ...draft.rulebook.rules] },
    draft.revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  expect(await publishDraft(rig.gharry, saved.revision, '')).toMatchObject({ ok: true })
  const alone = await books(raw, null)
  expect(await books(raw, made)).toEqual(alone)
  expect(JSON.stringify(alone)).toContain('until Ilse has seen it')
  // The thread knows of it at once.
  expect(await thread.ready('mossgill-shop', raw, rig.gharry.now())).toMatchObject({ edition: 2 })
})

test('a thread that cannot begin, or has ended, holds up no import: orders are made ready without it', async () => {
  const broken = orderThread(new URL('file:///nowhere/worker.mjs'), rig.gharry.settings.books)
  expect(await makeReady({ ...rig.gharry, orderThread: broken }, 'mossgill-shop', kindsOfOrders(60))).toBeNull()
  expect(await thread.ready('mossgill-shop', kindsOfOrders(60), rig.gharry.now())).not.toBeNull()
  await thread.end()
  expect(await thread.ready('mossgill-shop', kindsOfOrders(60), rig.gharry.now())).not.toBeNull()
  await rig.gharry.db('editions').delete()
  expect(await makeReady({ ...rig.gharry, orderThread: thread }, 'mossgill-shop', kindsOfOrders(60))).toBeNull()
})

test('files of one channel come in one after the other, those of several at once', async () => {
  const { db } = rig.gharry
  const now = rig.gharry.now()
  const ids: number[] = []
  for (const id of ['desk', 'lane'])
    await addChannel(db, { ...{ id, name: id, kind: 'files' }, ...{ tellWhen: 'bought', everyMinutes: 0 } })
  for (const channelId of ['desk', 'desk', 'lane', 'desk'])
    ids.push(await addImport(db, { channelId, kind: 'file' }, now.toISOString()))
  const take = async (): Promise<number[]> =>
    (await takeDue<ImportRow>(db, 'imports', { states: openStates.imports }, now, 5, 60)).map(({ id }) => id)
  expect(await take()).toEqual([ids[0], ids[2]])
  expect(await take()).toEqual([])
  await db('imports').where({ id: ids[0] }).update({ state: 'done' })
  expect(await take()).toEqual([ids[1]])
  await db('imports').where({ id: ids[1] }).update({ state: 'failed' })
  expect(await take()).toEqual([ids[3]])
})
