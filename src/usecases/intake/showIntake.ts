import { listChannels, problemsOf, recentImports, type ChannelRow, type ImportProblem, type ImportRow } from '@/data'
import type { Gharry } from '../shared/application'

export interface IntakeView {
  readonly channels: readonly ChannelRow[]
  readonly imports: readonly ImportRow[]
}
export const showIntake = async (gharry: Gharry): Promise<IntakeView> => ({
  channels: await listChannels(gharry.db),
  imports: await recentImports(gharry.db),
})
export const showImportProblems = (gharry: Gharry, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)
