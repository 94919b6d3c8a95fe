import { once } from 'node:events'
import { join } from 'node:path'
import { demoItems } from '../demo/items'
import { demoCarriers } from '../demo/carriers'
import { carrierSettings, carrierStandIn } from './carrier'
import { directoryStandIn } from './directory'
import { mailStandIn } from './mail'
import { laneApplication, laneCarriers } from '../demo/laneOrders'
import { quillCredentials } from '../demo/quillOrders'
import { deskCredentials } from '../demo/deskFiles'
import { deskStandIn } from './channels/desk'
import { warehouseCredentials } from '../demo/warehouse'
import { warehouseStandIn } from './warehouse'
import { identityStandIn } from './identity'
import { demoKnown } from '../demo/known'
import { laneStandIn } from './channels/lane'
import { printersStandIn } from './printers'
import { scaleStandIn } from './scale'
import { listen } from './server'
import { quillStandIn } from './channels/quill'
import { shopStandIn } from './channels/shop'
import { textsStandIn } from './texts'
import { textsCredentials } from '../demo/texts'

/** Starts one stand-in, whose name is given. Ports and folder come from the environment. */
const which = process.argv[2]
const folder = join(process.env.GHARRY_DATA ?? 'data', 'standins')
const port = (name: string, fallback: number): number => Number(process.env[name] ?? fallback)

const carrierPorts = [4611, 4612, 4614, 4615, 4616, 4617]

const local = (name: string, fallback: number): string => `http://127.0.0.1:${port(name, fallback)}`

/** Where the others are. */
const addresses = (): Parameters<typeof directoryStandIn>[0] => ({
  shop: local('GHARRY_SHOP_PORT', 4610),
  shopKey: process.env.GHARRY_SHOP_KEY ?? 'demo-key',
  shopSecret: process.env.GHARRY_SHOP_SECRET ?? 'demo-secret',
  lane: local('GHARRY_LANE_PORT', 4618),
  quill: local('GHARRY_QUILL_PORT', 4619),
  desk: local('GHARRY_DESK_PORT', 4620),
  sftpPort: String(port('GHARRY_SFTP_PORT', 4622)),
  warehouse: local('GHARRY_WAREHOUSE_PORT', 4623),
  warehousePort: String(port('GHARRY_WAREHOUSE_SFTP_PORT', 4624)),
  texts: local('GHARRY_TEXTS_PORT', 4627),
  carriers: new Map(demoCarriers.map(({ id }, i) => [id, local(`GHARRY_${id.toUpperCase()}_PORT`, carrierPorts[i]!)])),
  carrierToken: process.env.GHARRY_CARRIER_TOKEN ?? 'demo-carrier-token',
})

interface Running {
  readonly close: () => Promise<unknown>
}

/** A second door, beside its pages: of SFTP or of mail. */
async function second(name: string, variable: string, listening: Promise<unknown>): Promise<void> {
  await listening.catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EADDRINUSE') throw error
    console.error(`${name}: its port is taken. Stop what uses it, or set ${variable} to another port.`)
    process.exit(1)
  })
}

async function shop(): Promise<Running> {
  const { app } = shopStandIn({
    file: join(folder, 'shop.db'),
    key: process.env.GHARRY_SHOP_KEY ?? 'demo-key',
    secret: process.env.GHARRY_SHOP_SECRET ?? 'demo-secret',
    name: 'Mossgill Shop',
    shippingMethods: ['Free', 'Standard', 'Exp. 2-day', 'Priority 1-day'],
    products: demoItems.map(({ sku, title, price, weight, size, tags, dangerousGoods, hsCode, origin }) => ({
      ...{ sku, title, price, origin, weight_grams: weight, size_mm: [...size], tags: [...tags] },
      ...{ un_number: dangerousGoods, hs_code: hsCode },
    })),
  })
  await listen(app, port('GHARRY_SHOP_PORT', 4610), 'The shop', 'GHARRY_SHOP_PORT')
  return app
}

async function lane(): Promise<Running> {
  const own = port('GHARRY_LANE_PORT', 4618)
  const { app } = laneStandIn({
    file: join(folder, 'lane.db'),
    name: 'Tallow Lane',
    address: process.env.GHARRY_LANE_URL ?? `http://127.0.0.1:${own}`,
    application: {
      ...laneApplication,
      name: 'Gharry',
      back: `${process.env.GHARRY_URL ?? 'http://127.0.0.1:4600'}/api/intake/connections/callback`,
    },
    carriers: laneCarriers,
  })
  await listen(app, own, 'Tallow Lane', 'GHARRY_LANE_PORT')
  return app
}

