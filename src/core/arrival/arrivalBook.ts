import { type Day, dayOf, dayText, weekday as weekdayOf } from '@/core/calendar'

/** The lane of a parcel: by which service, from which location, to which zone and country. */
export interface Way {
  readonly service: string
  readonly location: string
  readonly zone: string
  readonly country: string
}

/** How parcels of a lane came that were foreseen for a weekday. */
export interface LaneArrivals extends Way {
  /** 1 is Monday (ISO 8601). */
  readonly weekday: number
  /** Pairs: days after the foreseen day (before it: negative), and how many parcels. */
  readonly came: readonly (readonly [days: number, parcels: number])[]
}

/** Chances are per mille; days are `YYYY-MM-DD`. Null where nothing is known of a service at all. */
export interface ArrivalBook {
  /** The chance that a parcel comes by a day, `after` the day by which it is known not to have come. */
  readonly chance: (way: Way, foreseen: string, by: string, after?: string) => number | null
  /** The first day by which it comes with at least this chance. */
  readonly day: (way: Way, foreseen: string, permille: number, after?: string) => string | null
}

/** Where fewer than this share came so late, nothing is learned from them. */
const hardlyAny = 0.004
const earliest = -7
const latest = 28
const span = latest - earliest + 1
/** So many parcels of the wider lane count beside those of the narrower one. */
const weight = 12

/** How many came, by days after the foreseen one. */
type Counts = Float64Array

const at = (days: number): number => Math.min(latest, Math.max(earliest, days)) - earliest

/**
 * Learns from parcels that came. A narrow lane with few parcels leans on the wider one around it: service; to this zone
 * and country; from this location; on this weekday. (Counts of the wider lane as a Dirichlet prior of the weight of 12
 * parcels.)
 */
export function arrivalBook(history: readonly LaneArrivals[]): ArrivalBook {
  const sums = new Map<string, Counts>()
  for (const lane of history)
    for (const key of keysOf(lane, lane.weekday)) {
      const counts = sums.get(key) ?? new Float64Array(span)
      for (const [days, parcels] of lane.came) counts[at(days)]! += parcels
      sums.set(key, counts)
    }
  const learned = new Map<string, Counts | null>()

  /** The chances of a lane as a running sum over the days; null when its service is not known. */
  function chancesOf(way: Way, weekday: number): Counts | null {
    const keys = keysOf(way, weekday)
    const own = keys[keys.length - 1]!
    const known = learned.get(own)
    if (known !== undefined) return known
    let prior: Counts | null = null
    for (const key of keys) {
      const counts = sums.get(key)
      if (counts) prior = leaning(counts, prior)
    }
    const running = prior && runningSum(prior)
    learned.set(own, running)
    return running
  }

  return {
    chance: (way, foreseen, by, after) => {
      const day = dayOf(foreseen)
      const running = chancesOf(way, weekdayOf(day))
      return running && perMille(conditional(running, dayOf(by) - day, after, day))
    },
    day: (way, foreseen, permille, after) => {
      const day = dayOf(foreseen)
      const running = chancesOf(way, weekdayOf(day))
      if (!running) return null
      for (let days = earliest; days < latest; days++)
        if (conditional(running, days, after, day) * 1000 >= permille) return dayText(day + days)
      return dayText(day + latest)
    },
  }
}

// What is exactly between two is the upper one, however the sum was reached.
const perMille = (chance: number): number => Math.round(1000 * chance + 1e-9)

/** The chance that it comes within so many days, when it had not come by the day `after`. */
function conditional(running: Counts, days: number, after: string | undefined, foreseen: Day): number {
  const by = days < earliest ? 0 : running[at(days)]!
  if (after === undefined) return by
  const gone = dayOf(after) - foreseen
  if (days <= gone) return 0
  const missed = gone < earliest ? 0 : running[at(gone)]!
  // Later than any before it: nobody knows, and tomorrow is as good as the day after.
  return 1 - missed < hardlyAny ? Math.min(1, (days - gone) / 3) : (by - missed) / (1 - missed)
}

/** From the widest lane to the narrowest. */
const keysOf = ({ service, location, zone, country }: Way, weekday: number): readonly string[] => [
  service,
  `${service}|${zone}|${country}`,
  `${service}|${zone}|${country}|${location}`,
  `${service}|${zone}|${country}|${location}|${weekday}`,
]

function leaning(counts: Counts, prior: Counts | null): Counts {
  const all = counts.reduce((sum, n) => sum + n, 0)
  const lean = prior ? weight : 0
  return counts.map((n, i) => (n + lean * (prior ? prior[i]! : 0)) / (all + lean))
}

function runningSum(chances: Counts): Counts {
  let sum = 0
  return chances.map((chance) => (sum = Math.min(1, sum + chance)))
}
