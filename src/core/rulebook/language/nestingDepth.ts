/** Groups within groups: what is deeper was not written by a person, and is refused before anything walks it. */
export const maxDepth = 100

/** Whether a plain value nests deeper than so many levels; told without recursion, so that nothing overflows. */
export function isDeeperThan(value: unknown, most: number): boolean {
  let level: unknown[] = [value]
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > most) return true
    const next: unknown[] = []
    for (const one of level)
      if (typeof one === 'object' && one !== null)
        for (const inner of Object.values(one)) if (typeof inner === 'object' && inner !== null) next.push(inner)
    level = next
  }
  return false
}
