import type { Database } from './database'

export interface ChannelRow {
  readonly id: string
  readonly name: string
  readonly kind: 'shop' | 'file'
  readonly base_url: string
  /** When the channel is told the tracking number. */
  readonly tell_when: 'bought' | 'dispatched'
  readonly cursor: string | null
  readonly every_minutes: number
  readonly last_import_at: string | null
}

/** All channels, by identifier. */
export const listChannels = (db: Database): Promise<ChannelRow[]> => db('channels').select('*').orderBy('id')
/** One channel; undefined when there is none. */
export const channelById = (db: Database, id: string): Promise<ChannelRow | undefined> =>
  db('channels').where({ id }).first()

/** Adds a channel; one of the same identifier keeps its settings and takes the new address. */
export async function addChannel(
  db: Database,
  channel: Pick<ChannelRow, 'id' | 'name' | 'kind' | 'base_url' | 'tell_when' | 'every_minutes'>,
): Promise<void> {
  await db('channels').insert(channel).onConflict('id').merge(['base_url'])
}

/** Changes settings and cursor of a channel. */
export async function changeChannel(
  db: Database,
  id: string,
  change: Partial<Pick<ChannelRow, 'tell_when' | 'every_minutes' | 'cursor' | 'last_import_at'>>,
): Promise<void> {
  await db('channels').where({ id }).update(change)
}
