import type { Grams } from '@/core/units'
import { type Database, fromJson, toJson } from './database'
import type { OutboxRow } from './outbox'

/** What is asked of a carrier for a day, without what the location itself says. */
export interface CollectionPlan {
  readonly from: string
  readonly until: string
  readonly place: string
  readonly notes: string
  readonly parcels: number
  readonly pallets: number
  readonly weight: Grams
}

/** A collection of a day. */
export interface CollectionRow extends OutboxRow {
  readonly carrier: string
  readonly location: string
  readonly day: string
  readonly key: string
  /** The agreement that it comes of; null for one that was asked for by hand. */
  readonly agreement: string | null
  /**
   * `own`: booked by a person, kept here; `queued`, `changing`, `cancelling`: the carrier is being asked;
   * `failed`: it does not come.
   */
  readonly state: 'own' | 'queued' | 'booked' | 'changing' | 'cancelling' | 'cancelled' | 'failed'
  readonly wish: CollectionPlan
  /** What it is being changed to; null while it is not. */
  readonly change: CollectionPlan | null
  readonly confirmation: string
  /** Home minor units. */
  readonly cost: number
  /** What the carrier changed by itself, as a sentence. */
  readonly note: string
  readonly author: string
}

/** A row as the table has it, for the worker. */
export type StoredCollection = Omit<CollectionRow, 'wish' | 'change'> & { wish: string; change: string | null }
/** Reads a row. */
export const collectionOfRow = ({ wish, change, ...row }: StoredCollection): CollectionRow => ({
  ...row,
  wish: fromJson(wish),
  change: change === null ? null : fromJson(change),
})

/** Writes a collection; the same key is one. Gives its number, undefined when it was there. */
export async function addCollection(
  db: Database,
  row: Pick<
    CollectionRow,
    'carrier' | 'location' | 'day' | 'key' | 'agreement' | 'state' | 'wish' | 'confirmation' | 'author'
  >,
  now: string,
): Promise<number | undefined> {
  const [made] = (await db('collections')
    .insert({ ...row, wish: toJson(row.wish), madeAt: now, nextAt: now })
    .onConflict('key')
    .ignore()
    .returning('id')) as { id: number }[]
  return made?.id
}

/** A collection; undefined when there is none. */
export const collectionById = async (db: Database, id: number): Promise<CollectionRow | undefined> => {
  const row: StoredCollection | undefined = await db('collections').where({ id }).first()
  return row && collectionOfRow(row)
}

/** Collections of a span of days (both included), those that come first first. */
export const collectionsBetween = async (db: Database, from: string, until: string): Promise<CollectionRow[]> =>
  ((await db('collections').whereBetween('day', [from, until]).orderBy(['day', 'id'])) as StoredCollection[]).map(
    collectionOfRow,
  )

/** Changes a collection of a state; false when it has another one meanwhile. */
export async function changeCollection(
  db: Database,
  id: number,
  from: readonly CollectionRow['state'][],
  { wish, change, ...rest }: Partial<Omit<CollectionRow, 'id'>>,
): Promise<boolean> {
  return (
    (await db('collections')
      .where({ id })
      .whereIn('state', from)
      .update({
        ...rest,
        ...(wish ? { wish: toJson(wish) } : {}),
        ...(change === undefined ? {} : { change: change && toJson(change) }),
      })) === 1
  )
}

/** Collections that are booked for a day or later and were not asked about since a moment. */
export const collectionsToSee = async (
  db: Database,
  from: string,
  seenBefore: string,
  most: number,
): Promise<CollectionRow[]> =>
  (
    (await db('collections')
      .where({ state: 'booked' })
      .where('day', '>=', from)
      .where((q) => void q.whereNull('seen_at').orWhere('seen_at', '<', seenBefore))
      .orderBy(['day', 'id'])
      .limit(most)) as StoredCollection[]
  ).map(collectionOfRow)
/** Writes that the carrier was asked how a collection stands. */
export const noteSeen = (db: Database, id: number, at: string): Promise<number> =>
  db('collections').where({ id }).update({ seenAt: at })
