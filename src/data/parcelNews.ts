import { chunks, type Database } from './database'

export interface TrackingEventRow {
  readonly labelId: number
  /** Which parcel of the shipment; 0 where it is not known. */
  readonly position: number
  readonly remoteId: string
  readonly at: string
  readonly status: string
  readonly place: string
  readonly text: string
}

/** Keeps news of parcels; what is known already is left out. */
export async function addEvents(db: Database, events: readonly TrackingEventRow[]): Promise<void> {
  for (const part of chunks(events, 100))
    await db('tracking_events').insert(part).onConflict(['label_id', 'remote_id']).ignore()
}
/** News of the parcels of a label, in the order of time. */
export const eventsOf = (db: Database, label: number): Promise<TrackingEventRow[]> =>
  db('tracking_events').where({ labelId: label }).orderBy(['at', 'id'])

/** News of parcels that no label has the number of yet: it may come before the purchase is written. */
export interface EarlyEvent {
  readonly carrier: string
  readonly trackingNumber: string
  readonly remoteId: string
  readonly at: string
  readonly status: string
  readonly place: string
  readonly text: string
  readonly seenAt: string
}

/** Keeps news of parcels whose purchase is not recorded yet. */
export async function keepEarlyEvents(db: Database, events: readonly EarlyEvent[]): Promise<void> {
  for (const part of chunks(events, 100))
    await db('early_events').insert(part).onConflict(['carrier', 'tracking_number', 'remote_id']).ignore()
}

/** What was kept for these numbers; it is given once. */
export async function takeEarlyEvents(
  db: Database,
  carrier: string,
  numbers: readonly string[],
): Promise<EarlyEvent[]> {
  const found: EarlyEvent[] = await db('early_events')
    .where({ carrier })
    .whereIn('tracking_number', numbers)
    .orderBy('id')
  if (found.length > 0) await db('early_events').where({ carrier }).whereIn('tracking_number', numbers).delete()
  return found
}

/** Numbers that nobody bought a label for are not waited for longer than this moment. */
export async function forgetEarlyEvents(db: Database, before: string): Promise<void> {
  await db('early_events').where('seen_at', '<', before).delete()
}

/** How far a carrier’s news were read; empty before the first time. */
export async function carrierCursor(db: Database, account: string): Promise<string> {
  const row: { cursor: string } | undefined = await db('carrier_cursors').where({ carrier: account }).first()
  return row?.cursor ?? ''
}
/** Keeps how far a carrier’s news were read. */
export async function setCarrierCursor(db: Database, account: string, cursor: string): Promise<void> {
  await db('carrier_cursors').insert({ carrier: account, cursor }).onConflict('carrier').merge()
}
