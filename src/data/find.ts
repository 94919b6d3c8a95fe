import type { Database } from './database'
import { whereFound } from './engine'

/** An order that was found, with what a caller would ask first. */
export interface FoundOrder {
  readonly id: number
  readonly number: string
  readonly buyer: string
  readonly city: string
  readonly country: string
  readonly state: string
  readonly placedAt: string
}
/** A parcel that was found by its number. */
export interface FoundParcel {
  readonly orderId: number
  readonly number: string
  readonly trackingNumber: string
  readonly status: string
}

const columns = ['id', 'number', 'buyer', 'city', 'country', 'state', 'placed_at']

/** Orders whose number or e-mail address begins so, in its order. */
const beginningWith = async (
  db: Database,
  column: 'number' | 'email',
  text: string,
  most: number,
): Promise<FoundOrder[]> =>
  (await db('orders')
    .where(column, '>=', text)
    .where(column, '<', `${text}\uffff`)
    .orderBy(column)
    .limit(most)
    .select(columns)) as FoundOrder[]

/**
 * Orders by number, buyer, e-mail, telephone number, place, SKU: those whose number begins with the words first, then
 * the youngest that hold all of them. Words shorter than three letters only narrow by the number.
 */
export async function findOrders(db: Database, text: string, most: number): Promise<FoundOrder[]> {
  const whole = text.trim()
  if (whole.length < 2) return []
  const numbered = await beginningWith(db, 'number', whole, most)
  const words = whole.toLowerCase().split(/\s+/)
  if (words.length === 1 && whole.includes('@')) {
    const mailed = await beginningWith(db, 'email', whole.toLowerCase(), most)
    // A part of one from its middle is looked for as any other text.
    if (mailed.length > 0) return mailed
  }
  const long = words.filter((word) => word.length >= 3)
  if (long.length === 0 || numbered.length >= most) return numbered
  const query = db('orders').orderBy('orders.id', 'desc').limit(most).select(columns)
  whereFound(query, long, 200)
  const known = new Set(numbered.map(({ id }) => id))
  return [...numbered, ...((await query) as FoundOrder[]).filter(({ id }) => !known.has(id))].slice(0, most)
}

/** Parcels whose number begins so, on their way or of the past. */
export async function findParcels(db: Database, number: string, most: number): Promise<FoundParcel[]> {
  if (number.length < 4) return []
  const sent = (await db('label_parcels')
    .join('labels', 'labels.id', 'label_parcels.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .where('label_parcels.tracking_number', '>=', number)
    .where('label_parcels.tracking_number', '<', `${number}\uffff`)
    .orderBy('label_parcels.tracking_number')
    .limit(most)
    .select({
      orderId: 'orders.id',
      number: 'orders.number',
      trackingNumber: 'label_parcels.tracking_number',
      status: db.raw(
        `CASE labels.state WHEN 'bought' THEN COALESCE(label_parcels.status, 'announced') ELSE labels.state END`,
      ),
    })) as FoundParcel[]
  return [...sent, ...(await findComingBack(db, number, most))].slice(0, most)
}

/** What comes back under a number that begins so. */
const findComingBack = async (db: Database, number: string, most: number): Promise<FoundParcel[]> =>
  (await db('returns')
    .join('orders', 'orders.id', 'returns.order_id')
    .where('returns.tracking_number', '>=', number)
    .where('returns.tracking_number', '<', `${number}\uffff`)
    .orderBy('returns.tracking_number')
    .limit(most)
    .select({
      orderId: 'orders.id',
      number: 'orders.number',
      trackingNumber: 'returns.tracking_number',
      status: db.raw(`'coming back'`),
    })) as FoundParcel[]
