import type { FastifyInstance } from 'fastify'
import { demoCarriers } from '../demo/carriers'
import { deskCredentials } from '../demo/deskFiles'
import { laneApplication, laneCodes } from '../demo/laneOrders'
import { quillCredentials } from '../demo/quillOrders'
import { textsCredentials } from '../demo/texts'
import { leedsPartner, warehouseCredentials } from '../demo/warehouse'
import { makeServer } from './server'

interface Addresses {
  readonly shop: string
  readonly shopKey: string
  readonly shopSecret: string
  readonly lane: string
  readonly quill: string
  readonly desk: string
  readonly sftpPort: string
  readonly warehouse: string
  readonly warehousePort: string
  readonly texts: string
  readonly carriers: ReadonlyMap<string, string>
  readonly carrierToken: string
}

/** Says which stand-ins run, and with what they are connected to: what each would have given its seller on paper. */
export function directoryStandIn(at: Addresses): FastifyInstance {
  const app = makeServer()
  app.get('/offers', async () => ({
    offers: [
      {
        role: 'channel',
        kind: 'keyed-shop',
        name: 'Mossgill Shop',
        about: 'A web shop: key and secret.',
        settings: { address: at.shop, key: at.shopKey, secret: at.shopSecret },
      },
      {
        role: 'channel',
        kind: 'authorised-market',
        name: 'Tallow Lane',
        about: 'A marketplace that is authorised on a page of its own.',
        settings: { address: at.lane, ...laneApplication, carrierCodes: laneCodes },
      },
      {
        role: 'channel',
        kind: 'pushing-market',
        name: 'Quillmart',
        about: 'A marketplace that sends its orders by itself.',
        settings: { address: at.quill, ...quillCredentials },
      },
      ...(await tradeDesk(at)),
      ...(await leeds(at)),
      {
        role: 'messenger',
        kind: 'http-text',
        name: 'Text messages',
        about: 'A gateway, and the telephones that get what it sends.',
        settings: { address: at.texts, ...textsCredentials },
      },
      ...demoCarriers.map(({ id, name }) => ({
        role: 'carrier',
        name,
        about: about[id] ?? 'A carrier.',
        ...(id === 'bramble'
          ? {
              kind: 'xml-freight',
              settings: { address: at.carriers.get(id) ?? '', account: 'mossgill', password: at.carrierToken },
            }
          : { kind: 'json-labels', settings: { address: at.carriers.get(id) ?? '', token: at.carrierToken } }),
      })),
    ],
  }))
  return app
}

const about: Readonly<Record<string, string>> = {
  heron: 'Road parcels in Belgium, the Netherlands, Germany, France and Poland.',
  corvid: 'Post: letters and small parcels, to post-office boxes too.',
  northlight: 'Express, the next day.',
  skua: 'By air, worldwide; ground in the United States.',
  bramble: 'Pallets and what is too big; speaks XML.',
  dray: 'The same day around Ghent.',
}

/** An SFTP server says its own key; without it, it is not offered. */
async function keyOf(url: string): Promise<string | null> {
  try {
    return ((await (await fetch(`${url}/admin/key`)).json()) as { fingerprint: string }).fingerprint
  } catch {
    return null
  }
}

async function tradeDesk({ desk, sftpPort }: Addresses): Promise<object[]> {
  const hostKey = await keyOf(desk)
  if (hostKey === null) return []
  const place = { host: '127.0.0.1', port: sftpPort, hostKey, folder: '' }
  return [
    {
      role: 'channel',
      kind: 'sftp-folder',
      name: 'Trade Desk',
      about: 'Files of wholesale customers on an SFTP server.',
      settings: { ...place, ...deskCredentials, seller: 'Mossgill Aquatics', answers: 'ubl' },
    },
  ]
}

async function leeds({ warehouse, warehousePort }: Addresses): Promise<object[]> {
  const hostKey = await keyOf(warehouse)
  if (hostKey === null) return []
  const place = { host: '127.0.0.1', port: warehousePort, hostKey, folder: '' }
  return [
    {
      role: 'partner',
      kind: 'sftp-warehouse',
      name: leedsPartner.name,
      about: 'A warehouse of somebody else, which sends what is handed over to it.',
      settings: { ...place, ...warehouseCredentials, order: 'json', papers: 'pdf' },
    },
  ]
}
