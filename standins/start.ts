import { join } from 'node:path'
import { demoItems } from '../demo/items'
import { demoCarriers } from '../demo/carriers'
import { carrierStandIn } from './carrier'
import { directoryStandIn } from './directory'
import { carrierSettings } from './settings'
import { mailStandIn } from './mail'
import { laneApplication, laneCarriers } from '../demo/laneOrders'
import { quillCredentials } from '../demo/quillOrders'
import { deskCredentials } from '../demo/deskFiles'
import { deskStandIn } from './desk'
import { warehouseCredentials } from '../demo/warehouse'
import { warehouseStandIn } from './warehouse'
import { identityStandIn } from './identity'
import { demoKnown } from '../demo/known'
import { laneStandIn } from './lane'
import { printersStandIn } from './printers'
import { scaleStandIn } from './scale'
import { listen } from './server'
import { quillStandIn } from './quill'
import { shopStandIn } from './shop'
import { textsStandIn } from './texts'
import { textsCredentials } from '../demo/texts'

/**
 * Starts one stand-in: `start.ts shop | lane | quill | desk | warehouse | carriers | mail | texts | printers |
 * identity`. Ports and folder come from the environment.
 */
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

async function start(): Promise<{ close: () => Promise<unknown> }> {
  switch (which) {
    case 'shop': {
      const { app } = shopStandIn({
        file: join(folder, 'shop.db'),
        key: process.env.GHARRY_SHOP_KEY ?? 'demo-key',
        secret: process.env.GHARRY_SHOP_SECRET ?? 'demo-secret',
        name: 'Mossgill Shop',
        shippingMethods: ['Free', 'Standard', 'Exp. 2-day', 'Priority 1-day'],
        products: demoItems.map(({ sku, title, price, weight, size, tags, dangerousGoods, hsCode, origin }) => ({
          sku,
          title,
          price,
          weight_grams: weight,
          size_mm: [...size],
          tags: [...tags],
          un_number: dangerousGoods,
          hs_code: hsCode,
          origin,
        })),
      })
      await listen(app, port('GHARRY_SHOP_PORT', 4610), 'The shop', 'GHARRY_SHOP_PORT')
      return app
    }
    case 'lane': {
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
    case 'identity': {
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
    case 'quill': {
      const { app } = quillStandIn({ file: join(folder, 'quill.db'), name: 'Quillmart', ...quillCredentials })
      await listen(app, port('GHARRY_QUILL_PORT', 4619), 'Quillmart', 'GHARRY_QUILL_PORT')
      return app
    }
    case 'desk': {
      const { app, listen: listenSftp } = deskStandIn({ folder: join(folder, 'desk'), ...deskCredentials })
      await listenSftp(port('GHARRY_SFTP_PORT', 4622)).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'EADDRINUSE') throw error
        console.error('The SFTP server: its port is taken. Stop what uses it, or set GHARRY_SFTP_PORT to another port.')
        process.exit(1)
      })
      await listen(app, port('GHARRY_DESK_PORT', 4620), 'Trade Desk', 'GHARRY_DESK_PORT')
      return app
    }
    case 'warehouse': {
      const { app, listen: listenSftp } = warehouseStandIn({
        folder: join(folder, 'warehouse'),
        ...warehouseCredentials,
      })
      await listenSftp(port('GHARRY_WAREHOUSE_SFTP_PORT', 4624)).catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'EADDRINUSE') throw error
        console.error('The partner’s SFTP server: its port is taken. Set GHARRY_WAREHOUSE_SFTP_PORT to another port.')
        process.exit(1)
      })
      await listen(app, port('GHARRY_WAREHOUSE_PORT', 4623), 'The partner’s warehouse', 'GHARRY_WAREHOUSE_PORT')
      return app
    }
    case 'carriers': {
      const apps = demoCarriers.map(({ id, name }) => ({
        id,
        name,
        app: carrierStandIn(
          carrierSettings(id, join(folder, `${id}.db`), process.env.GHARRY_CARRIER_TOKEN ?? 'demo-carrier-token'),
        ).app,
      }))
      for (const [i, { id, name, app }] of apps.entries())
        await listen(
          app,
          port(`GHARRY_${id.toUpperCase()}_PORT`, carrierPorts[i]!),
          name,
          `GHARRY_${id.toUpperCase()}_PORT`,
        )
      const directory = directoryStandIn(addresses())
      if (process.env.GHARRY_DIRECTORY_PORT)
        await listen(directory, port('GHARRY_DIRECTORY_PORT', 4609), 'The directory', 'GHARRY_DIRECTORY_PORT')
      return { close: () => Promise.all([directory, ...apps.map(({ app }) => app)].map((app) => app.close())) }
    }
    case 'texts': {
      const { app } = textsStandIn({ file: join(folder, 'texts.db'), token: textsCredentials.token })
      await listen(app, port('GHARRY_TEXTS_PORT', 4627), 'Text messages', 'GHARRY_TEXTS_PORT')
      return app
    }
    case 'printers': {
      const { app, raw } = printersStandIn(join(folder, 'printers.db'))
      const scale = scaleStandIn(app)
      await listen(app, port('GHARRY_PRINTERS_PORT', 4629), 'The printers', 'GHARRY_PRINTERS_PORT')
      raw.listen(port('GHARRY_RAW_PRINTER_PORT', 4631), '127.0.0.1')
      scale.listen(port('GHARRY_SCALE_PORT', 4632), '127.0.0.1')
      return app
    }
    case 'mail': {
      const { app, smtp } = mailStandIn(join(folder, 'mail.db'), port('GHARRY_BOUNCE_PORT', 0))
      await listen(app, port('GHARRY_MAIL_PORT', 4613), 'The inbox', 'GHARRY_MAIL_PORT')
      const smtpPort = port('GHARRY_SMTP_PORT', 4625)
      smtp.on('error', (error: NodeJS.ErrnoException) => {
        if (error.code !== 'EADDRINUSE') return
        console.error(
          `The mail server: port ${smtpPort} is taken. Stop what uses it, or set GHARRY_SMTP_PORT to another port.`,
        )
        process.exit(1)
      })
      smtp.listen(smtpPort, '127.0.0.1')
      return app
    }
    default:
      console.error('Say which stand-in: shop, lane, quill, desk, warehouse, carriers or mail.')
      process.exit(2)
  }
}

const running = await start()
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => void running.close().then(() => process.exit(0)))
