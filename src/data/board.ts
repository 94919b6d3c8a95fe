import type { Knex } from 'knex'
import { countAll } from './countAll'
import { chunks, type Database } from './database'
import { unindexed } from './engine'

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
  const lanes = (await db('lane_silence')) as { service: string; zone: string; hours: number }[]
  const silence = new Map(lanes.map(({ service, zone, hours }) => [`${service} ${zone}`, Number(hours)] as const))
  for (const part of chunks(labels, 400)) {
    const parcels = await boughtParcels(db, part)
    await db('board').whereIn('label_id', part).delete()
    const fresh = parcels.flatMap((parcel) => onBoard(parcel, silence))
    for (const some of chunks(fresh, 60)) await db('board').insert(some)
  }
}

type BoughtParcel = Omit<BoardRow, 'shipOn' | 'due' | 'silentFrom' | 'status' | 'statusAt' | 'foreseen'> & {
  readonly status: string | null
  readonly statusAt: string | null
  readonly request: string
  readonly promisedBy: string | null
  readonly arrivesOn: string | null
}

const boughtParcels = (db: Database, labels: readonly number[]): Promise<BoughtParcel[]> =>
  db('labels')
    .join('label_parcels', 'label_parcels.label_id', 'labels.id')
    .join('orders', 'orders.id', 'labels.order_id')
    .whereIn('labels.id', labels)
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
      words: db('customer_words').whereRaw('customer_words.order_id = labels.order_id').whereNull('closed_at').count(),
    })

/** The row of a parcel that is on its way; none once it arrived. */
function onBoard(
  { request, promisedBy, arrivesOn, ...row }: BoughtParcel,
  silence: ReadonlyMap<string, number>,
): BoardRow[] {
  const status = row.status ?? 'announced'
  if (status === 'delivered' || status === 'arrived back') return []
  const statusAt = row.statusAt ?? row.boughtAt
  const hours = silence.get(`${row.service} ${row.zone}`) ?? usualSilence
  const waits = status === 'announced' || status === 'returned'
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
      silentFrom: waits ? null : new Date(Date.parse(statusAt) + hours * hourMs).toISOString(),
    },
  ]
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

/** SQL: what a need asks of a parcel; `by` gives the columns that may be found by an index. */
function needed(db: Database, need: BoardNeed, now: string, by = (column: string): string => column): Knex.Raw {
  const today = now.slice(0, 10)
  const late = (): Knex.Raw => db.raw(`?? < ? AND status <> 'returned'`, [by('due'), today])
  switch (need) {
    case 'never collected':
      return db.raw(`?? = 'announced' AND ?? < ?`, [by('status'), by('ship_on'), today])
    case 'silent':
      return db.raw('?? < ?', [by('silent_from'), now])
    case 'late':
      return late()
    case 'late and not told':
      return db.raw('? AND told_day IS NULL', [late()])
    case 'the customer wrote':
      return db.raw('?? > 0', [by('words')])
    default:
      return db.raw('?? = ?', [by('status'), need])
  }
}

/** @param walked the sort whose index is walked, so that no other one is to be used; empty where none is */
function filtered(db: Database, filter: BoardFilter, now: string, walked = ''): Knex.QueryBuilder {
  const query = db('board')
  const by = (column: string): string => (walked === '' || walked === column ? column : unindexed(db, column))
  const among = (column: string, values?: readonly string[]): void =>
    void (values && values.length > 0 && query.whereIn(by(column), values))
  among('status', filter.statuses)
  among('carrier', filter.carriers)
  among('service', filter.services)
  among('location', filter.locations)
  among('country', filter.countries)
  if (filter.need) void query.whereRaw(needed(db, filter.need, now, by))
  const typed = (filter.search ?? '').trim()
  if (typed !== '') void query.where((q) => begins(q, typed))
  return query
}

/** Restricts to numbers of parcels or orders that begin with a text, which an index finds. */
function begins(query: Knex.QueryBuilder, typed: string): void {
  const within = (column: string, from: string): void =>
    void query.orWhere((q) => void q.where(column, '>=', from).where(column, '<', `${from}\u{10ffff}`))
  const bare = typed.replace(/[\s-]/g, '').toUpperCase()
  if (bare !== '') within('tracking_number', bare)
  for (const number of new Set([typed, typed.toUpperCase(), typed.toLowerCase()])) within('number', number)
}

/** A filter that leaves more is looked for along the sort: so many need not be sorted to show the first of them. */
const mostSorted = 60_000

/**
 * Parcels that a filter leaves, from `offset` on; `most` at most.
 * @param total how many it leaves (`boardCount`)
 */
export async function boardPage(
  db: Database,
  filter: BoardFilter,
  { column, down }: BoardSort,
  now: string,
  { total, offset, most }: { readonly total: number; readonly offset: number; readonly most: number },
): Promise<BoardRow[]> {
  const walks = total > mostSorted && !filter.search?.trim()
  const order = down ? 'desc' : 'asc'
  const query = filtered(db, filter, now, walks ? column : '')
  for (const one of [column, 'label_id', 'position']) void query.orderBy(walks ? one : unindexed(db, one), order)
  return ((await query.offset(offset).limit(most)) as BoardRow[]).map(asRead)
}

/** How many parcels a filter leaves. */
export const boardCount = (db: Database, filter: BoardFilter, now: string): Promise<number> =>
  countAll(filtered(db, filter, now))

/** How many parcels that a filter leaves need a person, by why; one can be counted several times. */
export async function boardNeedCounts(
  db: Database,
  filter: Omit<BoardFilter, 'need'>,
  now: string,
): Promise<Readonly<Record<BoardNeed, number>>> {
  const narrow = [filter.statuses, filter.carriers, filter.services, filter.locations, filter.countries, filter.search]
  const counts = new Map<BoardNeed, number>()
  // Each has an index of its own, where there is no other filter.
  if (!narrow.some((values) => values && values.length > 0))
    for (const need of boardNeeds) counts.set(need, await boardCount(db, { need }, now))
  else {
    const query = filtered(db, filter, now)
    for (const need of boardNeeds)
      void query.select(db.raw('SUM(CASE WHEN ? THEN 1 ELSE 0 END) AS ??', [needed(db, need, now), need]))
    const [row] = (await query) as Record<string, number | null>[]
    for (const need of boardNeeds) counts.set(need, Number(row?.[need] ?? 0))
  }
  return Object.fromEntries(counts) as Record<BoardNeed, number>
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
  const query = db('board')
    .whereRaw(needed(db, 'late', today))
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
