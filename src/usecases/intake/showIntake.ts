import {
  countReasons,
  listChannels,
  problemsOf,
  recentImports,
  type ChannelRow,
  type ImportProblem,
  type ImportRow,
} from '@/data'
import type { Application } from '../shared/application'

export interface IntakeView {
  readonly channels: readonly ChannelRow[]
  readonly imports: readonly ImportRow[]
  /** Why orders need a person, the most frequent first. */
  readonly reasons: readonly { readonly reason: string; readonly orders: number }[]
}
export const showIntake = async (gharry: Application): Promise<IntakeView> => ({
  channels: await listChannels(gharry.db),
  imports: await recentImports(gharry.db),
  reasons: await countReasons(gharry.db),
})
export const showImportProblems = (gharry: Application, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)
