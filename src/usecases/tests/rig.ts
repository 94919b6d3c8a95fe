import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { type AddressInfo, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { FastifyInstance } from 'fastify'
import type { Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { addEdition, addWorld, openDatabase, replaceDraft, type LabelRow, type OrderRow } from '@/data'
import { buyBatch } from '@/usecases/dispatch/buyBatch'
import { planBatch } from '@/usecases/dispatch/planBatch'
import type { PrintFile } from '@/usecases/dispatch/printBatch'
import { requestImport } from '@/usecases/intake/importOrders'
import { openApplication, type Application, type Refused } from '@/usecases/shared/application'
import { saveConnection } from '@/usecases/intake/connections'
import { workLong, workOnce } from '@/usecases/worker/work'
import { connectDemo } from '../../../demo/connect'
import { demoItems } from '../../../demo/items'
import { demoOrders } from '../../../demo/orders'
import { demoRulebook } from '../../../demo/rulebook'
import { demoWorld } from '../../../demo/world'
import { carrierSettings, carrierStandIn, type CarrierLabel } from '../../../standins/carrier'
import { demoCarriers } from '../../../demo/carriers'
import { mailStandIn, type StoredMail } from '../../../standins/mail'
import { textsStandIn, type StoredText } from '../../../standins/texts'
import { textsCredentials } from '../../../demo/texts'
import { shopStandIn, type ShopOrder } from '../../../standins/channels/shop'
import { freshPostgres } from './freshPostgres'

/**
 * A whole little world for one test file: real stand-in servers, a real database file, and a clock that can be put
 * forward.
 */
export interface Rig {
  readonly gharry: Application
  readonly env: Record<string, string>
  readonly shopUrl: string
  /** Where each carrier's stand-in is. */
  readonly carrierUrls: ReadonlyMap<string, string>
  readonly put: (minutes: number) => void
  /** Sets the clock back to the real time, as other processes have it. */
  readonly realTime: () => void
  readonly stockShop: (orders: readonly ShopOrder[]) => Promise<void>
  readonly faults: (which: string, faults: object) => Promise<void>
  readonly received: (which: string) => Promise<{ method: string; url: string; key: string; status: number }[]>
  readonly shopOrders: () => Promise<ShopOrder[]>
  readonly carrierLabels: () => Promise<CarrierLabel[]>
  readonly mails: () => Promise<StoredMail[]>
  readonly texts: () => Promise<StoredText[]>
  /** Asks a stand-in for something, or tells it. */
  readonly ask: <T>(which: string, path: string, body?: unknown) => Promise<T>
  readonly nextDay: () => Promise<void>
  /** Works until nothing is due any more, putting the clock forward past every back-off. */
  readonly workAll: () => Promise<void>
  readonly orders: () => Promise<OrderRow[]>
  readonly labels: () => Promise<LabelRow[]>
  /** The shop is at another address from now on. */
  readonly shopAt: (address: string) => Promise<void>
  /** Connects an account of a carrier, which a stand-in of the demo plays. */
  readonly connectCarrier: (carrier: string, standIn: string) => Promise<void>
  /** Writes down how calls went, as it is done every few seconds. */
  readonly note: () => Promise<void>
  readonly close: () => Promise<void>
}

/** What a test wants otherwise than usual. */
interface Wishes {
  readonly rulebook?: Rulebook
  readonly world?: World
  readonly env?: Record<string, string>
  readonly unconnected?: boolean
  readonly empty?: boolean
  /** Where letters that come back go to. */
  readonly bouncePort?: number
  /** The gateway for text messages is connected. */
  readonly texts?: boolean
}

const carrierIds = demoCarriers.map(({ id }) => id)

export async function makeRig(more: Wishes = {}): Promise<Rig> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-test-'))
  const { apps, urls, smtpPort } = await startWorld(more.bouncePort ?? 0)
  const env = {
    GHARRY_DATA: folder,
    GHARRY_URL: 'http://gharry.example',
    GHARRY_PRIVATE_ADDRESSES: 'yes',
    GHARRY_PAUSE_MS: '1',
    GHARRY_SMTP_PORT: String(smtpPort),
    GHARRY_LOG: 'silent',
    GHARRY_CALL_TIMEOUT_MS: '1500',
    GHARRY_LEASE_SECONDS: '2',
    GHARRY_NOTICE_WAIT_SECONDS: '30',
    ...more.env,
  }
  const postgres = await freshPostgres()
  if (postgres) Object.assign(env, { GHARRY_DATABASE: postgres.address })
  else await freshDatabase(join(folder, 'gharry.db'))
  const opened = await openApplication(env)
  let ahead = 0
  // The clock of this little world is put forward: that is no fault of the machine.
  const gharry: Application = { ...opened, now: () => new Date(Date.now() + ahead), readOnly: () => null }
  const addresses = new Map(carrierIds.map((id) => [id, urls[id]!]))
  if (!more.empty) await furnish(gharry, more, urls, addresses)
  const ask = <T>(which: string, path: string, body?: unknown): Promise<T> => askAt<T>(`${urls[which]}${path}`, body)
  return {
    gharry,
    env,
    shopUrl: urls.shop!,
    carrierUrls: addresses,
    put: (minutes) => void (ahead += minutes * 60_000),
    realTime: () => void (ahead = 0),
    stockShop: async (orders) => void (await ask('shop', '/admin/orders', orders)),
    faults: async (which, faults) => void (await ask(which, '/admin/faults', faults)),
    received: (which) => ask(which, '/admin/received'),
    shopOrders: () => ask('shop', '/admin/orders'),
    carrierLabels: async () =>
      (await Promise.all(carrierIds.map((id) => ask<CarrierLabel[]>(id, '/admin/labels')))).flat(),
    texts: () => ask('texts', '/admin/texts'),
    ask,
    mails: () => ask('mail', '/admin/mails'),
    nextDay: async () => {
      for (const carrier of carrierIds) await ask(carrier, '/admin/clock', { days: 1 })
    },
    workAll: () => workAll(gharry, (ms) => (ahead += ms)),
    orders: () => gharry.db('orders').orderBy('id'),
    labels: () => gharry.db('labels').orderBy('id'),
    shopAt: (address) =>
      connectDemo(gharry, { shop: { address, key: 'k', secret: 's' }, carriers: new Map(), token: 't' }),
    connectCarrier: async (carrier, standIn) => {
      const settings = { address: urls[standIn]!, token: 't' }
      const input = { role: 'carrier', kind: 'json-labels', name: carrier, carrier, settings, on: true } as const
      const saved = await saveConnection(gharry, null, input)
      if (!saved.ok) throw new Error(saved.sentence)
    },
    note: () => gharry.noteCalls(),
    close: async () => {
      await gharry.close()
      await postgres?.drop()
      for (const app of Object.values(apps)) await app.close()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

/** The world outside: stand-ins of a shop, all carriers, mail and text messages, and where they are. */
async function startWorld(bouncePort: number): Promise<{
  readonly apps: Readonly<Record<string, FastifyInstance>>
  readonly urls: Readonly<Record<string, string>>
  readonly smtpPort: number
}> {
  const shop = shopStandIn({
    file: ':memory:',
    key: 'k',
    secret: 's',
    name: 'Shop',
    shippingMethods: ['Standard'],
    products: demoItems.slice(0, 2).map(({ sku, title, price, weight, size, tags }) => ({
      ...{ sku, title, price, weight_grams: weight, size_mm: [...size], tags: [...tags] },
      ...{ un_number: '', hs_code: '', origin: '' },
    })),
  })
  const carriers = Object.fromEntries(
    carrierIds.map((id) => [id, carrierStandIn(carrierSettings(id, ':memory:', 't')).app]),
  )
  const mail = mailStandIn(':memory:', bouncePort)
  const texts = textsStandIn({ file: ':memory:', token: textsCredentials.token })
  const apps = { shop: shop.app, ...carriers, mail: mail.app, texts: texts.app }
  const urls: Record<string, string> = {}
  for (const [name, app] of Object.entries(apps)) urls[name] = await app.listen({ host: '127.0.0.1', port: 0 })
  await new Promise<void>((resolve) => void mail.smtp.listen(0, '127.0.0.1', resolve))
  return { apps, urls, smtpPort: (mail.smtp.server.address() as AddressInfo).port }
}

/** The demo's world and rulebook, connected to the stand-ins. */
async function furnish(
  gharry: Application,
  { rulebook = demoRulebook, world = demoWorld, unconnected, texts }: Wishes,
  urls: Readonly<Record<string, string>>,
  carriers: ReadonlyMap<string, string>,
): Promise<void> {
  const at = gharry.now().toISOString()
  await addWorld(gharry.db, world, at)
  await addEdition(gharry.db, rulebook, '', 'test', at)
  await replaceDraft(gharry.db, rulebook, 0, at)
  await connectDemo(gharry, {
    shop: { address: urls.shop!, key: 'k', secret: 's' },
    carriers: unconnected ? new Map() : carriers,
    token: 't',
    ...(texts ? { texts: urls.texts! } : {}),
  })
}

async function askAt<T>(address: string, body: unknown): Promise<T> {
  const post = { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }
  return (await (await fetch(address, body === undefined ? undefined : post)).json()) as T
}

async function workAll(gharry: Application, putForward: (ms: number) => void): Promise<void> {
  // Eleven quiet minutes are longer than any back-off; the first steps are short, as most of what waits does not wait
  // long.
  for (let quietMs = 0, rounds = 0; quietMs < 660_000 && rounds < 5000; rounds++) {
    const worked = (await workLong(gharry)) || (await workOnce(gharry))
    const step = quietMs < 120_000 ? 61_000 : 275_000
    quietMs = worked ? 0 : quietMs + step
    if (!worked) putForward(step)
  }
}

let migrated: Buffer | null = null
/** A database with all migrations. They take a third of a second, so a test file has them once. */
async function freshDatabase(file: string): Promise<void> {
  if (migrated === null) {
    const db = await openDatabase(file)
    await db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
    await db.destroy()
    migrated = readFileSync(file)
  } else writeFileSync(file, migrated)
}

/** What was printed; a test that gets a refusal fails with its sentence. */
export function isPrinted(file: PrintFile | Refused | null): PrintFile {
  if (file === null || 'code' in file) throw new Error(file?.sentence ?? 'nothing was printed')
  return file
}

/** Orders of the demo's generator that nothing is wrong with, as the shop sends them. */
export function soundOrders(count: number): ShopOrder[] {
  const made: ShopOrder[] = []
  for (const order of demoOrders('large', 11, '2026-11-20')) {
    const sound =
      order.ship_to.street.length === 1 &&
      /\d/.test(order.ship_to.street[0]!) &&
      order.ship_to.country === 'BE' &&
      /^\d{4}$/.test(order.ship_to.postcode) &&
      !order.ship_to.street[0]!.startsWith('Postbus') &&
      order.lines.every(
        (line) =>
          line.weight_grams > 0 &&
          line.weight_grams < 5000 &&
          line.un_number === '' &&
          !line.tags.includes('glass') &&
          Math.max(...line.size_mm) < 600,
      ) &&
      order.customer.email !== ''
    if (sound) made.push({ ...order, lines: order.lines.slice(0, 1).map((line) => ({ ...line, quantity: 1 })) })
    if (made.length === count) break
  }
  return made
}

/** A port of the loopback that nobody uses. */
export const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => resolve(port))
    })
  })

