import { foldText } from '@/core/order'
import type { DecisionKind } from './decisionKinds'

/**
 * How the wishes of several rules, from the top down, become one value: at least one of them. `servicesOf` gives the
 * services of each carrier.
 */
export function combined(
  { combine, words }: Pick<DecisionKind, 'combine' | 'words'>,
  values: readonly unknown[],
  servicesOf: ReadonlyMap<string, readonly string[]>,
): unknown {
  switch (combine) {
    case 'one':
      return values[0]
    case 'sum':
      return summed(values)
    case 'set':
      return joined(values, words)
    case 'narrow':
      return narrowed(values, servicesOf)
  }
}

const summed = (values: readonly unknown[]): number =>
  values.reduce<number>((sum, value) => sum + (Number(value) || 0), 0)

/**
 * The union of what rules give; of two members that are the same the first is kept. Words (tags) are the same without
 * regard to case and blanks, identifiers only as they are, things that are put in by name and weight.
 */
function joined<T>(values: readonly unknown[], words = false): readonly T[] {
  const members = new Map<unknown, T>()
  for (const member of (values as readonly T[][]).flat()) {
    const key = keyOf(member, words)
    if (!members.has(key)) members.set(key, member)
  }
  return [...members.values()]
}

function keyOf(member: unknown, words: boolean): unknown {
  if (typeof member === 'string') return words ? foldText(member) : member
  if (typeof member === 'object' && member !== null && 'name' in member)
    return `${foldText(String(member.name))}\n${'weight' in member ? String(member.weight) : ''}`
  return member
}

/**
 * What all of them allow. A carrier stands for all its services: where one list names a carrier and another one some of
 * its services, those services are left.
 */
function narrowed(values: readonly unknown[], servicesOf: ReadonlyMap<string, readonly string[]>): readonly string[] {
  const lists = values as readonly (readonly string[])[]
  const [head = [], ...tail] = lists
  if (tail.length === 0) return head
  const carrierOf = new Map(
    [...servicesOf].flatMap(([carrier, services]) => services.map((service) => [service, carrier] as const)),
  )
  const allows = (list: readonly string[], entry: string): boolean =>
    list.includes(entry) || list.includes(carrierOf.get(entry) ?? entry)
  const left = head.flatMap((entry) =>
    tail.every((list) => list.includes(entry))
      ? [entry]
      : (servicesOf.get(entry) ?? [entry]).filter((service) => tail.every((list) => allows(list, service))),
  )
  return [...new Set(left)]
}
