import { asRead, type BoardRow } from './board'
import type { Database } from './database'
import type { LabelRow } from './labels'
import type { OrderRow } from './orders'

/** Orders behind one, by identifier, so that a page never shifts under who reads on. */
export async function openOrders(
  db: Database,
  { state, channel, number }: { readonly state?: string; readonly channel?: string; readonly number?: string },
  after: number,
  most: number,
): Promise<OrderRow[]> {
  const query = db('orders').where('id', '>', after).orderBy('id').limit(most)
  if (state) void query.where({ state })
  if (channel) void query.where({ channelId: channel })
  if (number) void query.where({ number })
  return query as unknown as Promise<OrderRow[]>
}

/** Parcels on their way behind one (`label.position`; empty for the first). */
export async function openParcels(
  db: Database,
  { status, carrier }: { readonly status?: string; readonly carrier?: string },
  after: string,
  most: number,
): Promise<BoardRow[]> {
  const [, label = '0', position = '0'] = /^(\d{1,15})\.(\d{1,3})$/.exec(after) ?? []
  const query = db('board')
    .where(
      (q) =>
        void q
          .where('label_id', '>', Number(label))
          .orWhere((same) => void same.where('label_id', Number(label)).where('position', '>', Number(position))),
    )
    .orderBy(['label_id', 'position'])
    .limit(most)
  if (status) void query.where({ status })
  if (carrier) void query.where({ carrier })
  return ((await query) as BoardRow[]).map(asRead)
}

/** The newest label that has a parcel of this number, whoever the carrier is. */
export async function labelsByAnyNumber(db: Database, number: string): Promise<LabelRow | undefined> {
  return db('labels')
    .join('label_parcels', 'label_parcels.label_id', 'labels.id')
    .where('label_parcels.tracking_number', number)
    .orderBy('labels.id', 'desc')
    .select('labels.*')
    .first()
}

/** Orders of a number, in whatever channel, and whether each has an active label. */
export async function ordersNumbered(
  db: Database,
  number: string,
): Promise<{ id: number; state: string; labelled: boolean }[]> {
  const rows = (await db('orders')
    .where({ number })
    .select('id', 'state', {
      label: db('labels')
        .whereRaw('labels.order_id = orders.id')
        .whereIn('state', ['queued', 'bought', 'voiding'])
        .min('id'),
    })) as { id: number; state: string; label: number | null }[]
  return rows.map(({ id, state, label }) => ({ id, state, labelled: label !== null }))
}
