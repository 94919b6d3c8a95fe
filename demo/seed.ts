import { createHash } from 'node:crypto'
import { gs1CheckDigit, s10CheckDigit } from '@/core/papers'
import { shopRawOrder } from '@/adapters'
import { addChannel, addEdition, addJob, addLedger, addWorld, analyse, changeChannel, insertPastLabels, replaceDraft, setState, type LedgerEntry } from '@/data'
import { openGharry, type Gharry } from '@/usecases/gharry'
import { rulebookInForce } from '@/usecases/rulebookInForce'
import { storeOrders } from '@/usecases/storeOrders'
import type { CarrierLabel } from '../standins/carrier'
import type { ShopOrder } from '../standins/shop'
import { demoOrders, orderCounts, type DemoSize } from './orders'
import { demoRulebook } from './rulebook'
import { demoWorld } from './world'

/**
 * Fills an empty Gharry and the stand-ins with the demo's world: orders of the past with their labels and spend, and
 * the orders of the last two days in the shop, from where the first import fetches them.
 */
const size: DemoSize = process.argv.includes('large') ? 'large' : 'small'
const seed = Number(process.env.GHARRY_DEMO_SEED ?? 7)
const shopUrl = process.env.GHARRY_SHOP_URL ?? 'http://127.0.0.1:4610'
const carrierUrls = new Map((process.env.GHARRY_CARRIER_URLS ?? 'heron=http://127.0.0.1:4611,corvid=http://127.0.0.1:4612').split(',').map((pair) => pair.split('=') as [string, string]))
const shopChannel = { id: 'mossgill-shop', name: 'Mossgill Shop', kind: 'shop', base_url: shopUrl, tell_when: 'bought', every_minutes: 1 } as const
const gharry = await openGharry()
const anchor = gharry.now().toISOString().slice(0, 10)

if ((await gharry.db('editions').first()) !== undefined) {
  await addChannel(gharry.db, shopChannel)
} else {
  await foundations(gharry)
  const began = Date.now()
  const past = Math.floor((orderCounts[size] * 5) / 6)
  let made = 0
  let portion: ShopOrder[] = []
  for (const order of demoOrders(size, seed, anchor)) {
    portion.push(order)
    made++
    if (portion.length < 500 && made !== past && made !== orderCounts[size]) continue
    if (made <= past) await storePast(gharry, portion)
    else await post(`${shopUrl}/admin/orders`, portion)
    if (made === past) await changeChannel(gharry.db, 'mossgill-shop', { cursor: Buffer.from(`seq:${past}`).toString('base64url'), last_import_at: null })
    portion = []
    if (made % 10_000 === 0) console.log(`  ${made} orders …`)
  }
  await addJob(gharry.db, 'count flow', 'flow-1', { edition: 1 }, gharry.now().toISOString())
  await analyse(gharry.db)
  console.log(`  ${made} orders in ${((Date.now() - began) / 1000).toFixed(1)} s`)
}
await gharry.close()

async function foundations({ db, now }: Gharry): Promise<void> {
  const at = now().toISOString()
  await addChannel(db, shopChannel)
  await addChannel(db, { id: 'trade-desk', name: 'Trade Desk', kind: 'file', base_url: '', tell_when: 'dispatched', every_minutes: 0 })
  await addWorld(db, demoWorld, at)
  await addEdition(db, demoRulebook, 'The rulebook the demo begins with', 'Demo', at)
  await replaceDraft(db, demoRulebook, 0, at)
}

