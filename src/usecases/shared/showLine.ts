import {
  claimSums,
  countByState,
  countOpenImports,
  countRefusedHandOvers,
  countStuckLabels,
  pendingSum,
  readDraft,
  versionsInForce,
  workByState,
} from '@/data'
import { illConnections } from '../intake/connections'
import type { Application } from './application'
import { sellersDay } from './sellersDay'

export interface LineStop {
  readonly count: number
  readonly stuck: number
}
export type LineView = Readonly<Record<'intake' | 'rules' | 'desk' | 'dispatch' | 'tracking' | 'ledger', LineStop>>

/** The live counts along the line: what waits at each stop, and what is stuck there. */
export async function showLine(gharry: Application): Promise<LineView> {
  const { db } = gharry
  const states = await countByState(db)
  const n = (state: Parameters<typeof states.get>[0]): number => states.get(state) ?? 0
  const since = new Date(gharry.now().getTime() - 3 * 86_400_000).toISOString()
  const imports = await countOpenImports(db, since)
  const ill = await illConnections(gharry)
  const stuckLabels = await countStuckLabels(db)
  const posts = await workByState(db, 'posts')
  const notices = await workByState(db, 'notices')
  const handOvers = await workByState(db, 'handovers')
  const draft = await readDraft(db)
  const { edition } = await versionsInForce(db, gharry.now().toISOString())
  const { n: refunds } = await pendingSum(db)
  const owed = (await claimSums(db)).reduce((sum, { state, n: of }) => sum + (state === 'owed' ? of : 0), 0)
  return {
    intake: { count: imports.open, stuck: imports.stuck + ill },
    rules: { count: draft?.rulebook.rules.length ?? 0, stuck: edition === 0 ? 1 : 0 },
    desk: { count: n('attention') + n('held') + n('ready'), stuck: n('attention') },
    dispatch: {
      count: n('ready') + n('buying'),
      stuck: stuckLabels + (await countRefusedHandOvers(db, await sellersDay(gharry, db))),
    },
    tracking: {
      count: n('labelled') + n('dispatched'),
      stuck: (posts.failed ?? 0) + (notices.failed ?? 0) + (handOvers.failed ?? 0),
    },
    ledger: { count: refunds + owed, stuck: 0 },
  }
}
