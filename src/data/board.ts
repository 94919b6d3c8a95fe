import type { Knex } from 'knex'
import { chunks, type Database } from './database'

/** A parcel on its way. */
export interface BoardRow {
  readonly labelId: number
  /** Of the parcel in its shipment; 1 is the first. */
  readonly position: number
  readonly orderId: number
  /** Of the order. */
  readonly number: string
  readonly trackingNumber: string
  readonly carrier: string
  readonly service: string
  readonly zone: string
  readonly location: string
  readonly country: string
  readonly status: string
  /** When the carrier saw that; before there is any news, when its label was bought. */
  readonly statusAt: string
  readonly boughtAt: string
  /** The day on which it was to be handed over. */
  readonly shipOn: string
  /** The promised day, else the one that was foreseen. */
  readonly due: string | null
  /** The day that was foreseen when it was bought. */
  readonly foreseen: string | null
  /** From when its carrier is silent for longer than is usual on its lane; null before it was collected. */
  readonly silentFrom: string | null
  /** The later day that the customer was told; null before, and `-` where nobody can be told. */
  readonly toldDay: string | null
  /** How much of what the customer wrote nobody has read. */
  readonly words: number
}

/** Hours without news that are still usual where a lane has too little history. */
export const usualSilence = 72
const enoughGaps = 20
/** Where no day was promised or foreseen: behind all others. */
const noDay = '9999-12-31'
/** A row as it is read, without the stand-in for no day. */
export const asRead = (row: BoardRow): BoardRow => (row.due === noDay ? { ...row, due: null } : row)
const hourMs = 3_600_000

/**
 * Puts the parcels of shipments on the board as the books have them now, and takes off those that arrived or were
 * voided. In the transaction of whatever changed them.
 */
export async function putOnBoard(db: Database, labels: readonly number[]): Promise<void> {
  if (labels.length === 0) return
  const silence = new Map(
    ((await db('lane_silence')) as { service: string; zone: string; hours: number }[]).map(
      ({ service, zone, hours }) => [`${service} ${zone}`, Number(hours)] as const,
    ),
  )
  for (const part of chunks(labels, 400)) {
    const rows = (await db('labels')
      .join('label_parcels', 'label_parcels.label_id', 'labels.id')
      .join('orders', 'orders.id', 'labels.order_id')
      .whereIn('labels.id', part)
      .where('labels.state', 'bought')
      .select({
        labelId: 'labels.id',
        position: 'label_parcels.position',
        orderId: 'labels.order_id',
        number: 'orders.number',
        trackingNumber: 'label_parcels.tracking_number',
        carrier: 'labels.carrier',
        service: 'labels.service',
        zone: 'labels.zone',
        location: 'labels.location',
        country: 'orders.country',
        status: 'label_parcels.status',
        statusAt: 'label_parcels.status_at',
        boughtAt: db.raw('COALESCE(labels.bought_at, labels.made_at)'),
        request: 'labels.request',
        promisedBy: 'orders.promised_by',
        arrivesOn: 'labels.arrives_on',
        toldDay: 'labels.told_day',
        words: db('customer_words')
          .whereRaw('customer_words.order_id = labels.order_id')
          .whereNull('closed_at')
          .count(),
      })) as (Omit<BoardRow, 'shipOn' | 'due' | 'silentFrom' | 'status' | 'statusAt'> & {
      status: string | null
      statusAt: string | null
      request: string
      promisedBy: string | null
      arrivesOn: string | null
    })[]
    await db('board').whereIn('label_id', part).delete()
    const fresh = rows.flatMap(({ request, promisedBy, arrivesOn, ...row }): BoardRow[] => {
      const status = row.status ?? 'announced'
      if (status === 'delivered' || status === 'arrived back') return []
      const statusAt = row.statusAt ?? row.boughtAt
      const hours = silence.get(`${row.service} ${row.zone}`) ?? usualSilence
      return [
        {
          ...row,
          trackingNumber: row.trackingNumber ?? '',
          country: row.country ?? '',
          status,
          statusAt,
          shipOn: /"shipOn":"(\d{4}-\d{2}-\d{2})"/.exec(request)?.[1] ?? row.boughtAt.slice(0, 10),
          due: promisedBy || arrivesOn || noDay,
          foreseen: arrivesOn,
          silentFrom:
            status === 'announced' || status === 'returned'
              ? null
              : new Date(Date.parse(statusAt) + hours * hourMs).toISOString(),
        },
      ]
    })
    for (const some of chunks(fresh, 60)) await db('board').insert(some)
  }
}

