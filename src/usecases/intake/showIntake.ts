import { listChannels, problemsOf, recentImports, type ChannelRow, type ImportProblem, type ImportRow } from '@/data'
import type { Application } from '../shared/application'

export interface IntakeView {
  readonly channels: readonly ChannelRow[]
  readonly imports: readonly ImportRow[]
}
export const showIntake = async (gharry: Application): Promise<IntakeView> => ({
  channels: await listChannels(gharry.db),
  imports: await recentImports(gharry.db),
})
export const showImportProblems = (gharry: Application, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)
