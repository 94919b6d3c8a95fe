import { addNotices, noticesOfOrder, orderRow, silencedBy, unsilence, writeLog, type NoticeRow } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'

/** Sends the last notice of an order by a medium once more, at once: a person asked for it. */
export async function sendNoticeAgain(
  gharry: Application,
  orderId: number,
  medium: NoticeRow['medium'],
): Promise<Answer<{ recipient: string }>> {
  const { db } = gharry
  const order = await orderRow(db, orderId)
  if (!order) return refuse('missing', 'There is no such order (any more).')
  const rows = (await noticesOfOrder(db, orderId)).filter((row) => row.medium === medium && row.state !== 'waiting')
  const last = rows.at(-1)
  if (!last) return refuse('missing', 'Nothing was sent to this customer yet.')
  const recipient = medium === 'mail' ? order.email : last.recipient
  if (recipient === '') return refuse('bad-value', 'The order has no e-mail address.')
  const silenced = await silencedBy(db, recipient)
  if (silenced)
    return refuse(
      'in-use',
      silenced.why === 'stopped'
        ? 'The customer wants no more messages: only when they say otherwise, write to them again.'
        : `What was sent there came back (${silenced.said}): correct the address, or write there again.`,
    )
  const now = gharry.now().toISOString()
  const { labelId, step, position, day, place } = last
  const key = `${last.key.replace(/-again-\d+$/, '')}-again-${rows.length}`
  await db.transaction(async (trx) => {
    const again = { orderId, labelId, recipient, key, step, medium, position, day, place, sendAfter: now }
    await addNotices(trx, [again], now)
    await writeLog(trx, [
      { order: orderId, at: now, author: gharry.settings.author, sentence: `The notice “${step}” is sent again` },
    ])
  })
  return { ok: true, recipient }
}

/** Writes to a customer again who wanted no more, or where what was sent came back: a person says so. */
export async function writeToThemAgain(gharry: Application, orderId: number, address: string): Promise<Answer<object>> {
  if (!(await silencedBy(gharry.db, address))) return refuse('missing', 'This address is written to.')
  const at = gharry.now().toISOString()
  await gharry.db.transaction(async (trx) => {
    await unsilence(trx, address)
    await writeLog(trx, [
      { order: orderId, at, author: gharry.settings.author, sentence: 'The customer is written to again' },
    ])
  })
  return { ok: true }
}