/** Why a parcel needs a person. */
export const boardNeeds = [
  'never collected',
  'silent',
  'late',
  'late and not told',
  'the customer wrote',
  'held at customs',
  'waiting to be fetched',
  'delivery failed',
  'returned',
  'lost',
] as const
export type BoardNeed = (typeof boardNeeds)[number]

/** Filters of the board; lists are "any of". */
export interface BoardFilter {
  readonly need?: BoardNeed
  readonly statuses?: readonly string[]
  readonly carriers?: readonly string[]
  readonly services?: readonly string[]
  readonly locations?: readonly string[]
  readonly countries?: readonly string[]
  /** What an order's or a parcel's number begins with. */
  readonly search?: string
}
export const boardSorts = ['due', 'statusAt', 'boughtAt', 'number', 'carrier', 'country'] as const
export interface BoardSort {
  readonly column: (typeof boardSorts)[number]
  readonly down: boolean
}

const late = (query: Knex.QueryBuilder, today: string): Knex.QueryBuilder =>
  query.where('due', '<', today).whereNot({ status: 'returned' })

function filtered(db: Database, filter: BoardFilter, now: string): Knex.QueryBuilder {
  const query = db('board')
  const among = (column: string, values?: readonly string[]): void =>
    void (values && values.length > 0 && query.whereIn(column, values))
  among('status', filter.statuses)
  among('carrier', filter.carriers)
  among('service', filter.services)
  among('location', filter.locations)
  among('country', filter.countries)
  const today = now.slice(0, 10)
  if (filter.need === 'never collected') void query.where({ status: 'announced' }).where('ship_on', '<', today)
  else if (filter.need === 'silent') void query.where('silent_from', '<', now)
  else if (filter.need === 'late') void late(query, today)
  else if (filter.need === 'late and not told') void late(query, today).whereNull('told_day')
  else if (filter.need === 'the customer wrote') void query.where('words', '>', 0)
  else if (filter.need) void query.where({ status: filter.need })
  const typed = (filter.search ?? '').replace(/[%_]/g, '').replace(/[\s-]/g, '')
  if (typed !== '')
    void query.where(
      (q) =>
        void q
          .where('tracking_number', 'like', `${typed.toUpperCase()}%`)
          .orWhere('number', 'like', `${filter.search!.trim()}%`),
    )
  return query
}

/** Parcels that a filter leaves, from `offset` on; `most` at most. */
export async function boardPage(
  db: Database,
  filter: BoardFilter,
  { column, down }: BoardSort,
  now: string,
  offset: number,
  most: number,
): Promise<BoardRow[]> {
  const rows = (await filtered(db, filter, now)
    .orderBy([
      { column, order: down ? 'desc' : 'asc' },
      { column: 'label_id', order: 'asc' },
      { column: 'position', order: 'asc' },
    ])
    .offset(offset)
    .limit(most)) as BoardRow[]
  return rows.map(asRead)
}

/** How many parcels a filter leaves. */
export async function boardCount(db: Database, filter: BoardFilter, now: string): Promise<number> {
  const [row] = (await filtered(db, filter, now).count({ n: '*' })) as { n: number }[]
  return Number(row?.n ?? 0)
}

