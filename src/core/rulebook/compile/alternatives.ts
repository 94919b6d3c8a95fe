import { type Condition, membersOf } from '@/core/rulebook/language'

/** Which facts and item tests a condition looks at, by their keys. */
export type SourcesOf = (condition: Condition) => ReadonlySet<string>

/**
 * The ways in which a condition holds: it does when all parts of one of them do, and each part looks at one source.
 * (The disjunctive normal form, with parts on the same source kept together.) A condition that never holds has no way.
 * Null when there are more than `most`.
 *
 *     any of (to a company, quantity > 3)  →  [[to a company], [quantity > 3]]
 */
export function waysToHold(condition: Condition, sourcesOf: SourcesOf, most: number): Condition[][] | null {
  return ways(condition, true, sourcesOf, most)
}

function ways(condition: Condition, holds: boolean, sourcesOf: SourcesOf, most: number): Condition[][] | null {
  if (sourcesOf(condition).size === 1) return [[holds ? condition : { none: [condition] }]]
  const members = membersOf(condition)
  // By De Morgan: where it must not hold, all of its members turns into any of them, and any into all.
  const each = 'none' in condition ? !holds : holds
  const needsAll = 'any' in condition ? !holds : holds
  return needsAll
    ? product(
        members.map((member) => ways(member, each, sourcesOf, most)),
        most,
      )
    : union(members, each, sourcesOf, most)
}

/** The ways in which all of several conditions hold, given the ways of each. */
export function product(lists: readonly (readonly Condition[][] | null)[], most: number): Condition[][] | null {
  let found: Condition[][] = [[]]
  for (const list of lists) {
    if (list === null) return null
    found = found.flatMap((way) => list.map((more) => [...way, ...more]))
    if (found.length > most) return null
  }
  return found
}

function union(members: readonly Condition[], each: boolean, sourcesOf: SourcesOf, most: number): Condition[][] | null {
  const bySource = new Map<string, Condition[]>()
  const found: Condition[][] = []
  for (const member of members) {
    const used = [...sourcesOf(member)]
    if (used.length === 1) {
      const together = bySource.get(used[0]!) ?? []
      together.push(each ? member : { none: [member] })
      bySource.set(used[0]!, together)
    } else {
      const more = ways(member, each, sourcesOf, most)
      if (more === null) return null
      found.push(...more)
    }
  }
  for (const together of bySource.values()) found.push([together.length === 1 ? together[0]! : { any: together }])
  return found.length > most ? null : found
}
