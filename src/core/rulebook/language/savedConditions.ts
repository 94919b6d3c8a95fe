import { type Condition, isItemSum, isItemTest, isSaved, membersOf } from './rulebook'

type SavedConditions = ReadonlyMap<string, Condition>

interface Expanded {
  readonly cyclic: ReadonlySet<string>
  readonly conditions: Map<string, Condition>
}

// What was expanded from a set of saved conditions is one object each, however often it is named.
const expanded = new WeakMap<SavedConditions, Expanded>()
/** Which saved condition an object came from: such objects can stand in many places of a tree. */
const names = new WeakMap<Condition, string>()

/**
 * Puts saved conditions in the place of their names; one that is unknown, or contains itself, never holds. A saved
 * condition that is named often is one object in all these places, so conditions that name each other twice do not
 * grow.
 */
export function expandSaved(condition: Condition, saved: SavedConditions): Condition {
  let known = expanded.get(saved)
  if (!known) expanded.set(saved, (known = { cyclic: cyclicOf(saved), conditions: new Map() }))
  return expand(condition, saved, known)
}

/** The saved condition that an expanded one stands for. */
export const savedName = (condition: Condition): string | undefined => names.get(condition)

function expand(condition: Condition, saved: SavedConditions, known: Expanded): Condition {
  if (isSaved(condition)) {
    const before = known.conditions.get(condition.saved)
    if (before) return before
    const when = known.cyclic.has(condition.saved) ? undefined : saved.get(condition.saved)
    // A copy, since the condition of a rule may be the very object that was saved.
    const whole: Condition = when ? { ...expand(when, saved, known) } : { any: [] }
    known.conditions.set(condition.saved, whole)
    names.set(whole, condition.saved)
    return whole
  }
  const each = (members: readonly Condition[]): readonly Condition[] => [
    ...new Set(members.map((member) => expand(member, saved, known))),
  ]
  if ('all' in condition) return { all: each(condition.all) }
  if ('any' in condition) return { any: each(condition.any) }
  if ('none' in condition) return { none: each(condition.none) }
  return condition
}

/** Saved conditions that contain themselves, by whatever way. */
function cyclicOf(saved: SavedConditions): Set<string> {
  const direct = new Map([...saved].map(([id, when]) => [id, namedIn(when)]))
  const cyclic = new Set<string>()
  for (const start of direct.keys()) {
    const seen = new Set<string>()
    const open = [...(direct.get(start) ?? [])]
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (next === start) cyclic.add(start)
      if (seen.has(next)) continue
      seen.add(next)
      open.push(...(direct.get(next) ?? []))
    }
  }
  return cyclic
}

/** The saved conditions that a condition names itself. */
export function namedIn(condition: Condition, into = new Set<string>()): Set<string> {
  if (isSaved(condition)) into.add(condition.saved)
  else if (isItemTest(condition) || isItemSum(condition)) namedIn(condition.where, into)
  else for (const member of membersOf(condition)) namedIn(member, into)
  return into
}

const sizes = new WeakMap<Condition, number>()

/** How many parts a condition has when everything that is shared is written out. */
export function writtenOut(condition: Condition): number {
  let size = sizes.get(condition)
  if (size === undefined) {
    size =
      isItemTest(condition) || isItemSum(condition)
        ? 1 + writtenOut(condition.where)
        : membersOf(condition).reduce((sum, member) => sum + writtenOut(member), 1)
    sizes.set(condition, size)
  }
  return size
}

/**
 * Past so many parts a condition is asked of each order as it is, each saved one once; tables and boxes would have
 * to write it out.
 */
export const maxParts = 5000
