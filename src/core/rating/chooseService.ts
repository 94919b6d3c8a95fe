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
  /**
   * With a `chance`, in per cent, only services that keep the day so often: those without any history are taken at
   * their word.
   */
  | { readonly by: 'cheapest by promise'; readonly chance?: number }

export const pickSchema = z.union([
  z.strictObject({ by: z.literal('service'), service: z.string() }),
  z.strictObject({ by: z.literal('cheapest by promise'), chance: z.int().min(1).max(99).optional() }),
  z.strictObject({ by: z.enum(['cheapest', 'fastest']) }),
])

export interface Choice {
  readonly quote: Quote
  readonly pick: Pick
  /** The cheapest of the others; null when there is none. */
  readonly runnerUp: Quote | null
}

/** The chance, per mille, that a parcel comes by the promised day with a quote's service; null when nobody knows. */
export type ChanceOf = (quote: Quote) => number | null

/**
 * Chooses among the quotes. `promisedBy` is the channel's promised day (`YYYY-MM-DD`), empty when there is none:
 * then every arrival keeps the promise. Ties: cheaper, then earlier, then the service that stands first.
 * Null when no pick yields a quote.
 */
export function chooseQuote(
  quotes: readonly Quote[],
  picks: readonly Pick[],
  promisedBy: string,
  chanceOf: ChanceOf = () => null,
): Choice | null {
  for (const pick of picks) {
    const quote = chooseBy(quotes, pick, promisedBy, chanceOf)
    if (quote)
      return {
        quote,
        pick,
        runnerUp: best(
          sent(quotes).filter((other) => other !== quote),
          cheaper,
        ),
      }
  }
  return null
}

function chooseBy(quotes: readonly Quote[], pick: Pick, promisedBy: string, chanceOf: ChanceOf): Quote | null {
  switch (pick.by) {
    case 'service':
      return quotes.find((quote) => quote.service === pick.service) ?? null
    case 'cheapest':
      return best(sent(quotes), cheaper)
    case 'fastest':
      return best(sent(quotes), faster)
    case 'cheapest by promise':
      return best(
        sent(quotes).filter(
          (quote) => promisedBy === '' || (quote.arrivesOn <= promisedBy && keeps(chanceOf(quote), pick.chance)),
        ),
        cheaper,
      )
  }
}

/** Without what the buyer would have to fetch: that is taken only when it is named. */
const sent = (quotes: readonly Quote[]): readonly Quote[] => quotes.filter(({ fetched }) => !fetched)

/** Whether a chance (per mille; null for one that is not known) is as good as wanted (per cent). */
export const keeps = (chance: number | null, wanted: number | undefined): boolean =>
  wanted === undefined || chance === null || chance >= 10 * wanted

type Before = (a: Quote, b: Quote) => boolean
const cheaper: Before = (a, b) => a.cost < b.cost || (a.cost === b.cost && a.arrivesOn < b.arrivesOn)
const faster: Before = (a, b) => a.arrivesOn < b.arrivesOn || (a.arrivesOn === b.arrivesOn && a.cost < b.cost)

function best(quotes: readonly Quote[], before: Before): Quote | null {
  let found: Quote | null = null
  for (const quote of quotes) if (!found || before(quote, found)) found = quote
  return found
}
