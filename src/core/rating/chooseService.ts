import { z } from 'zod'
import type { Quote } from './quote'

/** How fast a buyer wants it, slowest first. */
export const speeds = ['economy', 'standard', 'express', 'next day', 'same day'] as const
export type Speed = (typeof speeds)[number]

/** One way to choose a service; a pick list is tried from the left, and the first that yields a quote decides. */
export type Pick =
  | { readonly by: 'service'; readonly service: string }
  | { readonly by: 'cheapest' }
  | { readonly by: 'fastest' }
  | { readonly by: 'cheapest by promise' }

export const pickSchema = z.union([
  z.strictObject({ by: z.literal('service'), service: z.string() }),
  z.strictObject({ by: z.enum(['cheapest', 'fastest', 'cheapest by promise']) }),
])

export interface Choice {
  readonly quote: Quote
  readonly pick: Pick
  /** The cheapest of the others; null when there is none. */
  readonly runnerUp: Quote | null
}

/**
 * Chooses among the quotes. `promisedBy` is the channel's promised day (`YYYY-MM-DD`), empty when there is none:
 * then every arrival keeps the promise. Ties: cheaper, then earlier, then the service that stands first.
 * Null when no pick yields a quote.
 */
export function chooseQuote(quotes: readonly Quote[], picks: readonly Pick[], promisedBy: string): Choice | null {
  for (const pick of picks) {
    const quote = chooseBy(quotes, pick, promisedBy)
    if (quote)
      return {
        quote,
        pick,
        runnerUp: best(
          quotes.filter((other) => other !== quote),
          cheaper,
        ),
      }
  }
  return null
}

function chooseBy(quotes: readonly Quote[], pick: Pick, promisedBy: string): Quote | null {
  switch (pick.by) {
    case 'service':
      return quotes.find((quote) => quote.service === pick.service) ?? null
    case 'cheapest':
      return best(quotes, cheaper)
    case 'fastest':
      return best(quotes, faster)
    case 'cheapest by promise':
      return best(
        quotes.filter((quote) => promisedBy === '' || quote.arrivesOn <= promisedBy),
        cheaper,
      )
  }
}

type Before = (a: Quote, b: Quote) => boolean
const cheaper: Before = (a, b) => a.cost < b.cost || (a.cost === b.cost && a.arrivesOn < b.arrivesOn)
const faster: Before = (a, b) => a.arrivesOn < b.arrivesOn || (a.arrivesOn === b.arrivesOn && a.cost < b.cost)

function best(quotes: readonly Quote[], before: Before): Quote | null {
  let found: Quote | null = null
  for (const quote of quotes) if (!found || before(quote, found)) found = quote
  return found
}
