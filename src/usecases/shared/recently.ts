/** What all pages of customers rest on changes seldom: it is read again after a second, or when it is changed here. */
const keptMs = 1000
const kept = new WeakMap<object, Map<string, { readonly at: number; readonly value: Promise<unknown> }>>()

/** What `load` gave within the last second, for a database and by a name; else what it gives now. */
export function recently<T>(db: object, name: string, load: () => Promise<T>): Promise<T> {
  const own = kept.get(db) ?? new Map<string, { readonly at: number; readonly value: Promise<unknown> }>()
  kept.set(db, own)
  const now = performance.now()
  const known = own.get(name)
  if (known && now - known.at < keptMs) return known.value as Promise<T>
  // A query asks anew each time that it is waited for; what was read is kept, not the query.
  const value = Promise.resolve(load())
  own.set(name, { at: now, value })
  // What could not be read is not kept.
  value.catch(() => own.delete(name))
  return value
}

/** Reads it again the next time. */
export const forgetRecent = (db: object, name: string): void => void kept.get(db)?.delete(name)
