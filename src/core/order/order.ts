import type { Grams, Money, Size } from '@/core/units'

export interface Address {
  readonly name: string
  readonly company: string
  readonly lines: readonly string[]
  readonly city: string
  readonly postcode: string
  readonly region: string
  /** ISO 3166-1 alpha-2, upper case; empty when the channel's text is no country. */
  readonly country: string
}

/** How an item wants to be packed and carried. */
export const handlings = ['fragile', 'this side up', 'own box', 'alone', 'not stackable', 'live'] as const
export type Handling = (typeof handlings)[number]

export interface Item {
  /** The channel's own identifier of the order line; posts name it. */
  readonly line: string
  readonly sku: string
  readonly title: string
  readonly quantity: number
  /** Null when neither the channel nor the item list knows it. */
  readonly unitWeight: Grams | null
  readonly unitPrice: Money
  readonly size: Size | null
  readonly tags: readonly string[]
  readonly dangerousGoods: string
  readonly hsCode: string
  readonly origin: string
  readonly handling?: readonly Handling[]
}

/** Whether an item is marked for a kind of handling. */
export const isHandled = (item: Pick<Item, 'handling'>, handling: Handling): boolean =>
  item.handling?.includes(handling) ?? false

/** UN numbers of dangerous goods among the items, each once. */
export function unNumbers(items: readonly Item[]): string[] {
  const found: string[] = []
  for (const { dangerousGoods } of items)
    if (dangerousGoods && !found.includes(dangerousGoods)) found.push(dangerousGoods)
  return found
}

/** An imported order after normalisation: what every rule sees, and nothing that depends on the channel's format. */
export interface Order {
  readonly channel: string
  readonly remoteId: string
  readonly number: string
  readonly status: 'open' | 'cancelled' | 'fulfilled'
  /** ISO 8601, UTC. */
  readonly placedAt: string
  /** When the payment came in; absent when the channel does not say. */
  readonly paidAt?: string
  readonly changedAt: string
  /** The day by which the channel promised delivery, `YYYY-MM-DD`; empty when it promised none. */
  readonly promisedBy: string
  readonly paymentMethod: 'prepaid' | 'cash on delivery'
  /** The checkout's wording for the way of shipping, verbatim. */
  readonly wording: string
  readonly shippingPaid: Money
  readonly value: Money
  readonly discount: Money
  readonly buyer: { readonly name: string; readonly email: string; readonly phone: string; readonly returning: boolean }
  readonly shipTo: Address
  readonly items: readonly Item[]
  /** What the buyer wants to be written on the slip, as for a gift; absent for none. */
  readonly message?: string
  /** What its buyer wants to send back; only while that is decided. */
  readonly comesBack?: ComesBack
  /** What normalisation could not make sense of; each sentence says what to do. */
  readonly problems: readonly OrderProblem[]
}

/** A return, as rules see it. */
export interface ComesBack {
  /** Why (`core/returns`); absent where nobody has said it. */
  readonly reason?: string
  /** Whole days since it was delivered. */
  readonly days?: number
  /** What the pieces were sold for. */
  readonly value?: Money
}

export interface OrderProblem {
  readonly code: string
  readonly sentence: string
}

/** Where an order stands on the line. */
export type OrderState =
  | 'attention' // a person must decide
  | 'held' // a rule or a person holds it
  | 'ready' // can be bought
  | 'combined' // goes in the shipment of several orders, which is bought
  | 'buying' // in a batch that is being bought
  | 'labelled' // a label is bought
  | 'dispatched' // handed over
  | 'delivered'
  | 'fulfilled elsewhere' // the channel says somebody else shipped it
  | 'cancelled'

/** Where the channel alone puts an order; null while it is open there. */
export const closedAs = (status: Order['status']): OrderState | null => {
  if (status === 'cancelled') return 'cancelled'
  return status === 'fulfilled' ? 'fulfilled elsewhere' : null
}

/** States in which nothing more happens to an order. */
export const overStates: readonly OrderState[] = ['delivered', 'fulfilled elsewhere', 'cancelled', 'combined']
/** States of orders that nobody ships, or not by themselves: trials leave them out. */
export const unshippedStates: readonly OrderState[] = ['cancelled', 'fulfilled elsewhere', 'combined']
/** States in which routing may still change the order. */
export const waitingStates: readonly OrderState[] = ['attention', 'held', 'ready']
