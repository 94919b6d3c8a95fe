import type { Database } from '@/data'

/**
 * How long the right to write is held, of which there is one: in transactions from the moment they have it, and in
 * single statements that write.
 */
export function timeOfWriting(db: Database): () => { readonly ms: number; readonly times: number } {
  const began = new Map<string, number>()
  let [ms, times] = [0, 0]
  const isBegin = (sql: string): boolean => /^BEGIN IMMEDIATE|pg_advisory_xact_lock/.test(sql)
  const isEnd = (sql: string): boolean => /^(?:COMMIT|ROLLBACK)/.test(sql)
  const end = (key: string): void => {
    const from = began.get(key)
    if (from === undefined) return
    began.delete(key)
    ms += performance.now() - from
    times++
  }
  const inTransaction = new Set<string>()
  db.on('query', ({ sql, __knexUid: uid, __knexQueryUid: query }: Said) => {
    if (!inTransaction.has(uid) && /^(?:insert|update|delete)/i.test(sql)) began.set(query, performance.now())
  })
  db.on('query-response', (_answer: unknown, { sql, __knexUid: uid, __knexQueryUid: query }: Said) => {
    if (isBegin(sql)) {
      inTransaction.add(uid)
      began.set(uid, performance.now())
    } else if (isEnd(sql)) {
      inTransaction.delete(uid)
      end(uid)
    } else end(query)
  })
  return () => ({ ms, times })
}

interface Said {
  readonly sql: string
  /** Of the connection, and of the query. */
  readonly __knexUid: string
  readonly __knexQueryUid: string
}
