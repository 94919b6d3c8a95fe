import { cleanTrackingNumber } from '@/core/tracking'
import { formatMoney, toHome } from '@/core/units'
import { addReturnFile, changeHeld, putBack, returnColumns, type ReturnRow, writeLog } from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { earlyNews } from '../earlyNews'
import { takeReturnNews } from './returnNews'
import { tellReturn } from './answerReturn'

/**
 * Asks a carrier for the label of a return; the same key at every try, so it is made once. Where it refuses, a person
 * answers.
 */
export async function makeReturnLabel(gharry: Application, row: ReturnRow): Promise<void> {
  const { db } = gharry
  const client = await gharry.carrier(row.carrier, { account: row.account, location: row.location })
  const result = row.request ? await client?.returnLabel?.(row.request, row.key) : undefined
  if (!result || (!result.ok && result.kind === 'refused'))
    return changeHeld(db, 'returns', row, {
      state: 'asked',
      problem: result
        ? `The carrier refused the label: ${result.sentence}`
        : 'Its carrier gives no return labels here.',
      leaseUntil: null,
    })
  if (!result.ok) return putBack(db, 'returns', row, gharry.now(), result.sentence, result.retryAfter)
  const number = cleanTrackingNumber(result.body.trackingNumber) ?? ''
  if (number === '') return putBack(db, 'returns', row, gharry.now(), 'It gave no tracking number.', 60)
  const { symbology, routing, code, validUntil, charge, document } = result.body
  const { world } = await currentWorld(db)
  await db.transaction(async (trx) => {
    const now = gharry.now().toISOString()
    await changeHeld(trx, 'returns', row, {
      ...returnColumns({ state: 'ready', trackingNumber: number, symbology, routing, code, validUntil }),
      ...{ charge: toHome(charge, world.rates) ?? 0, problem: null, leaseUntil: null, sentAt: now },
    })
    if (document)
      await addReturnFile(trx, {
        ...{ returnId: row.id, what: 'pdf', type: 'application/pdf', content: document.content },
      })
    const sentence = `Return label ${number}, ${formatMoney(charge)} when it is used`
    await writeLog(trx, [{ order: row.orderId, at: now, author: 'Gharry', sentence }])
    await tellReturn(gharry, trx, row, 'return agreed')
    await takeReturnNews(gharry, trx, row.carrier, await earlyNews(trx, row.carrier, [number]))
  })
}
