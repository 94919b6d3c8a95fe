import { addUses, type Uses } from '@/data'
import type { Application } from '../shared/application'

/** What a process has counted by itself since it told the books. */
interface Counted {
  readonly told: Promise<Uses & { readonly at: number }>
  since: number
}
const counts = new WeakMap<object, Map<string, Counted>>()
/** So long a process counts by itself: what others have counted meanwhile is known a second later. */
const alone = 1000

/**
 * Counts a call in a while of `ms` that all servers share, without asking the books each time; gives how many there were
 * with it.
 */
export async function countCall(gharry: Application, key: string, ms: number): Promise<Uses> {
  const { db, now } = gharry
  const own = counts.get(db) ?? new Map<string, Counted>()
  counts.set(db, own)
  const before = own.get(key)
  const told = await before?.told.catch(() => undefined)
  const kept = own.get(key)
  // Another call may have asked the books while this one waited.
  if (before && kept !== before) return countCall(gharry, key, ms)
  const passed = performance.now() - (told?.at ?? -Infinity)
  if (kept && told && passed < alone && passed < told.msLeft) {
    kept.since++
    return { used: told.used + kept.since, msLeft: told.msLeft - passed }
  }
  const fresh: Counted = {
    told: addUses(db, key, (kept?.since ?? 0) + 1, ms, now()).then((uses) => ({ ...uses, at: performance.now() })),
    since: 0,
  }
  own.set(key, fresh)
  return fresh.told
}
