import { countAll } from './countAll'
import { type Database, fromJson, toJson } from './database'
import { onlyItemIs, standing } from './engine'

/** One parcel at a bench. */
export interface CheckRow {
  readonly id: number
  readonly labelId: number
  readonly position: number
  readonly orderId: number
  readonly bench: string
  readonly author: string
  /** `aside`: it was put away for a reason; `left`: somebody else took it over. */
  readonly state: 'open' | 'done' | 'aside' | 'left'
  /** How many of each line are in the parcel. */
  readonly counted: readonly number[]
  /** Grams, as measured; null where it was not weighed. */
  readonly weight: number | null
  /** Grams, as it was worked out. */
  readonly computed: number
  readonly why: string
  readonly beganAt: string
  readonly doneAt: string | null
}

/** One scan of a check; `undone` counts no more. */
export interface ScanRow {
  readonly id: number
  readonly checkId: number
  readonly key: string
  readonly at: string
  readonly code: string
  readonly verdict: 'right' | 'surplus' | 'wrong' | 'own' | 'unreadable' | 'undone'
  readonly line: number | null
  readonly pieces: number
}

type Stored = Omit<CheckRow, 'counted'> & { readonly counted: string }
const checkOf = (row: Stored | undefined): CheckRow | undefined => row && { ...row, counted: fromJson(row.counted) }

/** Begins a check; undefined when the parcel is being checked, or was. */
export async function beginCheck(
  trx: Database,
  check: Pick<CheckRow, 'labelId' | 'position' | 'orderId' | 'bench' | 'author' | 'counted' | 'computed' | 'beganAt'>,
): Promise<number | undefined> {
  const [row] = (await trx('checks')
    .insert({ ...check, counted: toJson(check.counted), state: 'open' })
    .onConflict(trx.raw(`(label_id, position) WHERE state IN ('open', 'done')`))
    .ignore()
    .returning('id')) as { id: number }[]
  return row?.id
}

/** A check; undefined when there is none. */
export const checkById = async (db: Database, id: number): Promise<CheckRow | undefined> =>
  checkOf((await db('checks').where({ id }).first()) as Stored | undefined)

/** The check of a parcel that is open or done; undefined when there is none. */
export const checkOfParcel = async (db: Database, labelId: number, position: number): Promise<CheckRow | undefined> =>
  checkOf(
    (await db('checks').where({ labelId, position }).whereIn('state', ['open', 'done']).first()) as Stored | undefined,
  )

/** The checks of an order's parcels, the oldest first. */
export const checksOfOrder = async (db: Database, orderId: number): Promise<CheckRow[]> =>
  ((await db('checks').where({ orderId }).orderBy('id')) as Stored[]).map((row) => checkOf(row)!)

/** Changes a check that is still open; false when it is not. */
export async function changeCheck(
  db: Database,
  id: number,
  change: Partial<Pick<CheckRow, 'state' | 'counted' | 'weight' | 'why' | 'doneAt'>>,
): Promise<boolean> {
  const { counted, ...rest } = change
  const changed = await db('checks')
    .where({ id, state: 'open' })
    .update({ ...rest, ...(counted ? { counted: toJson(counted) } : {}) })
  return Number(changed) === 1
}

/** Opens a check that was done once more. */
export async function reopenCheck(trx: Database, { id, labelId }: Pick<CheckRow, 'id' | 'labelId'>): Promise<void> {
  await trx('checks').where({ id, state: 'done' }).update({ state: 'open', doneAt: null })
  await trx('labels').where({ id: labelId }).update({ checkedAt: null })
}

/** Writes a scan down; false when it was written before. */
export async function addScan(trx: Database, scan: Omit<ScanRow, 'id'>): Promise<boolean> {
  const made = (await trx('check_scans').insert(scan).onConflict('key').ignore().returning('id')) as unknown[]
  return made.length === 1
}

/** The scans of a check, the oldest first. */
export const scansOf = (db: Database, check: number): Promise<ScanRow[]> =>
  db('check_scans').where({ checkId: check }).orderBy('id')

/** Takes a scan out of the count. */
export async function undoScan(trx: Database, id: number): Promise<void> {
  await trx('check_scans').where({ id }).update({ verdict: 'undone' })
}

/** Writes to a label that all of its parcels are checked, once they are; else that they are not. */
export async function markChecked(trx: Database, label: number, at: string): Promise<void> {
  const all = (await trx('label_parcels').where({ labelId: label }).count({ n: '*' })) as { n: number }[]
  const done = (await trx('checks').where({ labelId: label, state: 'done' }).count({ n: '*' })) as { n: number }[]
  const whole = Number(done[0]?.n ?? 0) >= Number(all[0]?.n ?? 0)
  await trx('labels')
    .where({ id: label })
    .update({ checkedAt: whole ? at : null })
}

/** How many parcels a bench has checked since a moment. */
export const countChecked = (db: Database, bench: string, since: string): Promise<number> =>
  countAll(db('checks').where({ bench, state: 'done' }).where('done_at', '>=', since))

/** What was put aside and is neither checked since nor voided, the newest first. */
export const putAside = async (db: Database, most: number): Promise<(CheckRow & { readonly number: string })[]> =>
  (
    (await db('checks')
      .join('orders', 'orders.id', 'checks.order_id')
      .join('labels', 'labels.id', 'checks.label_id')
      .where('checks.state', 'aside')
      .where('labels.state', 'bought')
      .whereNotExists(
        db({ later: 'checks' })
          .select(db.raw('1'))
          .whereRaw('later.label_id = checks.label_id AND later.position = checks.position AND later.id > checks.id'),
      )
      .orderBy('checks.id', 'desc')
      .limit(most)
      .select('checks.*', 'orders.number')) as (Stored & { number: string })[]
  ).map(({ number, ...row }) => ({ ...checkOf(row)!, number }))

/** A parcel by its tracking number, whatever its label's state; the newest first. */
export const parcelsByNumber = (
  db: Database,
  numbers: readonly string[],
): Promise<{ labelId: number; position: number }[]> =>
  db('label_parcels').whereIn('tracking_number', numbers).orderBy('label_id', 'desc').select('label_id', 'position')

/** Orders of a number, the newest first. */
export const ordersByNumber = (db: Database, number: string): Promise<{ id: number; state: string }[]> =>
  db('orders').where({ number }).orderBy('id', 'desc').limit(20).select('id', 'state')

/**
 * The parcel that has waited longest for its check and holds nothing but so much of one SKU; undefined when there is
 * none.
 */
export const waitingSingle = (db: Database, sku: string): Promise<{ labelId: number; orderId: number } | undefined> =>
  db('labels')
    .join('order_facts', 'order_facts.order_id', 'labels.order_id')
    // Of those that have waited longest: nobody looks further than a shelf.
    .whereIn(
      'labels.id',
      db('labels')
        .whereRaw(standing)
        .where({ state: 'bought' })
        .whereNull('checked_at')
        .orderBy('id')
        .limit(2000)
        .select('id'),
    )
    .where(onlyItemIs(db, 'order_facts.facts', sku))
    .whereNotExists(
      db('checks')
        .select(db.raw('1'))
        .whereRaw(`checks.label_id = labels.id AND checks.state IN ('open', 'done', 'aside')`),
    )
    .orderBy('labels.id')
    .first({ labelId: 'labels.id', orderId: 'labels.order_id' })