const streets: Readonly<Record<string, readonly [street: string, postcode: string, city: string]>> = {
  BE: ['Coupure Links 88', '9000', 'Gent'],
  NL: ['Oudegracht 12', '3511 AB', 'Utrecht'],
  DE: ['Lindenstraße 4', '30159', 'Hannover'],
  FR: ['Rue Nationale 9', '59000', 'Lille'],
  PL: ['Długa 7', '60-101', 'Poznań'],
}
/** One order to an address, with what is to be different. */
export function orderTo(country: string, more: Partial<ShopOrder['customer']> = {}, id = 'N-1'): ShopOrder {
  const [base] = soundOrders(1)
  const [street, postcode, city] = streets[country]!
  return {
    ...base!,
    ...{ id, number: id, payment: 'card' },
    customer: { ...base!.customer, email: 'ada@post.example', phone: '', ...more },
    ship_to: {
      ...base!.ship_to,
      name: 'Ada Sample',
      company: '',
      street: [street],
      postcode,
      city,
      region: '',
      country,
    },
  }
}

/** Imports orders of the shop and buys the labels of all that are ready; gives the batch. */
export async function buyReady(rig: Rig, orders: readonly ShopOrder[]): Promise<number> {
  await rig.stockShop(orders)
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  const plan = await planBatch(
    rig.gharry,
    (await rig.orders()).map(({ id }) => id),
  )
  const answer = await buyBatch(
    rig.gharry,
    plan.labels.map(({ order }) => order),
    plan.total,
  )
  if (!answer.ok) throw new Error(answer.sentence)
  await rig.workAll()
  return answer.batch
}
