import { type CutOffOutlook, formWaves, outlook, type ProposedWave, type WaveRule, waveRulesSchema } from '@/core/waves'
import { nextCutOff } from '@/core/rating'
import { documentBy, packedSince, readyOrders, saveDocument, workByWay } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'

const name = 'waves'
/** Most orders that waves are made of at a time. */
const mostReady = 20_000

/** The day at a glance: what leaves when, and how the orders that are ready gather into waves. */
export interface DayView {
  readonly now: string
  readonly cutOffs: readonly CutOffOutlook[]
  readonly waves: readonly ProposedWave[]
  readonly rules: readonly WaveRule[]
  readonly version: number
  /** How many are packed in an hour, by location, as in the last one. */
  readonly perHour: Readonly<Record<string, number>>
}

/** What leaves when, what is likely to be late for it, and the waves that the ready orders make. */
export async function showDay(gharry: Application): Promise<DayView> {
  const { db } = gharry
  const inForce = await rulebookInForce(gharry)
  const kept = await documentBy<readonly WaveRule[]>(db, name)
  const rules = kept?.published ?? []
  const now = gharry.now()
  const perHour = await packedSince(db, new Date(now.getTime() - 3_600_000).toISOString())
  const cutOffOf = inForce ? cutOffs(inForce, now.getTime()) : () => null
  const ready = await readyOrders(
    db,
    mostReady,
    rules.some(({ singles }) => singles > 0),
  )
  const waves = formWaves(
    rules,
    ready.map(({ service, ...order }) => ({ ...order, cutOff: cutOffOf(order.location, service) })),
  )
  return {
    now: now.toISOString(),
    cutOffs: outlook(await workBefore(gharry, cutOffOf), perHour, now.getTime()),
    ...{ waves, rules, version: kept?.version ?? 0, perHour: Object.fromEntries(perHour) },
  }
}

type CutOffOf = (location: string, service: string) => number | null

/** The next cut-off of a service at a location; each pair is worked out once. */
function cutOffs({ ready }: InForce, now: number): CutOffOf {
  const known = new Map<string, number | null>()
  return (location, service) => {
    const key = JSON.stringify([location, service])
    if (!known.has(key)) {
      const from = ready.world.locations.find(({ id }) => id === location)
      known.set(key, from ? nextCutOff(ready.rateBook, service, from, now) : null)
    }
    return known.get(key) ?? null
  }
}

const dayMs = 86_400_000

async function workBefore(gharry: Application, cutOffOf: CutOffOf): Promise<Parameters<typeof outlook>[0]> {
  const before = new Map<
    string,
    { location: string; cutOff: number; ready: number; bought: number; packed: number; stuck: number }
  >()
  for (const { location, service, state, n } of await workByWay(gharry.db)) {
    const cutOff = cutOffOf(location, service)
    if (cutOff === null) continue
    const key = `${location} ${cutOff}`
    const work = before.get(key) ?? { location, cutOff, ready: 0, bought: 0, packed: 0, stuck: 0 }
    before.set(key, work)
    work[state === 'attention' || state === 'held' ? 'stuck' : state] += n
  }
  // The day that begins with the next collection: over a weekend, that of Monday.
  const first = Math.min(...[...before.values()].map(({ cutOff }) => cutOff))
  return [...before.values()].filter(({ cutOff }) => cutOff < first + dayMs)
}

/** Says how orders are gathered into waves. */
export async function saveWaves(
  gharry: Application,
  { version, rules }: { readonly version: number; readonly rules: unknown },
): Promise<Answer<{ version: number }>> {
  const parsed = waveRulesSchema.safeParse(rules)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    const at = Number(issue.path[0])
    return refuse(
      'bad-value',
      `${Number.isNaN(at) ? 'Waves' : `Wave ${at + 1}`}: ${String(issue.path[1] ?? '')} ${issue.message}.`,
    )
  }
  const ids = parsed.data.map(({ id }) => id)
  if (new Set(ids).size !== ids.length) return refuse('bad-value', 'Two waves have the same identifier.')
  const saved = await saveDocument(gharry.db, name, version, parsed.data, true, gharry.now().toISOString())
  return saved
    ? { ok: true, version: version + 1 }
    : refuse('world-changed', 'Somebody else has changed the waves meanwhile: look at theirs first.')
}
