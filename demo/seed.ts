import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { shopRawOrder } from '@/adapters'
import type { Agreement } from '@/core/collections'
import {
  accountSums,
  addEdition,
  addEvents,
  addJob,
  addLabelParcels,
  addLedger,
  addManifest,
  addRefund,
  addToManifest,
  addWorld,
  analyse,
  book,
  changeChannel,
  changeManifest,
  countStock,
  insertPastLabels,
  newestWorld,
  replaceDraft,
  ordersById,
  outcomesOf,
  putOnBoard,
  setCarrierAccount,
  setState,
  seeToStale,
  staleSkus,
  type Database,
  type LabelParcel,
  type LedgerEntry,
} from '@/data'
import { pictureItems } from './itemPictures'
import { openApplication, type Application } from '@/usecases/shared/application'
import { saveAgreements } from '@/usecases/dispatch/collections/agreements'
import { saveWaves } from '@/usecases/dispatch/waves'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { learnWorld } from '@/usecases/worker/learnWorld'
import { saveConnection } from '@/usecases/intake/connections'
import { storeOrders } from '@/usecases/intake/storeOrders'
import type { CarrierLabel } from '../standins/carrier'
import { carrierHabits } from '../standins/carrier/habits'
import type { ShopOrder } from '../standins/channels/shop'
import { authoriseLane } from './authorise'
import { connectDemo } from './connect'
import { comingBack } from './comingBack'
import { withCounter } from './counter'
import { deskFiles } from './deskFiles'
import { asLaneOrder } from './laneOrders'
import { asQuillOrder } from './quillOrders'
import { demoOrders, orderCounts, type DemoSize } from './orders'
import {
  daysOfVoids,
  type Fate,
  fateOf,
  hadVoid,
  numberOfPast,
  pastLabel,
  type PastLabel,
  type PastOrder,
} from './past'
import { giveFace } from './face'
import { post } from './post'
import { addDemoPeople } from './staff'
import { withReturnRules } from './returns'
import { demoRulebook } from './rulebook'
import { demoWorld } from './world'

/**
 * Fills an empty Gharry and the stand-ins with the demo's world: orders of the past with their labels and spend, and
 * the orders of the last two days in the shop, from where the first import fetches them.
 */
const size: DemoSize = process.argv.includes('large') ? 'large' : 'small'
/** How many orders wait at the marketplaces. */
const laneCounts: Readonly<Record<DemoSize, number>> = { small: 60, large: 600 }
const quillCounts: Readonly<Record<DemoSize, number>> = { small: 40, large: 400 }
const seed = Number(process.env.GHARRY_DEMO_SEED ?? 7)
const shopUrl = process.env.GHARRY_SHOP_URL ?? 'http://127.0.0.1:4610'
const laneUrl = process.env.GHARRY_LANE_URL ?? 'http://127.0.0.1:4618'
const quillUrl = process.env.GHARRY_QUILL_URL ?? 'http://127.0.0.1:4619'
const deskUrl = process.env.GHARRY_DESK_URL ?? 'http://127.0.0.1:4620'
const warehouseUrl = process.env.GHARRY_WAREHOUSE_URL ?? 'http://127.0.0.1:4623'
/** An SFTP server says the fingerprint of its own key. */
const hostKeyOf = async (url: string): Promise<string> =>
  ((await (await fetch(`${url}/admin/key`)).json()) as { fingerprint: string }).fingerprint
const carrierUrls = new Map(
  (
    process.env.GHARRY_CARRIER_URLS ??
    'heron=http://127.0.0.1:4611,corvid=http://127.0.0.1:4612,northlight=http://127.0.0.1:4614,skua=http://127.0.0.1:4615,bramble=http://127.0.0.1:4616,dray=http://127.0.0.1:4617'
  )
    .split(',')
    .map((pair) => pair.split('=') as [string, string]),
)
const standIns = {
  shop: {
    address: shopUrl,
    key: process.env.GHARRY_SHOP_KEY ?? 'demo-key',
    secret: process.env.GHARRY_SHOP_SECRET ?? 'demo-secret',
  },
  lane: laneUrl,
  quill: quillUrl,
  desk: { port: process.env.GHARRY_SFTP_PORT ?? '4622', hostKey: await hostKeyOf(deskUrl) },
  texts: process.env.GHARRY_TEXTS_URL ?? 'http://127.0.0.1:4627',
  warehouse: { port: process.env.GHARRY_WAREHOUSE_SFTP_PORT ?? '4624', hostKey: await hostKeyOf(warehouseUrl) },
  carriers: carrierUrls,
  token: process.env.GHARRY_CARRIER_TOKEN ?? 'demo-carrier-token',
}
const gharry = await openApplication()
const start = gharry.now()
const anchor = start.toISOString().slice(0, 10)

