import type { Database } from '@/data'

const read = new WeakMap<object, Map<string, Promise<unknown>>>()

/**
 * Reads something once in a transaction: what it writes for many rests on it, and it does not change it itself. Outside
 * of a transaction it is read each time.
 */
export function onceIn<T>(trx: Database, what: string, load: () => Promise<T>): Promise<T> {
  if (!trx.isTransaction) return load()
  const own = read.get(trx) ?? new Map<string, Promise<unknown>>()
  read.set(trx, own)
  // A query asks anew each time that it is waited for; what was read is kept, not the query.
  const known = (own.get(what) as Promise<T> | undefined) ?? Promise.resolve(load())
  own.set(what, known)
  return known
}
