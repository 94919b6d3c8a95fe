import type { Grams } from '@/core/units'
import { countAll } from './countAll'
import { chunks, type Database } from './database'

export type LabelState = 'queued' | 'bought' | 'failed' | 'voiding' | 'voided'

export interface LabelRow {
  /** The connection that it was asked for with; null for labels of before there were several. */
  readonly account: string | null
  readonly id: number
  readonly orderId: number
  readonly batchId: number | null
  readonly position: number
  readonly key: string
  readonly token: string
  readonly state: LabelState
  readonly carrier: string
  readonly service: string
  readonly zone: string
  readonly location: string
  readonly request: string
  readonly quoted: number
  readonly charged: number | null
  readonly trackingNumber: string | null
  readonly symbology: 'code128' | 'gs1-128' | null
  readonly routing: string | null
  readonly madeAt: string
  readonly boughtAt: string | null
  readonly voidedAt: string | null
  readonly dispatchedAt: string | null
  readonly deliveredAt: string | null
  readonly printedAt: string | null
  /** When the last of its parcels was checked at a bench; null while one is not. */
  readonly checkedAt: string | null
  readonly status: string | null
  readonly arrivesOn: string | null
  /** The day on which it is to be handed over; null for labels of others. */
  readonly shipOn: string | null
  /**
   * Grams of all its parcels; with the list price, what the buyer paid for shipping (home minor units), and the rule
   * that chose, for reports.
   */
  readonly weight: number | null
  readonly listPrice: number | null
  readonly buyerPaid: number | null
  /** Empty where no rule chose; `by hand` where a person did. */
  readonly rule: string
  readonly problem: string | null
  readonly attempts: number
  readonly leaseOwner?: string | null
  /** It left under numbers of somebody else: nothing was bought, nothing is charged. */
  readonly own: boolean
  /** The numbers, as JSON, under which it leaves once this label is voided; null when there are none. */
  readonly replacement: string | null
}

/** One parcel of a shipment. */
export interface LabelParcel {
  readonly labelId: number
  /** 1 is the first. */
  readonly position: number
  readonly preset: string
  readonly weight: Grams
  readonly size: readonly number[]
  readonly contents: readonly { readonly item: number; readonly quantity: number }[]
  readonly trackingNumber: string | null
  readonly symbology: 'code128' | 'gs1-128' | null
  readonly routing: string | null
  readonly status: string | null
  /** When the carrier saw what `status` says. */
  readonly statusAt?: string | null
  /** The number of the label with which it comes back; null when there is none. */
  readonly returnNumber: string | null
}

export interface NewLabel extends Pick<
  LabelRow,
  | 'orderId'
  | 'position'
  | 'key'
  | 'token'
  | 'account'
  | 'carrier'
  | 'service'
  | 'zone'
  | 'location'
  | 'request'
  | 'quoted'
  | 'arrivesOn'
  | 'shipOn'
  | 'weight'
  | 'listPrice'
  | 'buyerPaid'
  | 'rule'
> {
  readonly parcels: readonly Pick<LabelParcel, 'preset' | 'weight' | 'size' | 'contents'>[]
}

/** Writes a batch with one queued label for each order: the promise to buy, in the caller's transaction. */
export async function addBatch(
  db: Database,
  author: string,
  labels: readonly NewLabel[],
  now: string,
): Promise<number> {
  const [batch] = (await db('batches')
    .insert({ author, madeAt: now, quoted: labels.reduce((sum, label) => sum + label.quoted, 0) })
    .returning('id')) as { id: number }[]
  for (const part of chunks(labels, 100)) {
    const ids = (await db('labels')
      .insert(
        part.map(({ parcels: _parcels, ...label }) => ({
          ...label,
          batchId: batch!.id,
          state: 'queued',
          madeAt: now,
          nextAt: now,
        })),
      )
      .returning('id')) as { id: number }[]
    await addLabelParcels(
      db,
      part.flatMap(({ parcels }, i) =>
        parcels.map((parcel, position) => ({ ...parcel, labelId: ids[i]!.id, position: position + 1 })),
      ),
    )
  }
  return batch!.id
}

