import { channelKindOf } from '@/adapters'
import {
  countImports,
  countReasons,
  importsPage,
  listChannels,
  openImports,
  problemsOf,
  type ChannelRow,
  type ImportProblem,
  type ImportRow,
} from '@/data'
import type { Application } from '../shared/application'

/** A channel, and what can be done with it. */
export interface ChannelView extends ChannelRow {
  readonly can: { readonly fetch: boolean; readonly files: boolean; readonly told: boolean }
  /** Its orders are being fetched. */
  readonly fetching: boolean
}
export interface IntakeView {
  readonly channels: readonly ChannelView[]
  /** A page of the imports, the newest first, of so many. */
  readonly imports: readonly ImportRow[]
  readonly pageSize: number
  readonly total: number
  /** Imports are queued or running. */
  readonly busy: boolean
  /** Why orders need a person, the most frequent first. */
  readonly reasons: readonly { readonly reason: string; readonly orders: number }[]
}
const pageSize = 30

/** All channels, and the imports after the newest `skip`. */
export async function showIntake({ db }: Application, skip = 0): Promise<IntakeView> {
  const open = await openImports(db)
  return {
    channels: (await listChannels(db))
      .filter(({ retired }) => !retired)
      .map((channel) => ({
        ...channel,
        can: channelKindOf(channel.kind)?.can ?? { fetch: false, files: false, told: false },
        fetching: open.some(({ channelId, kind }) => channelId === channel.id && kind === 'fetch'),
      })),
    imports: await importsPage(db, pageSize, skip),
    ...{ pageSize, total: await countImports(db), busy: open.length > 0 },
    reasons: await countReasons(db),
  }
}

export const showImportProblems = (gharry: Application, id: number): Promise<ImportProblem[]> =>
  problemsOf(gharry.db, id, 500)
