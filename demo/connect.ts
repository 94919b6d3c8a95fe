import { changeChannel, connectionsOfCarrier, connectionById, type ChannelSettings } from '@/data'
import type { Application } from '@/usecases/shared/application'
import { saveConnection, type ConnectionInput } from '@/usecases/intake/connections'
import { changeWorld } from '@/usecases/shared/changeWorld'
import { demoCarriers } from './carriers'
import { leedsPartner, warehouseCredentials } from './warehouse'
import { deskCredentials } from './deskFiles'
import { laneApplication, laneCodes } from './laneOrders'
import { quillCredentials } from './quillOrders'
import { textsCredentials } from './texts'

/** Where the stand-ins are, and what they take as credentials. */
export interface StandIns {
  readonly shop: { readonly address: string; readonly key: string; readonly secret: string }
  /** A marketplace that is authorised, where it runs. */
  readonly lane?: string
  /** A marketplace that sends messages, where it runs. */
  readonly quill?: string
  /** The SFTP server of the wholesale customers, where it runs; without it their files are dropped. */
  readonly desk?: { readonly port: string; readonly hostKey: string }
  /** The SFTP server of the partner in Leeds, where it runs. */
  readonly warehouse?: { readonly port: string; readonly hostKey: string }
  /** The gateway for text messages, where it runs. */
  readonly texts?: string
  readonly carriers: ReadonlyMap<string, string>
  readonly token: string
}

/** Connects the demo's channels and carriers; where they are connected already, their addresses are put right. */
export async function connectDemo(
  gharry: Application,
  standIns: StandIns,
  settings: Partial<ChannelSettings> = {},
): Promise<void> {
  const { lane, quill, desk, texts } = standIns
  const put = (id: string | undefined, input: Input): Promise<void> => putConnection(gharry, id, input)
  const isNew = (await connectionById(gharry.db, 'mossgill-shop')) === undefined
  for (const [id, input] of channelsOf(standIns)) await put(id, { role: 'channel', ...input })
  if (standIns.warehouse) await connectPartner(gharry, standIns.warehouse)
  if (texts)
    await put('text-messages', {
      role: 'messenger',
      kind: 'http-text',
      name: 'Text messages',
      settings: { address: texts, ...textsCredentials },
    })
  if (isNew) {
    await changeChannel(gharry.db, 'mossgill-shop', settings)
    if (lane) await changeChannel(gharry.db, 'tallow-lane', settings)
    if (quill) await changeChannel(gharry.db, 'quillmart', settings)
    await changeChannel(gharry.db, 'trade-desk', { ...(desk ? settings : {}), tellWhen: 'dispatched' })
  }
  for (const { id, name } of demoCarriers) {
    const address = standIns.carriers.get(id)
    if (address)
      await put((await connectionsOfCarrier(gharry.db, id))[0]?.id, {
        role: 'carrier',
        carrier: id,
        name,
        // Freight is of another age: it speaks XML.
        ...(id === 'bramble'
          ? { kind: 'xml-freight', settings: { address, account: 'mossgill', password: standIns.token } }
          : { kind: 'json-labels', settings: { address, token: standIns.token } }),
      })
  }
}

type Input = Omit<ConnectionInput, 'on'>

async function putConnection(gharry: Application, id: string | undefined, input: Input): Promise<void> {
  const before = id === undefined ? undefined : await connectionById(gharry.db, id)
  const saved = await saveConnection(gharry, before?.id ?? null, {
    ...input,
    on: true,
    ...(before ? { version: before.version } : {}),
  })
  if (!saved.ok) throw new Error(saved.sentence)
}

/** The channels that run, by their id. */
function channelsOf({ shop, lane, quill, desk }: StandIns): (readonly [id: string, input: Omit<Input, 'role'>])[] {
  const ofDesk = desk
    ? {
        kind: 'sftp-folder',
        settings: {
          ...{ host: '127.0.0.1', ...desk, ...deskCredentials, folder: '' },
          ...{ seller: 'Mossgill Aquatics', answers: 'ubl' },
        },
      }
    : { kind: 'files', settings: {} }
  const laneSettings = { address: lane ?? '', ...laneApplication, carrierCodes: laneCodes }
  const quillSettings = { address: quill ?? '', ...quillCredentials }
  return [
    ['mossgill-shop', { kind: 'keyed-shop', name: 'Mossgill Shop', settings: { ...shop } }],
    ...(lane
      ? [['tallow-lane', { kind: 'authorised-market', name: 'Tallow Lane', settings: laneSettings }] as const]
      : []),
    ...(quill ? [['quillmart', { kind: 'pushing-market', name: 'Quillmart', settings: quillSettings }] as const] : []),
    ['trade-desk', { name: 'Trade Desk', ...ofDesk }],
  ]
}

/** The partner who packs in Leeds; what is sent from there is theirs. */
async function connectPartner(gharry: Application, warehouse: NonNullable<StandIns['warehouse']>): Promise<void> {
  await putConnection(gharry, leedsPartner.id, {
    role: 'partner',
    kind: 'sftp-warehouse',
    name: leedsPartner.name,
    settings: {
      ...{ host: '127.0.0.1', ...warehouse, ...warehouseCredentials, folder: '' },
      ...{ order: 'json', papers: 'pdf' },
    },
  })
  await changeWorld(gharry, null, '', (world) => ({
    ...world,
    locations: world.locations.map((location) =>
      location.id === 'leeds' ? { ...location, partner: leedsPartner.id } : location,
    ),
  }))
}