/** Writes a shipment that left under numbers of somebody else, with its parcels; gives its number. */
export async function addOwnLabel(
  db: Database,
  label: Pick<
    LabelRow,
    'orderId' | 'key' | 'token' | 'carrier' | 'service' | 'location' | 'trackingNumber' | 'arrivesOn'
  >,
  parcels: readonly Pick<LabelParcel, 'trackingNumber' | 'preset' | 'weight' | 'size' | 'contents'>[],
  now: string,
): Promise<number> {
  const [row] = (await db('labels')
    .insert({
      ...label,
      ...{ own: true, state: 'bought', position: 0, zone: '', request: '{}', quoted: 0, charged: 0 },
      ...{ madeAt: now, nextAt: now, boughtAt: now, dispatchedAt: now, status: 'announced' },
    })
    .returning('id')) as { id: number }[]
  await addLabelParcels(
    db,
    parcels.map((parcel, i) => ({ ...parcel, labelId: row!.id, position: i + 1, status: 'announced' })),
  )
  return row!.id
}

/** Writes the parcels of labels. */
export async function addLabelParcels(
  db: Database,
  parcels: readonly (Pick<LabelParcel, 'labelId' | 'position' | 'preset' | 'weight' | 'size' | 'contents'> &
    Partial<LabelParcel>)[],
): Promise<void> {
  for (const part of chunks(parcels, 70))
    await db('label_parcels').insert(
      part.map((parcel) => ({
        ...parcel,
        size: JSON.stringify(parcel.size),
        contents: JSON.stringify(parcel.contents),
      })),
    )
}

/** The parcels of each label, in their order. */
export async function parcelsOfLabels(db: Database, labels: readonly number[]): Promise<Map<number, LabelParcel[]>> {
  const found = new Map<number, LabelParcel[]>()
  for (const part of chunks(labels, 500)) {
    const rows = (await db('label_parcels').whereIn('label_id', part).orderBy(['label_id', 'position'])) as (Omit<
      LabelParcel,
      'size' | 'contents'
    > & { size: string; contents: string })[]
    for (const row of rows)
      found.set(row.labelId, [
        ...(found.get(row.labelId) ?? []),
        {
          ...row,
          size: JSON.parse(row.size) as number[],
          contents: JSON.parse(row.contents) as LabelParcel['contents'],
        },
      ])
  }
  return found
}

/** Sets where a parcel of a label is; the caller knows that it is the newest news. */
export async function setParcelStatus(
  db: Database,
  label: number,
  position: number,
  status: string,
  at: string,
): Promise<void> {
  await db('label_parcels').where({ labelId: label, position }).update({ status, statusAt: at })
}

/** Writes labels of the past, for the demo; gives their numbers. */
export async function insertPastLabels(db: Database, labels: readonly Record<string, unknown>[]): Promise<number[]> {
  const ids: number[] = []
  for (const part of chunks(labels, 100))
    ids.push(...((await db('labels').insert(part).returning('id')) as { id: number }[]).map((row) => row.id))
  return ids
}

/** Changes a label, whatever its state; see `moveLabel` for changes that depend on it. */
export async function changeLabel(
  db: Database,
  id: number,
  change: Partial<LabelRow> & { leaseUntil?: string | null; nextAt?: string },
): Promise<void> {
  await db('labels').where({ id }).update(change)
}

/**
 * Changes a label only if it is still in the state one believes, and, given `owner`, under one's own lease; false when
 * somebody else was first.
 */
export async function moveLabel(
  db: Database,
  id: number,
  from: readonly LabelState[],
  change: Partial<LabelRow> & { leaseUntil?: string | null; nextAt?: string },
  owner?: string | null,
): Promise<boolean> {
  const label = db('labels').where({ id }).whereIn('state', from)
  if (owner) void label.where({ leaseOwner: owner })
  return (await label.update(change)) === 1
}

/** Changes labels of a state, as `moveLabel` does one; gives the numbers of those that were in it. */
export async function moveLabels(
  db: Database,
  ids: readonly number[],
  from: LabelState,
  change: Partial<LabelRow>,
): Promise<ReadonlySet<number>> {
  const moved = new Set<number>()
  for (const part of chunks(ids, 500)) {
    const rows = (await db('labels').whereIn('id', part).where({ state: from }).update(change).returning('id')) as {
      id: number
    }[]
    for (const { id } of rows) moved.add(id)
  }
  return moved
}

/** One label; undefined when there is none. */
export const labelById = (db: Database, id: number): Promise<LabelRow | undefined> => db('labels').where({ id }).first()
/** Labels by their numbers, in any order. */
export async function labelsByIds(db: Database, ids: readonly number[]): Promise<LabelRow[]> {
  const rows: LabelRow[] = []
  for (const part of chunks(ids, 500)) rows.push(...((await db('labels').whereIn('id', part)) as LabelRow[]))
  return rows
}
/** The label of a tracking link; undefined when there is none. */
export const labelByToken = (db: Database, token: string): Promise<LabelRow | undefined> =>
  db('labels').where({ token }).first()
