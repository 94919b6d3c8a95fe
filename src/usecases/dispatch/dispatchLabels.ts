import { labelsOfBatch } from '@/data'
import { currentWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'
import { handOverUnscanned } from './door/handedOver'

/**
 * Marks the labels of a batch as handed over, on manifests of their own; channels that are told at dispatch are told
 * now. What was not checked stays where the location asks for it.
 */
export async function dispatchBatch(
  gharry: Application,
  batch: number,
): Promise<Answer<{ dispatched: number; unchecked: number }>> {
  return gharry.db.transaction(async (trx) => {
    const labels = await labelsOfBatch(trx, batch)
    if (labels.length === 0) return refuse('unknown-batch', 'There is no such batch: nothing was handed over.')
    const { world } = await currentWorld(trx)
    const asked = new Set(world.locations.filter((location) => location.checked).map(({ id }) => id))
    const here = labels.filter((label) => label.state === 'bought' && !label.dispatchedAt)
    const ready = here.filter((label) => !asked.has(label.location) || label.checkedAt !== null)
    const unchecked = here.length - ready.length
    if (ready.length === 0 && unchecked > 0)
      return refuse(
        'not-known',
        `Nothing was handed over: ${unchecked === 1 ? 'its parcel was' : `${unchecked} parcels were`} not checked at a bench, as the location asks for.`,
      )
    return { ok: true, dispatched: await handOverUnscanned(gharry, trx, ready), unchecked }
  })
}
