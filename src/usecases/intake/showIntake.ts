import { channelKindOf } from '@/adapters'
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

/** A channel, and what can be done with it. */
export interface ChannelView extends ChannelRow {
  readonly can: { readonly fetch: boolean; readonly files: boolean; readonly told: boolean }
}
export interface IntakeView {
  readonly channels: readonly ChannelView[]
  readonly imports: readonly ImportRow[]
  /** Why orders need a person, the most frequent first. */
  readonly reasons: readonly { readonly reason: string; readonly orders: number }[]
}
export const showIntake = async (gharry: Application): Promise<IntakeView> => ({
  channels: (await listChannels(gharry.db))
    .filter(({ retired }) => !retired)
    .map((channel) => ({
      ...channel,
      can: channelKindOf(channel.kind)?.can ?? { fetch: false, files: false, told: false },
    })),
  imports: await recentImports(gharry.db),
  reasons: await countReasons(gharry.db),
})
export const showImportProblems = (gharry: Application, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)