/** What changes of the shipment behind a tracking link, but how its returns go on; undefined when there is none. */
export const newsBehind = (db: Database, token: string): Promise<object | undefined> =>
  db('labels')
    .where({ token })
    .first('state', 'status', 'tracking_number', 'arrives_on', 'delivered_at', {
      news: db('tracking_events').max('id').whereRaw('tracking_events.label_id = labels.id'),
      words: db('customer_words').max('id').whereRaw('customer_words.order_id = labels.order_id'),
      answered: db('customer_words').count('closed_at').whereRaw('customer_words.order_id = labels.order_id'),
      returns: db('returns').max('id').whereRaw('returns.label_id = labels.id'),
    })
/** Labels by the keys under which they were asked for. */
export async function labelsByKeys(db: Database, keys: readonly string[]): Promise<LabelRow[]> {
  const rows: LabelRow[] = []
  for (const part of chunks(keys, 500)) rows.push(...((await db('labels').whereIn('key', part)) as LabelRow[]))
  return rows
}

/** All labels of an order, the oldest first. */
export const labelsOfOrder = (db: Database, order: number): Promise<LabelRow[]> =>
  db('labels').where({ orderId: order }).orderBy('id')
/** All labels of a batch. */
export const labelsOfBatch = (db: Database, batch: number): Promise<LabelRow[]> =>
  db('labels').where({ batchId: batch }).orderBy('position')

/** Labels by the tracking number of any of their parcels, with the parcel's place. */
export async function labelsByNumbers(
  db: Database,
  carrier: string,
  numbers: readonly string[],
): Promise<Map<string, { readonly label: LabelRow; readonly position: number }>> {
  const found = new Map<string, { label: LabelRow; position: number }>()
  for (const part of chunks(numbers, 500)) {
    const rows = (await db('label_parcels')
      .join('labels', 'labels.id', 'label_parcels.label_id')
      .where({ carrier })
      .whereIn('label_parcels.tracking_number', part)
      .select('labels.*', {
        parcelNumber: 'label_parcels.tracking_number',
        parcelPosition: 'label_parcels.position',
      })) as (LabelRow & { parcelNumber: string; parcelPosition: number })[]
    for (const { parcelNumber, parcelPosition, ...label } of rows)
      found.set(parcelNumber, { label, position: parcelPosition })
  }
  return found
}

/** Labels by the number with which one of their parcels comes back. */
export async function labelsByReturn(
  db: Database,
  carrier: string,
  numbers: readonly string[],
): Promise<Map<string, { readonly label: LabelRow; readonly position: number }>> {
  const found = new Map<string, { label: LabelRow; position: number }>()
  for (const part of chunks(numbers, 500)) {
    const rows = (await db('label_parcels')
      .join('labels', 'labels.id', 'label_parcels.label_id')
      .where({ carrier })
      .whereIn('return_number', part)
      .select('labels.*', { back: 'return_number', place: 'label_parcels.position' })) as (LabelRow & {
      back: string
      place: number
    })[]
    for (const { back, place, ...label } of rows) found.set(back, { label, position: place })
  }
  return found
}

export interface BatchSummary {
  readonly id: number
  readonly author: string
  readonly madeAt: string
  readonly quoted: number
  /** What it is called as a wave, and until when it has to leave; empty and null for others. */
  readonly name: string
  readonly leavesBy: string | null
  readonly labels: number
  readonly queued: number
  readonly bought: number
  readonly failed: number
  readonly voided: number
  readonly charged: number
  readonly printed: number
  readonly dispatched: number
  /** Checked at a bench. */
  readonly checked: number
}

/** How many batches there are. */
export const countBatches = (db: Database): Promise<number> => countAll(db('batches'))

