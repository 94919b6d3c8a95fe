import type { Database } from '@/data'
import { editMany, undoEdit } from '@/usecases/desk/editMany'
import { previewEdit } from '@/usecases/desk/previewEdit'
import { showWays } from '@/usecases/desk/waysOut'
import type { Application } from '@/usecases/shared/application'
import { timed as timedAnyhow } from './desk'
import { benchIntake } from './intake'

export interface DecidingFigures {
  readonly orders: number
  /** Milliseconds: chosen, looked at (the first time, and again), applied, and put back. */
  readonly chosen: number
  readonly first: number
  readonly preview: number
  readonly applied: number
  readonly undone: number
  /** Exceptions, and milliseconds for the ways out of all of them. */
  readonly exceptions: number
  readonly ways: number
}

/**
 * 5,000 waiting orders edited at once, and the ways out of 1,000 exceptions, on books with as many orders as are asked
 * for.
 */
export async function benchDeciding(count: number): Promise<DecidingFigures> {
  let figures: DecidingFigures | undefined
  await benchIntake(count, async (db) => {
    const at = '2026-11-20T08:00:00.000Z'
    const gharry = {
      ...{ db, now: () => new Date(at), settings: { author: 'bench' } },
    } as unknown as Application
    const waiting = await ids(db, 'ready', 5000)
    const edits = [
      { do: 'pin', decision: 'insurance', value: { cover: 'order value' } } as const,
      { do: 'tag', add: ['bench'], remove: [] } as const,
    ]
    const look = () => previewEdit(gharry, { orders: waiting, edits })
    // As the panel does when it opens.
    const chosen = await timed(() => previewEdit(gharry, { orders: waiting, edits: [] }))
    const first = await timed(look)
    const preview = await timed(look)
    const applied = await timed(() => editMany(gharry, { key: 'bench edit', orders: waiting, edits }))
    const [{ id }] = (await db('edits').select('id')) as [{ id: number }]
    const undone = await timed(() => undoEdit(gharry, id))
    const stuck = await ids(db, 'attention', 1000)
    const ways = await timed(() => showWays(gharry, stuck))
    figures = { orders: waiting.length, chosen, first, preview, applied, undone, exceptions: stuck.length, ways }
  })
  return figures!
}

/** What the import before it left in memory is not the server's, which does not import. */
const timed = (work: () => Promise<unknown>): Promise<number> => {
  global.gc?.()
  return timedAnyhow(work)
}

const ids = async (db: Database, state: string, most: number): Promise<number[]> =>
  db('orders').where({ state }).orderBy('id').limit(most).pluck<number[]>('id')
