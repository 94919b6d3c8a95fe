import { traced } from '@/adapters'
import { changeHeld, flagStuckLabel, LeaseLost, putBack, type WorkTable } from '@/data'
import type { Application } from '../shared/application'

/** A row of work that one holds. */
export type Piece = { readonly id: number; readonly attempts: number; readonly leaseOwner?: string | null }

// An error that Gharry itself makes does not go away by itself: after so many tries a person has to look.
const maxErrors = 20

/**
 * Does one piece of work. Nothing is swallowed: when it fails, its row keeps the reason and comes back later; after
 * many failures it stays with its reason where people see it. Only a label goes on being asked for, as it may have been
 * bought: its order says so.
 */
export async function guarded(
  gharry: Application,
  table: WorkTable,
  row: Piece,
  work: () => Promise<void>,
): Promise<void> {
  try {
    await traced(`work on ${table}`, { 'gharry.attempts': row.attempts }, work)
  } catch (error) {
    if (error instanceof LeaseLost)
      return gharry.log.warn({ table, id: row.id }, 'somebody else has taken it meanwhile')
    gharry.log.error({ table, id: row.id, err: error }, 'work failed')
    const problem = `An error in Gharry: ${error instanceof Error ? error.message.slice(0, 200) : 'unknown'}`
    if (row.attempts + 1 < maxErrors) return putBack(gharry.db, table, row, gharry.now(), problem)
    if (table !== 'labels')
      return changeHeld(gharry.db, table, row, {
        state: 'failed',
        problem: `${problem} Given up after ${maxErrors} tries.`,
        leaseUntil: null,
      })
    await flagStuckLabel(gharry.db, row.id, problem)
    await putBack(gharry.db, table, row, gharry.now(), problem, 600)
  }
}
