import type { Database } from './database'
import { updateMany } from './engine'
import type { LabelRow } from './labels'

/** What a carrier gave for a label that was asked for. */
export interface BoughtParcels {
  readonly label: Pick<LabelRow, 'id' | 'leaseOwner'>
  /** In home minor units. */
  readonly charged: number
  /** In their order. */
  readonly parcels: readonly {
    readonly trackingNumber: string
    readonly symbology: 'code128' | 'gs1-128'
    readonly routing: string
    readonly returnNumber?: string
  }[]
}

/**
 * Writes that labels were bought, each only if it is still queued, and under the lease of who bought it. Within a
 * transaction.
 * @returns the numbers of those that were
 */
export async function writeBought(
  trx: Database,
  bought: readonly BoughtParcels[],
  now: string,
): Promise<ReadonlySet<number>> {
  const rows = (await trx('labels')
    .whereIn(
      'id',
      bought.map(({ label }) => label.id),
    )
    .where({ state: 'queued' })
    .forUpdate()
    .select('id', 'lease_owner')) as { id: number; leaseOwner: string | null }[]
  const owners = new Map(rows.map(({ id, leaseOwner }) => [id, leaseOwner]))
  const mine = bought.filter(
    ({ label: { id, leaseOwner } }) => owners.has(id) && (!leaseOwner || owners.get(id) === leaseOwner),
  )
  const same = { state: 'bought', boughtAt: now, status: 'announced', problem: null, leaseUntil: null, attempts: 0 }
  await updateMany(
    trx,
    { table: 'labels', columns: ['trackingNumber', 'symbology', 'routing', 'charged', ...Object.keys(same)] },
    mine,
    ({ label, charged, parcels: [first] }) => [
      ...[label.id, first!.trackingNumber, first!.symbology, first!.routing, charged],
      ...Object.values(same),
    ],
  )
  await updateMany(
    trx,
    {
      table: 'label_parcels',
      key: ['labelId', 'position'],
      columns: ['trackingNumber', 'symbology', 'routing', 'returnNumber', 'status'],
    },
    mine.flatMap(({ label, parcels }) => parcels.map((parcel, i) => ({ ...parcel, label: label.id, place: i + 1 }))),
    ({ label, place, trackingNumber, symbology, routing, returnNumber = null }) => [
      ...[label, place, trackingNumber, symbology, routing, returnNumber, same.status],
    ],
  )
  return new Set(mine.map(({ label }) => label.id))
}
