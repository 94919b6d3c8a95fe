import { labelsOfBatch, moveLabel, orderRow, setShipmentState, writeLog } from '@/data'
import { tellTheWorld } from '../tracking/tellTheWorld'
import { currentWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'

/**
 * Marks the labels of a batch as handed over; channels that are told at dispatch are told now. What was not checked stays where the
 * location asks for it.
 */
export async function dispatchBatch(
  gharry: Application,
  batch: number,
): Promise<Answer<{ dispatched: number; unchecked: number }>> {
  const now = gharry.now().toISOString()
  return gharry.db.transaction(async (trx) => {
    const labels = await labelsOfBatch(trx, batch)
    if (labels.length === 0) return refuse('unknown-batch', 'There is no such batch: nothing was handed over.')
    const { world } = await currentWorld(trx)
    const checked = new Set(world.locations.filter((location) => location.checked).map(({ id }) => id))
    let dispatched = 0
    let unchecked = 0
    for (const label of labels) {
      if (label.state !== 'bought' || label.dispatchedAt) continue
      if (checked.has(label.location) && label.checkedAt === null) {
        unchecked++
        continue
      }
      await moveLabel(trx, label.id, ['bought'], { dispatchedAt: now })
      const order = (await orderRow(trx, label.orderId))!
      if (order.state === 'labelled') await setShipmentState(trx, order.id, 'dispatched')
      await tellTheWorld(gharry, trx, label.id, order, 'dispatched')
      await writeLog(trx, [
        { order: order.id, at: now, author: gharry.settings.author, sentence: 'Handed over to the carrier' },
      ])
      dispatched++
    }
    if (dispatched === 0 && unchecked > 0)
      return refuse(
        'not-known',
        `Nothing was handed over: ${unchecked === 1 ? 'its parcel was' : `${unchecked} parcels were`} not checked at a bench, as the location asks for.`,
      )
    return { ok: true, dispatched, unchecked }
  })
}