if ((await gharry.db('editions').first()) !== undefined) {
  await connectDemo(gharry, standIns)
} else {
  // Should this be killed, the next start sees that the world is half made.
  const half = join(process.env.GHARRY_DATA ?? 'data', 'seeding')
  writeFileSync(half, '')
  await foundations(gharry)
  const began = Date.now()
  const past = Math.floor((orderCounts[size] * 5) / 6)
  let made = 0
  let portion: ShopOrder[] = []
  for (const order of demoOrders(size, seed, anchor, start.getTime())) {
    portion.push(order)
    made++
    if (portion.length < 500 && made !== past && made !== orderCounts[size]) continue
    if (made <= past) await storePast(gharry, portion)
    else await post(`${shopUrl}/admin/orders`, portion)
    if (made === past) await learnWorld(gharry)
    if (made === past) await openingBalances(gharry)
    if (made === past)
      await changeChannel(gharry.db, 'mossgill-shop', {
        cursor: Buffer.from(`seq:${past}`).toString('base64url'),
        lastImportAt: null,
      })
    portion = []
    if (made % 10_000 === 0) console.log(`  ${made} orders …`)
  }
  await post(`${laneUrl}/admin/orders`, young(1, laneCounts).map(asLaneOrder))
  await post(`${quillUrl}/admin/orders`, young(2, quillCounts).map(asQuillOrder))
  await post(`${quillUrl}/admin/habits`, { to: `${gharry.settings.publicUrl}/api/hooks/quillmart` })
  for (const file of deskFiles(anchor)) await post(`${deskUrl}/admin/files`, file)
  await authoriseLane(gharry)
  await comingBack(gharry, carrierUrls)
  await countAll(gharry)
  await addJob(gharry.db, 'count flow', 'flow-1', { edition: 1 }, gharry.now().toISOString())
  await analyse(gharry.db)
  rmSync(half)
  console.log(`  ${made} orders in ${((Date.now() - began) / 1000).toFixed(1)} s`)
}
await gharry.close()

/** The youngest orders of a marketplace's own buyers: they wait there for the first import. */
function young(which: number, counts: Readonly<Record<DemoSize, number>>): ShopOrder[] {
  return [...demoOrders('small', seed + which, anchor, start.getTime())].slice(-counts[size])
}

/** A moment of this morning; now, where a demo begins before it. */
function thisMorning(time: string): string {
  const at = `${anchor}T${time}:00.000Z`
  return at < start.toISOString() ? at : start.toISOString()
}

/** What stands in Ghent and Poznań, counted this morning: enough of everything, so that nothing of the demo waits. */
async function countAll(gharry: Application): Promise<void> {
  const { world } = (await newestWorld(gharry.db))!
  const at = thisMorning('05:40')
  for (const location of ['ghent', 'poznan'])
    await countStock(
      gharry.db,
      location,
      world.items.map(({ sku }, i) => ({ sku, onHand: 2000 + ((i * 137 + location.length * 61) % 1900) })),
      { at, kind: 'count', note: 'the morning count', author: 'Demo' },
    )
  await seeToStale(gharry.db, await staleSkus(gharry.db, 100_000))
}

async function foundations(gharry: Application): Promise<void> {
  const { db } = gharry
  const at = gharry.now().toISOString()
  await addWorld(db, withCounter(demoWorld), at)
  await addDemoPeople(db, at)
  await addEdition(db, withReturnRules(demoRulebook), 'The rulebook the demo begins with', 'Demo', at)
  // After the first edition: connecting a partner changes the world, which would make an empty one.
  await connectDemo(gharry, standIns, { everyMinutes: 1 })
  const counter = {
    role: 'carrier',
    kind: 'counter',
    name: 'Counter',
    carrier: 'counter',
    settings: {},
    on: true,
  } as const
  const connected = await saveConnection(gharry, null, counter)
  if (!connected.ok) throw new Error(connected.sentence)
  await giveFace(gharry)
  await pictureItems(gharry)
  await replaceDraft(db, withReturnRules(demoRulebook), 0, at)
  await gather(gharry)
  await agree(gharry)
  await learnWorld(gharry)
}