/** Batches with their sums, the newest first, so many of them; or one alone. */
export async function batchSummaries(
  db: Database,
  which: { readonly id: number } | { readonly most: number; readonly skip: number },
): Promise<BatchSummary[]> {
  const count = (states: string): ReturnType<Database['raw']> =>
    db.raw(`SUM(CASE WHEN labels.state IN (${states}) THEN 1 ELSE 0 END)`)
  const query = db('batches')
    .leftJoin('labels', 'labels.batch_id', 'batches.id')
    .select('batches.id', 'batches.author', 'batches.made_at', 'batches.quoted', 'batches.name', 'batches.leaves_by', {
      labels: db.raw('COUNT(labels.id)'),
      queued: count(`'queued'`),
      bought: count(`'bought','voiding'`),
      failed: count(`'failed'`),
      voided: count(`'voided'`),
      charged: db.raw(
        `COALESCE(SUM(CASE WHEN labels.state IN ('bought','voiding') THEN labels.charged ELSE 0 END), 0)`,
      ),
      printed: db.raw('SUM(CASE WHEN labels.printed_at IS NOT NULL THEN 1 ELSE 0 END)'),
      dispatched: db.raw('SUM(CASE WHEN labels.dispatched_at IS NOT NULL THEN 1 ELSE 0 END)'),
      checked: db.raw('SUM(CASE WHEN labels.checked_at IS NOT NULL THEN 1 ELSE 0 END)'),
    })
    .groupBy('batches.id')
    .orderBy('batches.id', 'desc')

  if ('id' in which) void query.where('batches.id', which.id)
  else void query.limit(which.most).offset(which.skip)
  return query
}

/** Where the labels of batches leave from, and by which services; `waiting` when some are not handed over yet. */
export async function waysOfBatches(
  db: Database,
  ids: readonly number[],
): Promise<{ batch: number; location: string; carrier: string; service: string; waiting: boolean }[]> {
  const rows = (await db('labels')
    .whereIn('batch_id', ids)
    .whereIn('state', ['queued', 'bought', 'voiding'])
    .select('batch_id', 'location', 'carrier', 'service', {
      waiting: db.raw('SUM(CASE WHEN dispatched_at IS NULL THEN 1 ELSE 0 END)'),
    })
    .groupBy('batch_id', 'location', 'carrier', 'service')) as {
    batchId: number
    location: string
    carrier: string
    service: string
    waiting: number
  }[]
  return rows.map(({ batchId, waiting, ...way }) => ({ batch: batchId, ...way, waiting: Number(waiting) > 0 }))
}

/** Labels that were asked for more than twice and are not bought. */
export const countStuckLabels = (db: Database): Promise<number> =>
  countAll(db('labels').where({ state: 'queued' }).where('attempts', '>', 2))

/** What the labels of a carrier that are on order will cost, home minor units; they are not booked yet. */
export async function onOrderAt(db: Database, carrier: string): Promise<number> {
  const [row] = (await db('labels').where({ carrier, state: 'queued' }).sum({ n: 'quoted' })) as { n: number | null }[]
  return Number(row?.n ?? 0)
}

/** Labels of an account that are on order, or can still be voided; `alone` counts those too that name no account. */
export async function countOpenLabels(
  db: Database,
  { carrier, account, alone }: { carrier: string; account: string; alone: boolean },
): Promise<number> {
  return countAll(
    db('labels')
      .where({ carrier })
      .where((q) => void (alone ? q : q.where({ account })))
      .whereIn('state', ['queued', 'bought', 'voiding']),
  )
}

/** Number and buyer of the orders in a batch. */
export async function namesInBatch(
  db: Database,
  batch: number,
): Promise<{ id: number; number: string; buyer: string }[]> {
  return (await db('labels')
    .join('orders', 'orders.id', 'labels.order_id')
    .where('labels.batch_id', batch)
    .select('orders.id', 'orders.number', 'orders.buyer')) as { id: number; number: string; buyer: string }[]
}

/** Marks labels as printed now, those that were not before. */
export async function markLabelsPrinted(db: Database, ids: readonly number[], now: string): Promise<void> {
  for (const part of chunks(ids, 500))
    await db('labels').whereIn('id', part).whereNull('printed_at').update({ printedAt: now })
}

const bearers = { carriers: 'carrier', services: 'service', locations: 'location' } as const

/** How many labels, bought or not, name a carrier, service, location or package preset. */
export async function countUses(db: Database, list: string, id: string): Promise<number> {
  const query =
    list === 'presets'
      ? db('label_parcels').where({ preset: id })
      : list in bearers && db('labels').where({ [bearers[list as keyof typeof bearers]]: id })
  if (!query) return 0
  return countAll(query)
}

/** The order of the newest label that was bought; undefined when there is none. */
export const newestLabelled = async (db: Database): Promise<number | undefined> =>
  (
    (await db('labels').where({ state: 'bought' }).orderBy('id', 'desc').first('order_id')) as
      { orderId: number } | undefined
  )?.orderId

/** Whether any label was ever queued: from then on there are books. */
export const anyLabel = async (db: Database): Promise<boolean> => (await db('labels').first('id')) !== undefined