async function identity(): Promise<Running> {
  const own = port('GHARRY_IDENTITY_PORT', 4630)
  const { app } = identityStandIn({
    ...{ name: 'Mossgill accounts', address: `http://127.0.0.1:${own}`, people: demoKnown },
    client: {
      ...{ id: 'gharry', secret: 'demo-provider-secret' },
      back: `${process.env.GHARRY_URL ?? 'http://127.0.0.1:4600'}/api/people/provider/callback`,
    },
  })
  await listen(app, own, 'Mossgill accounts', 'GHARRY_IDENTITY_PORT')
  return app
}

async function quill(): Promise<Running> {
  const { app } = quillStandIn({ file: join(folder, 'quill.db'), name: 'Quillmart', ...quillCredentials })
  await listen(app, port('GHARRY_QUILL_PORT', 4619), 'Quillmart', 'GHARRY_QUILL_PORT')
  return app
}

async function desk(): Promise<Running> {
  const { app, listen: listenSftp } = deskStandIn({ folder: join(folder, 'desk'), ...deskCredentials })
  await second('The SFTP server', 'GHARRY_SFTP_PORT', listenSftp(port('GHARRY_SFTP_PORT', 4622)))
  await listen(app, port('GHARRY_DESK_PORT', 4620), 'Trade Desk', 'GHARRY_DESK_PORT')
  return app
}

async function warehouse(): Promise<Running> {
  const { app, listen: listenSftp } = warehouseStandIn({ folder: join(folder, 'warehouse'), ...warehouseCredentials })
  const sftp = 'GHARRY_WAREHOUSE_SFTP_PORT'
  await second('The partner’s SFTP server', sftp, listenSftp(port(sftp, 4624)))
  await listen(app, port('GHARRY_WAREHOUSE_PORT', 4623), 'The partner’s warehouse', 'GHARRY_WAREHOUSE_PORT')
  return app
}

async function carriers(): Promise<Running> {
  const token = process.env.GHARRY_CARRIER_TOKEN ?? 'demo-carrier-token'
  const apps: Running[] = []
  for (const [i, { id, name }] of demoCarriers.entries()) {
    const { app } = carrierStandIn(carrierSettings(id, join(folder, `${id}.db`), token))
    const variable = `GHARRY_${id.toUpperCase()}_PORT`
    await listen(app, port(variable, carrierPorts[i]!), name, variable)
    apps.push(app)
  }
  const directory = directoryStandIn(addresses())
  if (process.env.GHARRY_DIRECTORY_PORT)
    await listen(directory, port('GHARRY_DIRECTORY_PORT', 4609), 'The directory', 'GHARRY_DIRECTORY_PORT')
  return { close: () => Promise.all([directory, ...apps].map((app) => app.close())) }
}

async function texts(): Promise<Running> {
  const { app } = textsStandIn({ file: join(folder, 'texts.db'), token: textsCredentials.token })
  await listen(app, port('GHARRY_TEXTS_PORT', 4627), 'Text messages', 'GHARRY_TEXTS_PORT')
  return app
}

async function printers(): Promise<Running> {
  const { app, raw } = printersStandIn(join(folder, 'printers.db'))
  const scale = scaleStandIn(app)
  await listen(app, port('GHARRY_PRINTERS_PORT', 4629), 'The printers', 'GHARRY_PRINTERS_PORT')
  raw.listen(port('GHARRY_RAW_PRINTER_PORT', 4631), '127.0.0.1')
  scale.listen(port('GHARRY_SCALE_PORT', 4632), '127.0.0.1')
  return app
}

async function mail(): Promise<Running> {
  const { app, smtp } = mailStandIn(join(folder, 'mail.db'), port('GHARRY_BOUNCE_PORT', 0))
  await listen(app, port('GHARRY_MAIL_PORT', 4613), 'The inbox', 'GHARRY_MAIL_PORT')
  smtp.listen(port('GHARRY_SMTP_PORT', 4625), '127.0.0.1')
  await second('The mail server', 'GHARRY_SMTP_PORT', once(smtp.server, 'listening'))
  return app
}

const standIns: Readonly<Record<string, () => Promise<Running>>> = {
  ...{ shop, lane, identity, quill, desk, warehouse, carriers, texts, printers, mail },
}
const begin = standIns[which ?? '']
if (!begin) {
  console.error(`Say which stand-in: ${Object.keys(standIns).join(', ')}.`)
  process.exit(2)
}
const running = await begin()
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => void running.close().then(() => process.exit(0)))
