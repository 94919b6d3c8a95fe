/** The moment that a backup's name tells: `20261129T092705Z`, perhaps after a word. */
export function momentOfName(name: string): number {
  const [, year, month, day, hour, minute, second] = /(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)Z$/.exec(name) ?? []
  return Date.parse(`${year}-${month}-${day}T${hour}:${minute}:${second}Z`)
}

/** The name of a backup that is made now. */
export const nameOfMoment = (now: Date): string => now.toISOString().replace(/[-:]|\.\d+/g, '')

const day = 86_400_000

/**
 * Which backups are kept: all of the last three days, and of what is older the last one of each of 14 days, of 8 weeks
 * and of 12 months; the two newest always.
 */
export function keptBackups(names: readonly string[], now: Date): ReadonlySet<string> {
  const newestFirst = [...names].sort((a, b) => momentOfName(b) - momentOfName(a))
  const kept = new Set(newestFirst.filter((name, i) => i < 2 || now.getTime() - momentOfName(name) < 3 * day))
  const spans: readonly [days: number, spanOf: (moment: number) => string][] = [
    [14, (moment) => new Date(moment).toISOString().slice(0, 10)],
    // Days since a Monday, by sevens.
    [56, (moment) => String(Math.floor((moment / day + 3) / 7))],
    [366, (moment) => new Date(moment).toISOString().slice(0, 7)],
  ]
  for (const [days, spanOf] of spans) {
    const seen = new Set<string>()
    for (const name of newestFirst) {
      const moment = momentOfName(name)
      if (now.getTime() - moment > days * day || seen.has(spanOf(moment))) continue
      seen.add(spanOf(moment))
      kept.add(name)
    }
  }
  return kept
}