/** Orders of the past: routed as of their day, labelled at the routed cost, delivered, and in the stand-ins' books. */
async function storePast(gharry: Gharry, orders: readonly ShopOrder[]): Promise<void> {
  const { db } = gharry
  const inForce = (await rulebookInForce(gharry))!
  const days = new Map<string, ShopOrder[]>()
  for (const order of orders) days.set(order.placed_at.slice(0, 10), [...(days.get(order.placed_at.slice(0, 10)) ?? []), order])
  for (const [day, list] of days) {
    await db.transaction(async (trx) => {
      await storeOrders(trx, 'mossgill-shop', list.map((order) => shopRawOrder(order)!), inForce, new Date(`${day}T09:00:00Z`))
      const rows = (await trx('orders').whereIn('remote_id', list.map((order) => order.id)).whereIn('state', ['ready', 'held', 'attention'])) as { id: number; remote_id: string; state: string; carrier: string; service: string; zone: string; location: string; cost: number; arrives_on: string }[]
      const done = rows.filter((row) => row.service !== null)
      await setState(trx, rows.filter((row) => row.service === null).map((row) => row.id), 'cancelled')
      const labels = done.map((row) => pastLabel(row, day))
      const ids = await insertPastLabels(trx, labels)
      await addLedger(trx, labels.map((label, i): LedgerEntry => ({ label_id: ids[i]!, kind: 'buy', at: label.bought_at, day, carrier: label.carrier, service: label.service, zone: label.zone, amount: label.charged })))
      await setState(trx, done.map((row) => row.id), 'delivered')
      await tellStandIns(list, done, labels)
    })
  }
}

function pastLabel(row: { id: number; carrier: string; service: string; zone: string; location: string; cost: number; arrives_on: string }, day: string): Record<string, string | number> & { bought_at: string; charged: number; carrier: string; service: string; zone: string; tracking_number: string; key: string } {
  const at = `${day}T10:00:00.000Z`
  const serial = String(row.id).padStart(9, '0')
  const digits = `35490000${serial}`
  const number = row.carrier === 'heron' ? `00${digits}${gs1CheckDigit(digits)}` : `CV1${serial.slice(-7)}${s10CheckDigit(`1${serial.slice(-7)}`)}BE`
  return {
    order_id: row.id, position: 0, key: `past-${row.id}-label`, token: createHash('sha256').update(`${seed} ${row.id}`).digest('base64url').slice(0, 24), state: 'bought', carrier: row.carrier, service: row.service, zone: row.zone, location: row.location,
    request: '{}', quoted: row.cost, charged: row.cost, tracking_number: number, symbology: row.carrier === 'heron' ? 'gs1-128' : 'code128', routing: row.zone, made_at: at, bought_at: at, dispatched_at: at,
    delivered_at: `${row.arrives_on}T13:00:00.000Z`, printed_at: at, status: 'delivered', arrives_on: row.arrives_on, next_at: at,
  }
}

async function tellStandIns(orders: readonly ShopOrder[], done: readonly { remote_id: string; carrier: string }[], labels: readonly ReturnType<typeof pastLabel>[]): Promise<void> {
  const byRemote = new Map(done.map((row, i) => [row.remote_id, labels[i]!]))
  await post(`${shopUrl}/admin/orders`, orders.map((order): ShopOrder => {
    const label = byRemote.get(order.id)
    return label
      ? { ...order, status: 'fulfilled', fulfilments: [{ id: `f-${order.id}`, key: `past-${order.id}`, lines: order.lines.map(({ id, quantity }) => ({ line: id, quantity })), carrier: label.carrier, tracking_number: label.tracking_number, tracking_url: '', at: label.bought_at, withdrawn: false }] }
      : { ...order, status: 'cancelled' }
  }))
  for (const [carrier, url] of carrierUrls) {
    const own = labels.filter((label) => label.carrier === carrier)
    await post(`${url}/admin/labels`, own.map((label): CarrierLabel => ({ trackingNumber: label.tracking_number, symbology: carrier === 'heron' ? 'gs1-128' : 'code128', routing: '', charged: { minor: label.charged, currency: 'EUR' }, key: label.key, state: 'bought', boughtAt: label.bought_at, released: 5, service: label.service, reference: '' })))
  }
}

async function post(url: string, body: unknown): Promise<void> {
  const response = await fetch(url, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
  if (!response.ok) throw new Error(`${url} answered ${response.status}`)
}
