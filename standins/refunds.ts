import { randomUUID } from 'node:crypto'

/** What a buyer of a sales channel got back. */
export interface ChannelRefund {
  readonly id: string
  readonly key: string
  readonly lines: readonly { readonly line: string; readonly quantity: number }[]
  /** Minor units. */
  readonly minor: number
  readonly currency: string
  readonly reason: string
}

interface Paid {
  readonly currency: string
  readonly paidMinor: number
  /** What was ordered of each line. */
  readonly lines: ReadonlyMap<string, number>
}
type Asked = Omit<ChannelRefund, 'id' | 'key'>

/** Takes a refund into an order's book, once for a key; or says why the channel pays nothing back. */
export function takeRefund(
  order: Paid,
  before: readonly ChannelRefund[],
  key: string,
  asked: Asked,
): { readonly refund: ChannelRefund; readonly fresh: boolean } | { readonly wrong: string } {
  const known = before.find((refund) => refund.key === key)
  if (known) return { refund: known, fresh: false }
  const wrong = againstRefund(order, before, asked)
  return wrong === null ? { refund: { ...asked, id: randomUUID(), key }, fresh: true } : { wrong }
}

/** Why a channel pays nothing back; null where it does. */
function againstRefund(order: Paid, before: readonly ChannelRefund[], asked: Asked): string | null {
  if (asked.currency !== order.currency) return `The order was paid in ${order.currency}.`
  if (before.reduce((sum, { minor }) => sum + minor, asked.minor) > order.paidMinor)
    return 'That is more than was paid.'
  for (const { line, quantity } of asked.lines) {
    const ordered = order.lines.get(line)
    if (ordered === undefined) return `There is no line ${line}.`
    const back = before.flatMap(({ lines }) => lines).filter((one) => one.line === line)
    if (back.reduce((sum, one) => sum + one.quantity, quantity) > ordered)
      return `Of line ${line} no more pieces can come back.`
  }
  return null
}
