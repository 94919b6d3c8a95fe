import {
  arrivesAt,
  type Asked,
  askedOf,
  costOf,
  costSize,
  keeps,
  noQuote,
  type Pick as Choice,
  type Quote,
  quoteOne,
} from '@/core/rating'
import type { Day } from '@/core/calendar'
import type { Parcel } from '@/core/packing'
import { type Case, promiseChance } from '@/core/rulebook/language'
import { shipmentOf } from '@/core/rulebook/decide'
import type { OrderBlock, OrderMemory } from './orderBlocks'

/**
 * What services were asked for the orders of a block, and what they answered: a rulebook that asks the same gets the
 * same answers. Flat, since this is read for every order: one entry per order, and from `costs` on one per order and
 * service.
 */
export interface Prices {
  /** What was asked: the number of the terms (−1 before anything was), cover, when it can leave, and the parcels. */
  readonly terms: Int32Array
  readonly insured: Float64Array
  readonly leaves: Float64Array
  readonly parcels: (readonly Parcel[] | undefined)[]
  readonly asked: (Asked | undefined)[]
  /** What a service asks in minor units of the home currency, `noQuote`, or that it was not asked yet. */
  readonly costs: Int32Array
  /** The day of arrival where there is a cost. */
  readonly arrivals: Int32Array
  readonly quotes: (Quote | undefined)[]
}

const unasked = -2

/** Room for the prices of so many orders and services; nothing is asked yet. */
export const noPrices = (orders: number, services: number): Prices => ({
  terms: new Int32Array(orders).fill(-1),
  insured: new Float64Array(orders),
  leaves: new Float64Array(orders),
  parcels: [],
  asked: [],
  costs: new Int32Array(orders * services),
  arrivals: new Int32Array(orders * services),
  quotes: [],
})

/** Chooses services for orders, one after another. They are asked for their price only as far as the picks need it. */
export interface ServiceChooser {
  /** Turns to an order that is packed and has its location, number `from` of the world. */
  readonly ask: (block: OrderBlock, order: number, c: Case, from: number, terms: number) => void
  /** The service that the picks choose among those that are open, for at most so much; −1 when none is left. */
  readonly choose: (picks: readonly Choice[], open: Uint8Array, most: number, promised: Day) => number
  /** The cheapest besides one; −1 when there is none. */
  readonly runnerUp: (lane: number) => number
  readonly quote: (lane: number) => Quote
  readonly arrival: (lane: number) => Day
}

/** Chooses services for many orders, one after another, with what was priced before. */
export function serviceChooser(memory: OrderMemory): ServiceChooser {
  const { ready } = memory
  const { rateBook, world } = ready
  const { lanes } = rateBook
  const laneOf = new Map(lanes.map((lane, i) => [lane.service.id, i]))
  // What the buyer would have to fetch is taken only when it is named.
  const fetched = lanes.map(({ service }) => service.fetched === true)
  const out = new Float64Array(costSize)
  // The order at hand, what is asked for it, and where its prices begin.
  let block!: OrderBlock
  let order = 0
  let c!: Case
  let from = 0
  let costs!: Int32Array
  let arrivals!: Int32Array
  let first = 0
  // Which services may be taken, and for how much.
  let open!: Uint8Array
  let most = Infinity

  return {
    ask,
    choose,
    quote,
    runnerUp: (lane) => best(cheaper, Infinity, lane),
    arrival: (lane) => arrivals[first + lane]!,
  }

  function ask(nextBlock: OrderBlock, nextOrder: number, nextCase: Case, nextFrom: number, terms: number): void {
    block = nextBlock
    order = nextOrder
    c = nextCase
    from = nextFrom
    first = order * lanes.length
    const { prices } = block
    costs = prices.costs
    arrivals = prices.arrivals
    if (
      prices.terms[order] === terms &&
      prices.insured[order] === c.insured &&
      prices.leaves[order] === c.leaves &&
      prices.parcels[order] === c.parcels
    )
      return
    prices.terms[order] = terms
    prices.insured[order] = c.insured
    prices.leaves[order] = c.leaves
    prices.parcels[order] = c.parcels
    prices.asked[order] = undefined
    for (let lane = 0; lane < lanes.length; lane++) {
      costs[first + lane] = unasked
      prices.quotes[first + lane] = undefined
    }
  }

  function choose(picks: readonly Choice[], nextOpen: Uint8Array, nextMost: number, promised: Day): number {
    open = nextOpen
    most = nextMost
    for (let p = 0; p < picks.length; p++) {
      const pick = picks[p]!
      const found = laneBy(pick, promised)
      if (found >= 0) return found
    }
    return -1
  }

  function laneBy(pick: Choice, promised: Day): number {
    switch (pick.by) {
      case 'service':
        return named(pick.service)
      case 'fastest':
        return best(faster, Infinity)
      case 'cheapest':
        return best(cheaper, Infinity)
      case 'cheapest by promise':
        return pick.chance === undefined || promised === Infinity
          ? best(cheaper, promised)
          : best(cheaper, promised, -1, (lane) => keeps(promiseChance(c, quote(lane)), pick.chance))
    }
  }

  function named(id: string): number {
    const lane = laneOf.get(id) ?? -1
    return lane >= 0 && takes(lane) ? lane : -1
  }

  /** The best of the services that arrive by a day, besides one; the first among equals. */
  function best(before: Before, by: Day, besides = -1, also = (_lane: number): boolean => true): number {
    let found = -1
    for (let lane = 0; lane < lanes.length; lane++) {
      if (lane === besides || fetched[lane] || !takes(lane)) continue
      const at = first + lane
      if (
        arrivals[at]! <= by &&
        also(lane) &&
        (found < 0 || before(costs[at]! - costs[first + found]!, arrivals[at]! - arrivals[first + found]!))
      )
        found = lane
    }
    return found
  }

  /** Whether a service carries what is asked for the most that may be spent. */
  function takes(lane: number): boolean {
    if (open[lane] === 0) return false
    const at = first + lane
    if (costs[at] === unasked) {
      costs[at] = costOf(rateBook, lanes[lane]!, memory.ends(from, block.places[order]!)[lane]!, asked(), out)
      arrivals[at] = out[arrivesAt]!
    }
    return costs[at] !== noQuote && costs[at]! <= most
  }

  function asked(): Asked {
    return (block.prices.asked[order] ??= askedOf(shipmentOf(c, ready, c.parcels, world.locations[from]!)))
  }

  function quote(lane: number): Quote {
    return (block.prices.quotes[first + lane] ??= quoteOne(
      rateBook,
      lanes[lane]!,
      asked(),
      world.locations[from]!,
    ) as Quote)
  }
}

/** Whether a service goes before another, by how much more it costs and how many days later it arrives. */
type Before = (dearer: number, later: number) => boolean
const cheaper: Before = (dearer, later) => dearer < 0 || (dearer === 0 && later < 0)
const faster: Before = (dearer, later) => later < 0 || (later === 0 && dearer < 0)