/** How the filtered parcels spread over a column. */
export async function boardSpread(
  db: Database,
  filter: BoardFilter,
  column: 'status' | 'carrier' | 'service' | 'location' | 'country',
  now: string,
): Promise<{ value: string; count: number }[]> {
  const rows = (await filtered(db, filter, now)
    .select({ value: column })
    .count({ count: '*' })
    .groupBy(column)
    .orderBy('count', 'desc')
    .limit(60)) as { value: string; count: number }[]
  return rows.filter(({ value }) => value !== '')
}

/** Parcels on the board by state, carrier and the day on which they were bought. */
export const boardByDay = (
  db: Database,
  since: string,
): Promise<{ day: string; carrier: string; status: string; count: number }[]> =>
  db('board')
    .select({ day: db.raw('SUBSTR(bought_at, 1, 10)') }, 'carrier', 'status')
    .count({ count: '*' })
    .where('bought_at', '>=', since)
    .groupByRaw('1, 2, 3')
    .orderByRaw('1, 2, 3')

/** Parcels that are late on a day, not by weeks, and whose customer was not told yet, or of a day that is over, too. */
export async function lateUntold(db: Database, today: string, oldest: string, most: number): Promise<BoardRow[]> {
  const query = late(db('board'), today)
    .where('due', '>=', oldest)
    .whereNotIn('status', ['announced', 'lost'])
    .where(
      (q) =>
        void q
          .whereNull('told_day')
          .orWhere((told) => void told.whereNot({ toldDay: '-' }).where('told_day', '<', today)),
    )
  return (await query.orderBy('label_id').limit(most)) as BoardRow[]
}
/** Writes which later day the customer of a shipment was told. */
export async function noteTold(db: Database, label: number, toldDay: string): Promise<void> {
  await db('labels').where({ id: label }).update({ toldDay })
  await db('board').where({ labelId: label }).update({ toldDay })
}

/** Takes off what was bought so long ago that nobody waits for it. */
export async function forgetBoard(db: Database, before: string): Promise<void> {
  await db('board').where('bought_at', '<', before).delete()
}

/**
 * Learns from delivered shipments since a moment, the newest `most`, how many hours pass between two pieces of news of
 * a lane (service and zone): 95 of 100 pauses are not longer. Lanes with fewer than 20 pauses have the usual one.
 */
export async function learnSilence(db: Database, since: string, most: number): Promise<void> {
  const labels = (await db('labels')
    .where('bought_at', '>=', since)
    .whereNotNull('delivered_at')
    .orderBy('id', 'desc')
    .limit(most)
    .select('id', 'service', 'zone')) as { id: number; service: string; zone: string }[]
  const gaps = new Map<string, { service: string; zone: string; hours: number[] }>()
  for (const part of chunks(labels, 500)) {
    const lanes = new Map(part.map((label) => [label.id, label]))
    const events = (await db('tracking_events')
      .whereIn('label_id', [...lanes.keys()])
      .orderBy(['label_id', 'at'])
      .select('label_id', 'at')) as { labelId: number; at: string }[]
    events.forEach(({ labelId, at }, i) => {
      const before = events[i - 1]
      if (before?.labelId !== labelId) return
      const { service, zone } = lanes.get(labelId)!
      const lane = gaps.get(`${service} ${zone}`) ?? { service, zone, hours: [] }
      lane.hours.push((Date.parse(at) - Date.parse(before.at)) / hourMs)
      gaps.set(`${service} ${zone}`, lane)
    })
  }
  const learned = [...gaps.values()].flatMap(({ service, zone, hours }) => {
    if (hours.length < enoughGaps) return []
    const sorted = [...hours].sort((a, b) => a - b)
    const at = sorted[Math.ceil(sorted.length * 0.95) - 1]!
    // A day at least: nobody asks a carrier after a night.
    return [{ service, zone, hours: Math.max(24, Math.ceil(at)), seen: hours.length }]
  })
  await db.transaction(async (trx) => {
    await trx('lane_silence').delete()
    for (const part of chunks(learned, 200)) await trx('lane_silence').insert(part)
  })
}
