import type { CarrierEvent, ReturnRequest } from '@/adapters'
import type { Coming, Condition } from '@/core/returns'
import { chunks, type Database, fromJson, toJson } from './database'
import type { OutboxRow } from './outbox'

/** What was found of one item when it came back. */
export interface Found {
  readonly item: number
  readonly quantity: number
  readonly condition: Condition
  /** It goes back into the stock. */
  readonly kept: boolean
}
/** What the carrier said of a parcel on its way back. */
export type ReturnNews = Pick<CarrierEvent, 'at' | 'status' | 'place' | 'text'>

/** Where a return stands. */
export type ReturnState =
  | 'asked' // a person must answer
  | 'making' // the carrier is asked for the label
  | 'ready' // the buyer can send it
  | 'coming' // the carrier has it, or has brought it
  | 'checked' // it was looked at, and what is due was settled
  | 'refused'
  | 'lapsed' // its label was never used

/** Something that a buyer sends back. */
export interface ReturnRow extends OutboxRow {
  readonly orderId: number
  /** The label by which it went. */
  readonly labelId: number
  readonly state: ReturnState
  readonly reason: string
  /** What the buyer wrote. */
  readonly words: string
  readonly pieces: readonly Coming[]
  readonly askedAt: string
  /** `customer`, `the label in the box`, or a person. */
  readonly askedBy: string
  /** Which rule or person answered, or why it was refused. */
  readonly why: string
  readonly paidByBuyer: boolean
  /** Where it goes to. */
  readonly location: string
  readonly carrier: string
  readonly service: string
  readonly account: string | null
  /** What the carrier is asked; null where there is nothing to be asked. */
  readonly request: ReturnRequest | null
  readonly trackingNumber: string | null
  readonly symbology: 'code128' | 'gs1-128'
  readonly routing: string
  readonly code: string
  readonly validUntil: string | null
  /** Home minor units. */
  readonly charge: number
  readonly usedAt: string | null
  readonly status: string | null
  readonly statusAt: string | null
  readonly news: readonly ReturnNews[]
  readonly found: readonly Found[] | null
  readonly checkedAt: string | null
  readonly checkedBy: string
  readonly note: string
  /** Minor units of the currency of the order; `forShipping` is a part of it. */
  readonly amount: number
  readonly forShipping: number
  readonly paidByHandAt: string | null
  readonly key: string
}
/** A row as the table has it, for the worker. */
export type StoredReturn = Omit<ReturnRow, 'pieces' | 'request' | 'news' | 'found' | 'paidByBuyer'> & {
  readonly pieces: string
  readonly request: string | null
  readonly news: string
  readonly found: string | null
  readonly paidByBuyer: number | boolean
}
/** Reads a row. */
export const returnOfRow = ({ pieces, request, news, found, paidByBuyer, ...row }: StoredReturn): ReturnRow => ({
  ...row,
  pieces: fromJson(pieces),
  request: request === null ? null : fromJson(request),
  news: fromJson(news),
  found: found === null ? null : fromJson(found),
  paidByBuyer: Boolean(paidByBuyer),
})

/** What a return begins with. */
export type NewReturn = Pick<
  ReturnRow,
  'orderId' | 'labelId' | 'state' | 'reason' | 'words' | 'pieces' | 'askedBy' | 'location' | 'key'
> &
  Partial<Pick<ReturnRow, 'carrier' | 'service' | 'account' | 'trackingNumber' | 'symbology' | 'validUntil' | 'why'>>

/** Writes a return; the same key is one. Gives its number, undefined when it was there. */
export async function addReturn(trx: Database, row: NewReturn, now: string): Promise<number | undefined> {
  const [made] = (await trx('returns')
    .insert({ ...row, pieces: toJson(row.pieces), askedAt: now, madeAt: now, nextAt: now })
    .onConflict('key')
    .ignore()
    .returning('id')) as { id: number }[]
  return made?.id
}

/** The columns of a change, as the table has them. */
export const returnColumns = ({
  pieces,
  request,
  news,
  found,
  ...rest
}: Partial<Omit<ReturnRow, 'id'>>): Readonly<Record<string, unknown>> => ({
  ...rest,
  ...(pieces ? { pieces: toJson(pieces) } : {}),
  ...(request === undefined ? {} : { request: request && toJson(request) }),
  ...(news ? { news: toJson(news) } : {}),
  ...(found ? { found: toJson(found) } : {}),
})
/** Changes a return of some states; false when it has another one meanwhile. */
export const changeReturn = async (
  db: Database,
  id: number,
  from: readonly ReturnState[],
  change: Partial<Omit<ReturnRow, 'id'>>,
): Promise<boolean> => (await db('returns').where({ id }).whereIn('state', from).update(returnColumns(change))) === 1

