import { randomBytes } from 'node:crypto'
import {
  addManifest,
  addToManifest,
  changeManifest,
  type Database,
  type LabelRow,
  moveLabels,
  orderRows,
  parcelsOfLabels,
  setShipmentState,
  whollyHandedOver,
  writeLog,
} from '@/data'
import type { Application } from '../../shared/application'
import { carrierCan } from '../../shared/carrierCan'
import { tellTheWorld } from '../../tracking/tellTheWorld'

/** A name for a manifest that the carrier has never heard of, even from a Gharry that began anew. */
export const freshReference = (): string => `M-${randomBytes(5).toString('hex').toUpperCase()}`

/**
 * Writes what follows once parcels are with the driver: their shipments are on the way, channels and customers that are
 * told at dispatch are told. A shipment some of whose parcels are still here waits for them. Gives how many shipments
 * left.
 */
export async function handedOver(
  gharry: Application,
  trx: Database,
  labels: readonly LabelRow[],
  manifest: number,
): Promise<number> {
  const now = gharry.now().toISOString()
  const whole = await whollyHandedOver(
    trx,
    labels.map(({ id }) => id),
  )
  const ready = labels.filter(({ id, dispatchedAt }) => whole.has(id) && dispatchedAt === null)
  const moved = await moveLabels(
    trx,
    ready.map(({ id }) => id),
    'bought',
    { dispatchedAt: now },
  )
  const leaving = ready.filter(({ id }) => moved.has(id))
  const orderIds = leaving.map(({ orderId }) => orderId)
  const orders = new Map((await orderRows(trx, orderIds)).map((row) => [row.id, row]))
  await setShipmentState(
    trx,
    [...orders.values()].filter(({ state }) => state === 'labelled').map(({ id }) => id),
    'dispatched',
  )
  const shipped = leaving.map(({ id, orderId }) => ({ label: id, order: orders.get(orderId)! }))
  await tellTheWorld(gharry, trx, 'dispatched', shipped)
  const sentence = `Handed over to the carrier, manifest M${manifest}`
  await writeLog(
    trx,
    orderIds.map((order) => ({ order, at: now, author: gharry.settings.author, sentence })),
  )
  return leaving.length
}

/** What becomes of a manifest that is closed: the carrier is told where it can be. */
export const closedState = async (db: Database, carrier: string, location: string): Promise<'queued' | 'kept'> =>
  (await carrierCan(db, carrier, location)).manifests ? 'queued' : 'kept'

/**
 * Hands labels over without scans: all their parcels that are on no manifest yet, on one of their own for each carrier
 * and location. Gives how many shipments left.
 */
export async function handOverUnscanned(
  gharry: Application,
  trx: Database,
  labels: readonly LabelRow[],
): Promise<number> {
  const now = gharry.now().toISOString()
  const { author } = gharry.settings
  const parcels = await parcelsOfLabels(
    trx,
    labels.map(({ id }) => id),
  )
  const ways = new Map<string, LabelRow[]>()
  for (const label of labels) {
    const key = JSON.stringify([label.carrier, label.location])
    ways.set(key, [...(ways.get(key) ?? []), label])
  }
  let left = 0
  for (const some of ways.values()) {
    const { carrier, location } = some[0]!
    const id = await addManifest(trx, { carrier, location, reference: freshReference(), author }, now, true)
    await addToManifest(
      trx,
      id,
      some.flatMap((label) => parcels.get(label.id) ?? []).map(({ labelId, position }) => ({ labelId, position })),
      { containerId: null, scanned: false, at: now, author },
    )
    await changeManifest(trx, id, ['kept'], { state: await closedState(trx, carrier, location), closedAt: now })
    left += await handedOver(gharry, trx, some, id)
  }
  return left
}
