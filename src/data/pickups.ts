import type { Database } from './database'
import { standing } from './engine'

/** A shipment on the shelf of a counter. */
export interface PickupRow {
  readonly labelId: number
  readonly orderId: number
  readonly location: string
  /** The place on the shelf. */
  readonly place: string
  /** What the buyer was told to say. */
  readonly code: string
  readonly shelvedAt: string
  readonly author: string
  /** From this day on it is asked about. */
  readonly askOn: string
  readonly remindedAt: string | null
  readonly handedAt: string | null
  readonly handedTo: string
  /** Strokes, as JSON; null without a signature. */
  readonly signature: string | null
  readonly putBackAt: string | null
}
/** The same with what names it. */
export type PickupLine = PickupRow & {
  readonly number: string
  readonly buyer: string
  readonly city: string
  readonly parcels: number
}

const lines = (db: Database): ReturnType<Database> =>
  db('pickups')
    .join('orders', 'orders.id', 'pickups.order_id')
    .select('pickups.*', 'orders.number', 'orders.buyer', 'orders.city', {
      parcels: db.raw('(SELECT COUNT(*) FROM label_parcels WHERE label_parcels.label_id = pickups.label_id)'),
    }) as ReturnType<Database>
const onShelf = (db: Database): ReturnType<Database> =>
  lines(db).whereNull('pickups.handed_at').whereNull('pickups.put_back_at') as ReturnType<Database>

/** Puts a shipment on the shelf, or on another one; its code stays as it was told. */
export async function shelve(
  trx: Database,
  row: Pick<PickupRow, 'labelId' | 'orderId' | 'location' | 'place' | 'code' | 'shelvedAt' | 'author' | 'askOn'>,
): Promise<void> {
  await trx('pickups').insert(row).onConflict('label_id').merge(['place'])
}
/** What is on the shelf for a label; undefined when nothing is, or was. */
export const pickupOf = async (db: Database, label: number): Promise<PickupLine | undefined> =>
  (await lines(db).where('pickups.label_id', label).first()) as PickupLine | undefined
/** Whether a code is in use at a counter. */
export const isCodeTaken = async (db: Database, code: string): Promise<boolean> =>
  (await onShelf(db).where('pickups.code', code).first()) !== undefined

/** What is on the shelf of a location, what is to be asked about first; `most` at most. */
export const onTheShelf = async (db: Database, location: string, most: number): Promise<PickupLine[]> =>
  (await onShelf(db)
    .where('pickups.location', location)
    .orderBy(['pickups.ask_on', 'pickups.shelved_at'])
    .limit(most)) as PickupLine[]
/** What is on the shelf under a code, an order's number, or for a name; the oldest first. */
export const findOnShelf = async (db: Database, location: string, words: string): Promise<PickupLine[]> =>
  (await onShelf(db)
    .where('pickups.location', location)
    .where(
      (q) =>
        void q
          .where('pickups.code', words.toUpperCase())
          .orWhere('orders.number', words.toUpperCase())
          .orWhereRaw(`LOWER(orders.buyer) LIKE ? ESCAPE '\\'`, [
            `%${words.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`,
          ]),
    )
    .orderBy('pickups.shelved_at')
    .limit(20)) as PickupLine[]
/** What was handed out last. */
export const handedOutLast = async (db: Database, location: string, most: number): Promise<PickupLine[]> =>
  (await lines(db)
    .where('pickups.location', location)
    .whereNotNull('pickups.handed_at')
    .orderBy('pickups.handed_at', 'desc')
    .limit(most)) as PickupLine[]

/** Changes what is on the shelf still; false when it is not there any more. */
export async function changePickup(
  db: Database,
  label: number,
  change: Partial<Omit<PickupRow, 'labelId'>>,
): Promise<boolean> {
  return (
    (await db('pickups').where({ labelId: label }).whereNull('handed_at').whereNull('put_back_at').update(change)) === 1
  )
}

/** A shipment that is to be put on a shelf. */
export interface ToShelve {
  readonly labelId: number
  readonly orderId: number
  readonly number: string
  readonly buyer: string
  readonly checkedAt: string | null
}
/** What was bought by these services at a location and is on no shelf, the oldest first. */
export const toShelve = (
  db: Database,
  location: string,
  services: readonly string[],
  most: number,
): Promise<ToShelve[]> =>
  db('labels')
    .whereIn(
      'labels.id',
      db('labels').whereRaw(standing).where({ state: 'bought', location }).whereIn('service', services).select('id'),
    )
    .join('orders', 'orders.id', 'labels.order_id')
    .orderBy('labels.id')
    .limit(most)
    .select({
      ...{ labelId: 'labels.id', orderId: 'orders.id', number: 'orders.number', buyer: 'orders.buyer' },
      checkedAt: 'labels.checked_at',
    }) as unknown as Promise<ToShelve[]>
