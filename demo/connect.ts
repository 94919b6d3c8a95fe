import { changeChannel, connectionsOfCarrier, connectionById, type ChannelSettings } from '@/data'
import type { Application } from '@/usecases/shared/application'
import { saveConnection, type ConnectionInput } from '@/usecases/intake/connections'
import { demoCarriers } from './carriers'

/** Where the stand-ins are, and what they take as credentials. */
export interface StandIns {
  readonly shop: { readonly address: string; readonly key: string; readonly secret: string }
  readonly carriers: ReadonlyMap<string, string>
  readonly token: string
}

/** Connects the demo's channels and carriers; where they are connected already, their addresses are put right. */
export async function connectDemo(
  gharry: Application,
  { shop, carriers, token }: StandIns,
  settings: Partial<ChannelSettings> = {},
): Promise<void> {
  const put = async (id: string | undefined, input: Omit<ConnectionInput, 'on'>): Promise<void> => {
    const before = id === undefined ? undefined : await connectionById(gharry.db, id)
    const saved = await saveConnection(gharry, before?.id ?? null, {
      ...input,
      on: true,
      ...(before ? { version: before.version } : {}),
    })
    if (!saved.ok) throw new Error(saved.sentence)
  }
  const isNew = (await connectionById(gharry.db, 'mossgill-shop')) === undefined
  await put('mossgill-shop', { role: 'channel', kind: 'keyed-shop', name: 'Mossgill Shop', settings: { ...shop } })
  await put('trade-desk', { role: 'channel', kind: 'files', name: 'Trade Desk', settings: {} })
  if (isNew) {
    await changeChannel(gharry.db, 'mossgill-shop', settings)
    await changeChannel(gharry.db, 'trade-desk', { tellWhen: 'dispatched' })
  }
  for (const { id, name } of demoCarriers) {
    const address = carriers.get(id)
    if (address)
      await put((await connectionsOfCarrier(gharry.db, id))[0]?.id, {
        role: 'carrier',
        carrier: id,
        kind: 'json-labels',
        name,
        settings: { address, token },
      })
  }
}
