import { addJob, changeJob, fromJson, type JobRow, keepLease, seeToStale, staleSkus } from '@/data'
import type { Application } from '../../shared/application'
import { routePageWith } from '../../shared/routeOrders'
import { rulebookInForce } from '../../shared/rulebookInForce'

const mostSkus = 5000

/** Has waiting orders decided again that hold what has come into stock, has run out, or was corrected. */
export async function heedStock({ db, now }: Application): Promise<void> {
  // Most rounds find nothing, and ask no right to write for it.
  const skus = await staleSkus(db, mostSkus)
  if (skus.length === 0) return
  await db.transaction(async (trx) => {
    const at = now().toISOString()
    await seeToStale(trx, skus)
    await addJob(trx, 'stock', `stock-${at}-${skus[0]}`, { after: 0, skus }, at)
  })
}

/** Does such a job, a page a transaction; a killed worker goes on where it was. */
export async function routeForStock(gharry: Application, job: JobRow): Promise<void> {
  const { db } = gharry
  const payload = fromJson<{ after: number; skus: string[] }>(job.payload)
  const skus = new Set(payload.skus)
  for (let { after } = payload; ;) {
    const from = after
    const inForce = await rulebookInForce(gharry)
    if (!inForce || gharry.stopping?.()) return
    const last = await db.transaction(async (trx) => {
      const end = await routePageWith(gharry, trx, inForce, skus, from)
      if (end !== null) await changeJob(trx, job.id, { payload: JSON.stringify({ ...payload, after: end }) })
      await keepLease(trx, 'jobs', job, gharry.now(), gharry.settings.leaseSeconds)
      return end
    })
    if (last === null) return
    after = last
    await new Promise((resolve) => setImmediate(resolve))
  }
}
