import type { World } from '@/core/world'

/** Entries that are told one by one; of more, only how many. */
const mostTold = 40
const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b)

/** What an entry of a list is known by. */
const keyOf = (entry: unknown): string | null => {
  const { id, sku, channel } = (entry ?? {}) as { id?: unknown; sku?: unknown; channel?: unknown }
  const key = id ?? sku ?? channel
  return typeof key === 'string' ? key : null
}

type Told = Record<string, unknown>

/** What is different between two worlds, list by list and entry by entry: before and after, for the audit. */
export function worldChange(before: World, after: World): { readonly before: Told; readonly after: Told } {
  const told = { before: {} as Told, after: {} as Told }
  for (const name of new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof World>) {
    const [was, is] = [before[name], after[name]] as [unknown, unknown]
    if (same(was, is)) continue
    const entries = Array.isArray(was) && Array.isArray(is) ? changedEntries(was, is) : null
    if (entries === null) [told.before[name], told.after[name]] = [brief(was), brief(is)]
    else if (entries.size > mostTold) told.after[name] = `${entries.size} entries changed`
    else
      for (const [key, [old, now]] of entries) {
        if (old !== undefined) told.before[`${name} ${key}`] = old
        if (now !== undefined) told.after[`${name} ${key}`] = now
      }
  }
  return told
}

/** The entries that are not the same in both lists, by their keys; null when they have none. */
function changedEntries(was: readonly unknown[], is: readonly unknown[]): Map<string, [unknown, unknown]> | null {
  const old = new Map(was.map((entry) => [keyOf(entry), entry]))
  const now = new Map(is.map((entry) => [keyOf(entry), entry]))
  if (old.has(null) || now.has(null) || old.size < was.length || now.size < is.length) return null
  const changed = new Map<string, [unknown, unknown]>()
  for (const key of new Set([...old.keys(), ...now.keys()]) as Set<string>)
    if (!same(old.get(key), now.get(key))) changed.set(key, [old.get(key), now.get(key)])
  return changed
}

const brief = (value: unknown): unknown => {
  const text = JSON.stringify(value) as string | undefined
  return text !== undefined && text.length > 4000 ? `… (${text.length} characters)` : value
}
