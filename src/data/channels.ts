import type { Database } from './database'

export interface ChannelRow {
  readonly id: string
  readonly name: string
  readonly kind: 'shop' | 'file'
  readonly baseUrl: string
  /** When the channel is told the tracking number. */
  readonly tellWhen: 'bought' | 'dispatched'
  readonly cursor: string | null
  readonly everyMinutes: number
  readonly lastImportAt: string | null
}

/** All channels, by identifier. */
export const listChannels = (db: Database): Promise<ChannelRow[]> => db('channels').select('*').orderBy('id')
/** One channel; undefined when there is none. */
export const channelById = (db: Database, id: string): Promise<ChannelRow | undefined> =>
  db('channels').where({ id }).first()

/** Adds a channel; one of the same identifier keeps its settings and takes the new address. */
export async function addChannel(
  db: Database,
  channel: Pick<ChannelRow, 'id' | 'name' | 'kind' | 'baseUrl' | 'tellWhen' | 'everyMinutes'>,
): Promise<void> {
  await db('channels').insert(channel).onConflict('id').merge(['base_url'])
}

/** Changes settings and cursor of a channel. */
export async function changeChannel(
  db: Database,
  id: string,
  change: Partial<Pick<ChannelRow, 'tellWhen' | 'everyMinutes' | 'cursor' | 'lastImportAt'>>,
): Promise<void> {
  await db('channels').where({ id }).update(change)
}
