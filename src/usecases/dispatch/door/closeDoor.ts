import type { Strokes } from '@/core/handover'
import { changeManifest, labelsByIds, manifestById, orderRows, parcelsOnManifest, toJson } from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { dayAt, doorView } from './doorView'
import { closedState, handedOver } from './handedOver'

export interface Closing {
  readonly manifest: number
  /** Who takes the parcels; needed for a signature. */
  readonly driver: string
  readonly signature: Strokes
  /** How many parcels stay here, as the person saw it. */
  readonly leaving: number
  /** How many are on it, as the person saw it. */
  readonly parcels: number
}

/**
 * Closes the manifest of a lorry: its parcels are with the driver, the world is told, and the carrier gets its list.
 * What was changed while the door was being closed is said first.
 */
export async function closeDoor(
  gharry: Application,
  { manifest, driver, signature, leaving, parcels }: Closing,
): Promise<Answer<{ readonly shipments: number; readonly parcels: number }>> {
  const name = driver.trim()
  const signs = signature.some((stroke) => stroke.length > 2)
  if (signs && name === '') return refuse('incomplete', 'Enter the driver’s name beside the signature.')
  const { world } = await currentWorld(gharry.db)
  return gharry.db.transaction(async (trx): Promise<Answer<{ shipments: number; parcels: number }>> => {
    const row = await manifestById(trx, manifest)
    if (!row) return refuse('not-found', 'There is no such manifest.')
    if (row.state !== 'open') return refuse('taken', `M${manifest} is closed already: scan to open the next one.`)
    const on = await parcelsOnManifest(trx, manifest)
    if (on.length === 0) return refuse('no-orders', 'Nothing was scanned yet: there is nothing to hand over.')
    const view = await doorView(trx, row.carrier, row.location, dayAt(world, row.location, gharry.now()))
    if (on.length !== parcels || view.leaving !== leaving)
      return refuse(
        'total-moved',
        `Meanwhile ${on.length} are on it and ${view.leaving} stay here, not ${parcels} and ${leaving}: look once more and close.`,
      )
    const orders = await orderRows(trx, [...new Set(on.map(({ orderId }) => orderId))])
    const flagged = orders.find(({ flag }) => flag !== null)
    if (flagged)
      return refuse(
        'order-moved',
        `Order ${flagged.number} has changed since it was scanned: ${flagged.flag} Take it off first.`,
      )
    const now = gharry.now().toISOString()
    await changeManifest(trx, manifest, ['open'], {
      ...{ state: await closedState(trx, row.carrier, row.location), closedAt: now, nextAt: now, madeAt: now },
      ...{ driver: name, signature: signs ? toJson(signature) : null },
    })
    const labels = await labelsByIds(trx, [...new Set(on.map(({ labelId }) => labelId))])
    return { ok: true, shipments: await handedOver(gharry, trx, labels, manifest), parcels: on.length }
  })
}
