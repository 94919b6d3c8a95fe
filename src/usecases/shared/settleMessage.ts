import type { CallResult } from '@/adapters'
import { changeHeld, putBack, releaseWaiting, type Message, type OutboxRow } from '@/data'
import type { Application } from './application'

// Nothing is given up before a day: most outages end sooner.
const patience = 86_400_000
const minAttempts = 12

/**
 * Writes down how a message went: sent, refused for good, or to be tried again. Once it was sent, what else waits for
 * `of` is due at once. `more` is written with it.
 */
export async function settleMessage(
  gharry: Application,
  table: Message | 'letters' | 'webhook_messages' | 'manifests',
  row: OutboxRow,
  result: CallResult<unknown>,
  of: Readonly<Record<string, string>>,
  more: Readonly<Record<string, unknown>> = {},
): Promise<void> {
  const { db } = gharry
  const now = gharry.now()
  const change = (values: { state: 'sent' | 'failed'; problem: string | null; sentAt?: string }): Promise<void> =>
    changeHeld(db, table, row, { ...values, ...more, leaseUntil: null })
  if (result.ok) {
    await change({ state: 'sent', problem: null, sentAt: now.toISOString() })
    return releaseWaiting(db, table, of, now)
  }
  gharry.log.warn({ [table]: row.id, kind: result.kind }, 'not delivered')
  if (result.kind === 'refused') return change({ state: 'failed', problem: result.sentence })
  if (row.attempts + 1 >= minAttempts && now.getTime() - Date.parse(row.madeAt) >= patience)
    return change({
      state: 'failed',
      problem: `${result.sentence} Given up after ${row.attempts + 1} tries in ${Math.floor((now.getTime() - Date.parse(row.madeAt)) / 3_600_000)} hours.`,
    })
  return putBack(db, table, row, now, result.sentence, result.retryAfter)
}
