import type { Database } from './database'

export interface ChannelRow {
  readonly id: string
  readonly name: string
  /** The kind of its connection, which has the same identifier. */
  readonly kind: string
  /** When the channel is told the tracking number. */
  readonly tellWhen: 'bought' | 'dispatched'
  readonly cursor: string | null
  readonly everyMinutes: number
  readonly lastImportAt: string | null
  /** Orders from this day on come in; null: all. */
  readonly fromDay: string | null
  /** Statuses of the channel's orders that come in, with commas between; empty: all that are open. */
  readonly statuses: string
  /** The channel's own locations whose orders come in, with commas between; empty: all. */
  readonly places: string
  /** Whether its buyers may be written to. */
  readonly mailBuyers: boolean
  /** For orders that name no currency; empty: the home currency. */
  readonly currency: string
  /** In which its buyers are written to (BCP 47); empty: English. */
  readonly language: string
  /** It is not asked any more; its orders stay. */
  readonly retired: boolean
  /** `says`: what it says is in stock at `stockLocation`; `told`: it is told what is there; empty: neither. */
  readonly stock: '' | 'says' | 'told'
  readonly stockLocation: string
  readonly stockCursor: string
  /** The newest move that it was told of. */
  readonly stockTold: number
  readonly stockProblem: string | null
}

/** What people set of a channel. */
export type ChannelSettings = Pick<
  ChannelRow,
  | 'name'
  | 'tellWhen'
  | 'everyMinutes'
  | 'fromDay'
  | 'statuses'
  | 'places'
  | 'mailBuyers'
  | 'currency'
  | 'language'
  | 'retired'
>

/** How a channel and the stock go together. */
export type ChannelStock = Pick<ChannelRow, 'stock' | 'stockLocation' | 'stockCursor' | 'stockTold' | 'stockProblem'>

/** All channels, by identifier. */
export const listChannels = (db: Database): Promise<ChannelRow[]> => db('channels').select('*').orderBy('id')
/** One channel; undefined when there is none. */
export const channelById = (db: Database, id: string): Promise<ChannelRow | undefined> =>
  db('channels').where({ id }).first()

/** Adds a channel; false when its identifier is taken. */
export async function addChannel(
  db: Database,
  channel: Pick<ChannelRow, 'id' | 'name' | 'kind' | 'tellWhen' | 'everyMinutes'> & Partial<ChannelSettings>,
): Promise<boolean> {
  const [added] = (await db('channels').insert(channel).onConflict('id').ignore().returning('id')) as { id: string }[]
  return added !== undefined
}

/** Changes settings and cursor of a channel. */
export async function changeChannel(
  db: Database,
  id: string,
  change: Partial<ChannelSettings & ChannelStock & Pick<ChannelRow, 'cursor' | 'lastImportAt'>>,
): Promise<void> {
  if (Object.keys(change).length > 0) await db('channels').where({ id }).update(change)
}