/** Whose drivers come by themselves, and who is asked for each day. */
async function agree(gharry: Application): Promise<void> {
  const workdays = { weekdays: [1, 2, 3, 4, 5], notes: '' }
  const agreements: Agreement[] = [
    {
      ...{ ...workdays, id: 'heron-ghent', carrier: 'heron', location: 'ghent', unasked: true },
      ...{ from: '16:30', until: '17:30', place: 'Door 2' },
    },
    {
      ...{ ...workdays, id: 'corvid-ghent', carrier: 'corvid', location: 'ghent', unasked: true },
      ...{ from: '15:30', until: '16:00', place: 'Door 1' },
    },
    {
      ...{ ...workdays, id: 'northlight-ghent', carrier: 'northlight', location: 'ghent', unasked: false },
      ...{ from: '15:00', until: '18:00', place: 'Door 2' },
    },
    {
      ...{ ...workdays, id: 'heron-poznan', carrier: 'heron', location: 'poznan', unasked: false },
      ...{ from: '14:00', until: '18:00', place: 'Gate B', notes: 'Report at the porter’s lodge' },
    },
  ]
  const saved = await saveAgreements(gharry, { version: 0, agreements })
  if (!saved.ok) throw new Error(saved.sentence)
}

/** How the demo's orders are gathered into waves. */
async function gather(gharry: Application): Promise<void> {
  const any = { locations: [], carriers: [], priorities: [], singles: 0, most: 120 }
  const rules = [
    { ...any, id: 'urgent', name: 'Urgent', priorities: ['urgent'] },
    { ...any, id: 'freight', name: 'Pallets and long goods', carriers: ['bramble'] },
    { ...any, id: 'singles', name: 'One piece each', singles: 5, most: 60 },
  ]
  const saved = await saveWaves(gharry, { version: 0, rules })
  if (!saved.ok) throw new Error(saved.sentence)
}

/** Orders of the past: routed as of their day, labelled at the routed cost, delivered, and in the stand-ins' books. */
async function storePast(gharry: Application, orders: readonly ShopOrder[]): Promise<void> {
  const { db } = gharry
  const inForce = (await rulebookInForce(gharry))!
  const days = new Map<string, ShopOrder[]>()
  for (const order of orders)
    days.set(order.placed_at.slice(0, 10), [...(days.get(order.placed_at.slice(0, 10)) ?? []), order])
  for (const [day, list] of days) {
    await db.transaction(async (trx) => {
      await storeOrders(
        trx,
        'mossgill-shop',
        list.map((order) => shopRawOrder(order)!),
        inForce,
        new Date(`${day}T09:00:00Z`),
      )
      const rows = (await trx('orders')
        .whereIn(
          'remote_id',
          list.map((order) => order.id),
        )
        .whereIn('state', ['ready', 'held', 'attention'])) as PastOrder[]
      const done = rows.filter((row) => row.service !== null)
      await setState(
        trx,
        rows.filter((row) => row.service === null).map((row) => row.id),
        'cancelled',
      )
      const fates = done.map((row) => fateOf(row, day, seed, anchor))
      const labels = done.map((row, i) => pastLabel(row, day, seed, fates[i]!))
      const known = await reportedOf(trx, done)
      const ids = await insertPastLabels(
        trx,
        labels.map((label, i) => ({ ...label, ...known[i] })),
      )
      const parcels = await packedAs(trx, done, ids, fates)
      await addEvents(
        trx,
        fates.flatMap(({ news }, i) =>
          news.map((one, k) => ({ labelId: ids[i]!, position: 0, remoteId: `past-${done[i]!.id}-${k}`, ...one })),
        ),
      )
      await addLabelParcels(trx, parcels)
      await putOnBoard(trx, ids)
      await addLedger(
        trx,
        labels.map((label, i): LedgerEntry => ({
          labelId: ids[i]!,
          kind: 'buy',
          at: label.boughtAt,
          day,
          carrier: label.carrier,
          service: label.service,
          zone: label.zone,
          amount: label.charged,
        })),
      )
      const stateOf = ({ status, forgotten }: Fate): 'delivered' | 'labelled' | 'dispatched' => {
        if (forgotten) return 'labelled'
        return status === 'delivered' ? 'delivered' : 'dispatched'
      }
      for (const state of ['delivered', 'labelled', 'dispatched'] as const)
        await setState(
          trx,
          done.filter((_, i) => stateOf(fates[i]!) === state).map((row) => row.id),
          state,
        )
      await voidPast(trx, day, done, labels)
      await handOverPast(trx, day, labels, ids, parcels, fates)
      await tellStandIns(list, done, labels, parcels, fates)
    })
  }
}

