import { labelsOfBatch, moveLabel, orderRow, setShipmentState, writeLog } from '@/data'
import { tellTheWorld } from '../tracking/tellTheWorld'
import { refuse, type Answer, type Application } from '../shared/application'

/** Marks the labels of a batch as handed over; channels that are told at dispatch are told now. */
export async function dispatchBatch(gharry: Application, batch: number): Promise<Answer<{ dispatched: number }>> {
  const now = gharry.now().toISOString()
  return gharry.db.transaction(async (trx) => {
    const labels = await labelsOfBatch(trx, batch)
    if (labels.length === 0) return refuse('unknown-batch', 'There is no such batch: nothing was handed over.')
    let dispatched = 0
    for (const label of labels) {
      if (label.state !== 'bought' || label.dispatchedAt) continue
      await moveLabel(trx, label.id, ['bought'], { dispatchedAt: now })
      const order = (await orderRow(trx, label.orderId))!
      if (order.state === 'labelled') await setShipmentState(trx, order.id, 'dispatched')
      await tellTheWorld(gharry, trx, label.id, order, 'dispatched')
      await writeLog(trx, [
        { order: order.id, at: now, author: gharry.settings.author, sentence: 'Handed over to the carrier' },
      ])
      dispatched++
    }
    return { ok: true, dispatched }
  })
}
