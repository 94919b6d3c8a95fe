/** A label of a plan, as far as its money goes. */
interface Costing {
  readonly order: number
  readonly carrier: string
  readonly cost: number
}

/** A prepaid balance that a plan goes beyond. */
export interface Short {
  readonly carrier: string
  /** By so much, in home minor units. */
  readonly by: number
  /** The fewest orders without which it is enough: the dearest first. */
  readonly leave: readonly number[]
}

/** Which balances the labels go beyond; carriers without a balance are not asked. */
export function shortOf(labels: readonly Costing[], balances: Readonly<Record<string, number>>): readonly Short[] {
  return Object.entries(balances).flatMap(([carrier, balance]) => {
    const own = labels.filter((label) => label.carrier === carrier)
    const by = own.reduce((sum, { cost }) => sum + cost, 0) - Math.max(0, balance)
    if (by <= 0) return []
    const leave: number[] = []
    let over = by
    for (const { order, cost } of [...own].sort((a, b) => b.cost - a.cost)) {
      if (over <= 0) break
      leave.push(order)
      over -= cost
    }
    return [{ carrier, by, leave }]
  })
}