/** What reports ask of past shipments, as they were decided. */
async function reportedOf(trx: Database, rows: readonly PastOrder[]): Promise<Record<string, unknown>[]> {
  const ids = rows.map(({ id }) => id)
  const outcomes = await outcomesOf(trx, ids)
  const orders = new Map((await ordersById(trx, ids)).map(({ id, order }) => [id, order]))
  return rows.map(({ id }) => {
    const outcome = outcomes.get(id)
    const by = outcome?.trail.decisions.find(({ decision }) => decision === 'picks')?.by
    return {
      weight: (outcome?.parcels ?? []).reduce((sum, { weight }) => sum + weight, 0),
      listPrice: outcome?.quote?.list ?? null,
      buyerPaid: orders.get(id)?.shippingPaid.minor ?? null,
      rule: by?.kind === 'rule' ? by.rule : '',
    }
  })
}

/** Labels that were bought first and voided: their refunds are on their way, some later than was promised. */
async function voidPast(
  trx: Database,
  day: string,
  rows: readonly PastOrder[],
  labels: readonly PastLabel[],
): Promise<void> {
  if (Date.parse(anchor) - Date.parse(day) > daysOfVoids * 86_400_000) return
  const at = `${day}T09:30:00.000Z`
  const first = labels.flatMap((label, i) =>
    hadVoid(rows[i]!, seed)
      ? [
          {
            ...label,
            ...{ key: `${label.key}-void`, token: `v${label.token}`.slice(0, 24), state: 'voided', voidedAt: at },
            trackingNumber: numberOfPast(rows[i]!, 9),
          },
        ]
      : [],
  )
  const ids = await insertPastLabels(trx, first)
  await trx('labels').whereIn('id', ids).update({ dispatchedAt: null, deliveredAt: null, status: null })
  const entries = first.flatMap(({ carrier, service, zone, charged }, i): LedgerEntry[] => {
    const of = { labelId: ids[i]!, at, day, carrier, service, zone }
    return [
      { ...of, kind: 'buy', amount: charged },
      { ...of, kind: 'refund pending', amount: -charged },
    ]
  })
  await addLedger(trx, entries)
  for (const [i, { carrier, charged }] of first.entries())
    await addRefund(trx, {
      ...{ labelId: ids[i]!, carrier, amount: charged, voidedAt: at },
      ...{ dueOn: new Date(Date.parse(at) + 14 * 86_400_000).toISOString().slice(0, 10), nextAsk: null },
    })
}

/** The manifests of the last days, with who took them. */
async function handOverPast(
  trx: Database,
  day: string,
  labels: readonly PastLabel[],
  ids: readonly number[],
  parcels: readonly LabelParcel[],
  fates: readonly Fate[],
): Promise<void> {
  if (Date.parse(anchor) - Date.parse(day) > 6 * 86_400_000) return
  const drivers = ['Ilse Maes', 'Tomasz Lis', 'Jo Peeters', 'Ewa Nowak']
  const ways = new Map<string, number[]>()
  labels.forEach(({ carrier, location }, i) => {
    if (fates[i]!.forgotten) return
    const key = `${String(carrier)} ${String(location)}`
    ways.set(key, [...(ways.get(key) ?? []), ids[i]!])
  })
  for (const [way, some] of ways) {
    const [carrier = '', location = ''] = way.split(' ')
    const closedAt = `${day}T15:45:00.000Z`
    const reference = `M-${day}-${carrier}-${location}`
    const id = await addManifest(trx, { carrier, location, reference, author: 'Demo' }, `${day}T14:50:00.000Z`, true)
    await addToManifest(
      trx,
      id,
      parcels.filter(({ labelId }) => some.includes(labelId)),
      { containerId: null, scanned: true, at: closedAt, author: 'Demo' },
    )
    const driver = drivers[id % drivers.length]!
    const confirmation = `MF${610_000 + id}`
    await changeManifest(trx, id, ['kept'], { closedAt, driver, state: 'sent', sentAt: closedAt, confirmation })
  }
}

