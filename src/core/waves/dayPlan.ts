/** What stands before a cut-off, in orders. */
export interface CutOffWork {
  readonly location: string
  /** Milliseconds since 1970. */
  readonly cutOff: number
  /** To be bought; bought and not packed; packed. */
  readonly ready: number
  readonly bought: number
  readonly packed: number
  /** What needs a person before it can be bought. */
  readonly stuck: number
}

/** What is further away is not judged by one hour: nobody packs through the night. */
const furthestMs = 12 * 3_600_000

/** How a cut-off is likely to come out. */
export interface CutOffOutlook extends CutOffWork {
  /**
   * How many are likely not packed by then, at the pace of the last hour; null while nobody packs, and more than 12
   * hours before.
   */
  readonly behind: number | null
}

/**
 * Which cut-offs are likely to be missed, and by how many orders: what is before an earlier one at the same location is
 * packed first.
 * @param perHour parcels packed in the last hour, by location
 */
export function outlook(
  work: readonly CutOffWork[],
  perHour: ReadonlyMap<string, number>,
  now: number,
): readonly CutOffOutlook[] {
  const done = new Map<string, number>()
  return [...work]
    .sort((a, b) => a.cutOff - b.cutOff)
    .map((one) => {
      const pace = perHour.get(one.location) ?? 0
      const before = done.get(one.location) ?? 0
      const own = one.ready + one.bought
      done.set(one.location, before + own)
      if (pace === 0 || one.cutOff - now > furthestMs) return { ...one, behind: null }
      const can = Math.floor((pace * Math.max(0, one.cutOff - now)) / 3_600_000)
      return { ...one, behind: Math.min(own, Math.max(0, before + own - can)) }
    })
}
