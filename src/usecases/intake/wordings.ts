import { isMapped, readyWordings, type WordingTable, wordingTables, type World } from '@/core/world'
import { countWordings, listChannels, newestWorld } from '@/data'
import { changeWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'

export interface WordingsView {
  readonly version: number
  readonly channels: readonly {
    readonly id: string
    readonly name: string
    readonly table: WordingTable
    /** Wordings of the last 90 days with their orders, the most frequent first, and whether a row is about them. */
    readonly seen: readonly { readonly wording: string; readonly orders: number; readonly mapped: boolean }[]
  }[]
  readonly presets: readonly { readonly id: string; readonly name: string }[]
  readonly services: readonly { readonly id: string; readonly name: string }[]
}

/** What each channel's checkout wording means, and which wordings nobody has said anything about. */
export async function showWordings(gharry: Application): Promise<WordingsView> {
  const { db } = gharry
  const newest = await newestWorld(db)
  const tables = newest?.world.wordings ?? []
  const ready = readyWordings(tables)
  const seen = await countWordings(db, new Date(gharry.now().getTime() - 90 * 86_400_000).toISOString())
  const named = (
    list: readonly { readonly id: string; readonly name: string }[] = [],
  ): { id: string; name: string }[] => list.map(({ id, name }) => ({ id, name }))
  return {
    version: newest?.version ?? 0,
    presets: named(newest?.world.presets),
    services: named(newest?.world.services),
    channels: (await listChannels(db)).map(({ id, name }) => ({
      id,
      name,
      table: tables.find((table) => table.channel === id) ?? { channel: id, rows: [] },
      seen: seen
        .filter((row) => row.channel === id)
        .map(({ wording, orders }) => ({ wording, orders, mapped: isMapped(ready, id, wording) })),
    })),
  }
}

/**
 * Replaces the wording table of a channel: a new version of the world, and all waiting orders are routed again at once.
 * `version` is the world that the editor began from; somebody else's change is not overwritten.
 */
export async function changeWordings(
  gharry: Application,
  channel: string,
  content: unknown,
  version: number,
): Promise<Answer<{ version: number }>> {
  const known = (await listChannels(gharry.db)).find(({ id }) => id === channel)
  if (!known) return refuse('unknown-channel', `There is no channel "${channel}".`)
  const parsed = wordingTables.safeParse([{ channel, rows: content }])
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse(
      'bad-table',
      `Row ${Number(issue.path[2] ?? 0) + 1}: ${issue.path.slice(3).join(' › ')} ${issue.message}.`,
    )
  }
  const table = parsed.data[0] as WordingTable
  return changeWorld(gharry, version, `The wording table of ${known.name} changed`, (world) => {
    const missing = missingIn(table, world)
    return missing
      ? refuse('missing', missing)
      : { ...world, wordings: [...(world.wordings ?? []).filter((other) => other.channel !== channel), table] }
  })
}

function missingIn({ rows }: WordingTable, world: World): string | null {
  for (const [i, { gives }] of rows.entries()) {
    if (gives.preset !== undefined && !world.presets.some(({ id }) => id === gives.preset))
      return `Row ${i + 1}: the package preset "${gives.preset}" does not exist.`
    const { pick } = gives
    if (pick?.by === 'service' && !world.services.some(({ id }) => id === pick.service))
      return `Row ${i + 1}: the service "${pick.service}" does not exist.`
  }
  return null
}