/** The parcels of past orders as they were decided. */
async function packedAs(
  trx: Database,
  rows: readonly PastOrder[],
  labels: readonly number[],
  fates: readonly Fate[],
): Promise<LabelParcel[]> {
  const outcomes = await outcomesOf(
    trx,
    rows.map(({ id }) => id),
  )
  return rows.flatMap((row, i) =>
    (outcomes.get(row.id)?.parcels ?? []).map(({ preset, weight, size, contents }, k): LabelParcel => ({
      labelId: labels[i]!,
      position: k + 1,
      preset,
      weight,
      size,
      contents,
      trackingNumber: numberOfPast(row, k + 1),
      symbology: carrierHabits[row.carrier]!.symbology,
      routing: row.zone,
      returnNumber: null,
      status: fates[i]!.status,
    })),
  )
}

/** What was sent to the carriers before: enough for the labels of the past, and a balance to go on with. */
async function openingBalances({ db }: Application): Promise<void> {
  const at = thisMorning('05:00')
  for (const { carrier, account, amount } of await accountSums(db))
    if (account === 'balance')
      await book(db, [
        {
          key: `top-up-opening-${carrier}`,
          at,
          day: anchor,
          kind: 'top-up',
          carrier,
          debit: 'balance',
          credit: 'bank',
          amount: Math.ceil(-amount / 50_000) * 50_000 + 100_000,
          labelId: null,
          author: 'Demo',
          note: 'Balance to begin with',
        },
      ])
  await setCarrierAccount(db, { carrier: 'heron', mark: 50_000, topUpBy: 150_000 })
}

async function tellStandIns(
  orders: readonly ShopOrder[],
  done: readonly PastOrder[],
  labels: readonly PastLabel[],
  parcels: readonly LabelParcel[],
  fates: readonly Fate[],
): Promise<void> {
  const ofLabel = new Map<number, LabelParcel[]>()
  for (const parcel of parcels) ofLabel.set(parcel.labelId, [...(ofLabel.get(parcel.labelId) ?? []), parcel])
  const sets = [...ofLabel.values()]
  const byRemote = new Map(
    done.map((row, i) => [row.remoteId, { label: labels[i]!, parcels: sets[i]!, fate: fates[i]! }]),
  )
  await post(
    `${shopUrl}/admin/orders`,
    orders.map((order): ShopOrder => {
      const sent = byRemote.get(order.id)
      return sent
        ? {
            ...order,
            status: 'fulfilled',
            fulfilments: sent.parcels.map((parcel) => ({
              id: `f-${order.id}-${parcel.position}`,
              key: `past-${order.id}-${parcel.position}`,
              lines: parcel.contents.map(({ item, quantity }) => ({ line: order.lines[item]!.id, quantity })),
              carrier: sent.label.carrier,
              tracking_number: parcel.trackingNumber!,
              tracking_url: '',
              at: sent.label.boughtAt,
              withdrawn: false,
            })),
          }
        : { ...order, status: 'cancelled' }
    }),
  )
  for (const [carrier, url] of carrierUrls) {
    const own = [...byRemote.values()].filter(({ label }) => label.carrier === carrier)
    await post(
      `${url}/admin/labels`,
      own.map(({ label, parcels: of, fate }): CarrierLabel & { transitDays?: number } => ({
        trackingNumber: of[0]!.trackingNumber!,
        parcels: of.map((parcel) => ({
          trackingNumber: parcel.trackingNumber!,
          symbology: parcel.symbology!,
          routing: '',
        })),
        charged: { minor: label.charged, currency: 'EUR' },
        key: label.key,
        state: 'bought',
        boughtAt: label.boughtAt,
        shipOn: label.boughtAt.slice(0, 10),
        released: fate.status === 'delivered' ? 5 : fate.news.length + 1,
        ...(fate.goesOn ? { transitDays: transitOf(label) } : {}),
        service: label.service,
        reference: '',
      })),
    )
  }
}

/** The days from the purchase to a day after the one that was foreseen: until then the carrier tells of it. */
function transitOf({ boughtAt, arrivesOn }: PastLabel): number {
  return Math.max(1, Math.ceil((Date.parse(`${String(arrivesOn)}T12:00:00Z`) - Date.parse(boughtAt)) / 86_400_000))
}
