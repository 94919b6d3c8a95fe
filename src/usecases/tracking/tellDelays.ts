import { labelById, lateUntold, noteTold, waitingNotices } from '@/data'
import type { Application } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'
import { dayStillAhead } from './dayStillAhead'
import { tellCustomer } from './notices'

const dayMs = 86_400_000
const atOnce = 100
/** What is late by more is a matter for people. */
const longest = 14
/** A new day is named that holds for so many of a hundred: nobody wants to be put off twice. */
const sure = 80

/** Tells customers whose parcels are late, once for each day that they are put off to. */
export async function tellDelays(gharry: Application): Promise<void> {
  const { db } = gharry
  const now = gharry.now()
  const today = now.toISOString().slice(0, 10)
  const oldest = new Date(now.getTime() - longest * dayMs).toISOString().slice(0, 10)
  const rows = await lateUntold(db, today, oldest, atOnce)
  if (rows.length === 0) return
  const arrivals = (await rulebookInForce(gharry))?.ready.arrivals
  const byLabel = new Map(rows.map((row) => [row.labelId, row]))
  for (const row of byLabel.values())
    await db.transaction(async (trx) => {
      const label = await labelById(trx, row.labelId)
      if (!label) return
      const day = dayStillAhead(arrivals, row, label.arrivesOn, sure, today) ?? ''
      const late = rows.filter(({ labelId }) => labelId === row.labelId)
      for (const { position } of late)
        await tellCustomer(gharry, trx, { orderId: row.orderId, labelId: label.id, step: 'delayed', position, day })
      const told = (await waitingNotices(trx, [row.orderId])).some(({ step }) => step === 'delayed')
      await noteTold(trx, label.id, told ? day || today : '-')
    })
}