const read = async (query: ReturnType<Database>): Promise<ReturnRow[]> =>
  ((await query) as unknown as StoredReturn[]).map(returnOfRow)

/** A return; undefined when there is none. */
export const returnById = async (db: Database, id: number): Promise<ReturnRow | undefined> =>
  (await read(db('returns').where({ id }) as ReturnType<Database>))[0]
/** What was asked to be sent back of a label, or of an order; the oldest first. */
export const returnsOf = (
  db: Database,
  of: { readonly labelId: number } | { readonly orderId: number },
): Promise<ReturnRow[]> => read(db('returns').where(of).orderBy('id') as ReturnType<Database>)

/** Returns by the numbers of their labels. */
export async function returnsByNumbers(
  db: Database,
  carrier: string,
  numbers: readonly string[],
): Promise<Map<string, ReturnRow>> {
  const found = new Map<string, ReturnRow>()
  for (const part of chunks(numbers, 500))
    for (const row of await read(
      db('returns').where({ carrier }).whereIn('tracking_number', part) as ReturnType<Database>,
    ))
      found.set(row.trackingNumber!, row)
  return found
}
/** Open returns under a number that was scanned: of their label, or of their order; the newest first. */
export const returnsByScan = (db: Database, number: string): Promise<ReturnRow[]> =>
  read(
    db('returns')
      .where(
        (q) =>
          void q
            .where({ trackingNumber: number })
            .orWhere({ code: number })
            .orWhereIn('order_id', db('orders').where({ number }).select('id')),
      )
      .whereNot({ state: 'refused' })
      .orderBy('id', 'desc')
      .limit(50) as ReturnType<Database>,
  )

/** A return with what names it. */
export type ReturnLine = ReturnRow & {
  readonly number: string
  readonly buyer: string
  readonly country: string
  readonly channelId: string
  /** How the message to the channel stands that pays it back; null where there is none. */
  readonly told: string | null
}
/** Returns of some states, the oldest first, or those that changed last. */
export async function returnsIn(
  db: Database,
  states: readonly ReturnState[],
  newest: boolean,
  most: number,
  skip = 0,
): Promise<ReturnLine[]> {
  const rows = await db('returns')
    .join('orders', 'orders.id', 'returns.order_id')
    .whereIn('returns.state', states)
    .orderBy('returns.id', newest ? 'desc' : 'asc')
    .limit(most)
    .offset(skip)
    .select('returns.*', 'orders.number', 'orders.buyer', 'orders.country', 'orders.channel_id', {
      told: db('posts').whereRaw('posts.return_id = returns.id').select('state').limit(1),
    })
  return (rows as (StoredReturn & Omit<ReturnLine, keyof ReturnRow>)[]).map((row) => ({
    ...row,
    ...returnOfRow(row),
  }))
}
/** How many returns there are of each state. */
export async function countReturns(db: Database): Promise<Readonly<Partial<Record<ReturnState, number>>>> {
  const rows = (await db('returns').groupBy('state').select('state').count({ n: '*' })) as {
    state: ReturnState
    n: number
  }[]
  return Object.fromEntries(rows.map(({ state, n }) => [state, Number(n)]))
}

/** Lets labels lapse that were not used by their day. Gives how many there were. */
export const lapseReturns = (db: Database, today: string): Promise<number> =>
  db('returns').where({ state: 'ready' }).where('valid_until', '<', today).update({ state: 'lapsed' })

/** Keeps a file of a return. */
export const addReturnFile = async (
  db: Database,
  file: {
    readonly returnId: number
    readonly what: 'photo' | 'pdf'
    readonly type: string
    readonly content: Buffer
  },
): Promise<void> => void (await db('return_files').insert(file))
/** The files of returns of a sort, without what is in them: their numbers by return. */
export async function filesOfReturns(
  db: Database,
  returns: readonly number[],
  what: 'photo' | 'pdf',
): Promise<Map<number, number[]>> {
  const found = new Map<number, number[]>()
  for (const part of chunks(returns, 500)) {
    const rows = (await db('return_files')
      .whereIn('return_id', part)
      .where({ what })
      .orderBy('id')
      .select('id', 'return_id')) as { id: number; returnId: number }[]
    for (const { id, returnId } of rows) found.set(returnId, [...(found.get(returnId) ?? []), id])
  }
  return found
}
/** A file of a return; undefined when there is none. */
export const returnFile = (
  db: Database,
  id: number,
): Promise<{ returnId: number; what: string; type: string; content: Buffer } | undefined> =>
  db('return_files').where({ id }).first()
