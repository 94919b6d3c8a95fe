/*
 * How the wishes of several rules, from the top down, become one value. "One value" needs no function: it is the first.
 */

export const summed = (values: readonly unknown[]): number => values.reduce<number>((sum, value) => sum + (Number(value) || 0), 0)

/** The union of what rules give; of two members that are the same, or are things of one name, the first is kept. */
export function joined<T>(values: readonly unknown[]): readonly T[] {
  const members = new Map<unknown, T>()
  for (const member of (values as readonly (readonly T[])[]).flat() as T[]) {
    const key = typeof member === 'object' && member !== null && 'name' in member ? member.name : member
    if (!members.has(key)) members.set(key, member)
  }
  return [...members.values()]
}

/** What all of them allow. */
export function narrowed(values: readonly unknown[]): readonly string[] {
  const [head = [], ...tail] = values as readonly (readonly string[])[]
  return head.filter((entry) => tail.every((list) => list.includes(entry)))
}
