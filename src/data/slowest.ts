/** A statement that took long: without its values, which are nobody's business here. */
export interface SlowStatement {
  readonly sql: string
  /** The longest time, milliseconds. */
  readonly ms: number
  readonly times: number
  /** When it was last slow. */
  readonly at: string
}

const slowFrom = 100
const mostKept = 40
const mostShown = 10
const forgetMs = 3_600_000
const kept = new Map<string, { ms: number; times: number; at: number }>()

/** Notes how long a statement took. */
export function noteTime(sql: string, ms: number): void {
  if (ms < slowFrom) return
  // Lists of values of any length are one statement.
  const shape = sql.replace(/\?(?:, \?)+/g, '?, …').slice(0, 400)
  const before = kept.get(shape)
  kept.set(shape, { ms: Math.max(ms, before?.ms ?? 0), times: (before?.times ?? 0) + 1, at: Date.now() })
  if (kept.size > mostKept) kept.delete([...kept].sort(([, a], [, b]) => a.ms - b.ms)[0]![0])
}

/** The slowest statements of the last hour in this process, the slowest first. */
export function slowestStatements(): SlowStatement[] {
  const since = Date.now() - forgetMs
  return [...kept]
    .filter(([, { at }]) => at >= since)
    .sort(([, a], [, b]) => b.ms - a.ms)
    .slice(0, mostShown)
    .map(([sql, { ms, times, at }]) => ({ sql, ms: Math.round(ms), times, at: new Date(at).toISOString() }))
}
