import { dayOf } from '@/core/calendar'
import type { Item, Order } from '@/core/order'
import { pack, packSmaller, sumParcels, type PackingWishes, type Parcel, type ParcelSums } from '@/core/packing'
import { endFor, type Asked, type End, type Location, type Offer, type Quote } from '@/core/rating'
import { basketOf, openCase, type Basket, type Case } from '../case'
import type { Column, Joint } from '../columns'
import type { Split } from '../decisionKinds'
import type { Pins } from '../decisions'
import type { FactValue } from '../facts'
import { wayBetween, type Way } from '../settle'
import { rowsAbout, type WordingRow } from '../wordings'
import type { ReadyWorld } from '../world'

/** An order as it is to be decided: for which moment, and with which hand pins. */
export interface GivenOrder {
  readonly order: Order
  readonly now: number
  readonly pins?: Pins
}

/** Orders read once, for any number of rulebooks. Baskets and places are numbers of the memory they were read with. */
export interface OrderBlock {
  readonly given: readonly GivenOrder[]
  readonly cases: readonly Case[]
  readonly baskets: Uint32Array
  readonly places: Uint32Array
  /** What deciding asks of every order: 1 where it has a problem of its own, items, a country to go to. */
  readonly troubled: Uint8Array
  readonly filled: Uint8Array
  readonly bound: Uint8Array
  /** The promised day, as `dayOf` has it; Infinity where there is none. */
  readonly promised: Float64Array
  /** The rows of the wording tables that are about its wording. */
  readonly wordingRows: (readonly WordingRow[])[]
  /** Facts of the orders by what a rulebook asks, each read once: the value's number for each order, and the values. */
  readonly columns: Map<string, Column>
  /** Columns that were joined, by the keys of all of them. */
  readonly joints: Map<string, Joint>
  /** What services were asked for each order, and what they answered. */
  readonly rated: (Rated | undefined)[]
  /** How each order was packed, and for which wishes. */
  readonly packed: (PackedFor | undefined)[]
}

export interface PackedFor {
  readonly wishes: string
  readonly preset: string | null
  readonly added: number
  readonly leaves: number
  /** None when it cannot be packed. */
  readonly parcels: readonly Parcel[]
  readonly sums: ParcelSums | null
}

/** The prices of one order for one question: a rulebook that asks the same gets the same answer. */
export interface Rated {
  readonly parcels: readonly Parcel[]
  readonly location: Location
  readonly residential: boolean
  readonly signature: boolean
  readonly insured: number
  readonly within: number | null
  readonly leaves: number
  readonly needs: readonly Offer[]
  readonly asked: Asked
  /** By service: what it asks, and the day of arrival; see decide.ts. */
  readonly costs: Int32Array
  readonly arrivals: Int32Array
  readonly quotes: (Quote | undefined)[]
}

/** One way to pack a basket, or several to be weighed by their price; no way at all when a person has to look. */
export interface PackedBasket {
  readonly ways: readonly (readonly Parcel[])[]
  readonly sums: ParcelSums | null
}

/**
 * What many orders share: the same baskets and the same places come again and again, so that packing and routes are
 * worked out once for each. It grows with the number of different baskets, not with the number of orders.
 */
export interface OrderMemory {
  readonly ready: ReadyWorld
  readonly read: (given: readonly GivenOrder[]) => OrderBlock
  /** How many different baskets there are so far. */
  readonly basketCount: () => number
  /** What a question about items came to, by basket; null where it has no answer. Groups are a rulebook's own: nobody shares a question about one. */
  readonly answers: (question: string) => (FactValue | null)[]
  readonly pack: (basket: number, items: readonly Item[], wishes: PackingWishes, split: Split, key: string) => PackedBasket
  /** Where each service's way ends, from a location (by its place in the world) to a place. */
  readonly ends: (from: number, place: number) => readonly (End | null)[]
  /** The same, for what the way is. */
  readonly way: (from: number, place: number) => Way
  /** The first value that looked the same: so that equal values of two rulebooks are one. */
  readonly same: <T>(value: T) => T
}

const mostPackings = 200_000

export function orderMemory(ready: ReadyWorld): OrderMemory {
  const itemNumbers = new Map<string, number>()
  const basketNumbers = new Map<string, number>()
  const baskets: Basket[] = []
  const placeNumbers = new Map<string, number>()
  const places: { readonly country: string; readonly postcode: string }[] = []
  const packings = new Map<string, PackedBasket>()
  const values = new Map<string, unknown>()
  const answers = new Map<string, (FactValue | null)[]>()
  const { locations, presets } = ready.world
  const ways = locations.map((): Way[] => [])
  const ends = locations.map((): (readonly (End | null)[])[] => [])
  const numberOf = (items: readonly Item[]): number => {
    let list = ''
    for (const item of items) list += `${numbered(itemNumbers, itemKey(item))},`
    const number = numbered(basketNumbers, list)
    if (number === baskets.length) baskets.push(basketOf(items, ready))
    return number
  }
  return {
    ready,
    basketCount: () => baskets.length,
    read: (given) => {
      const block: OrderBlock & { cases: Case[] } = {
        given, cases: [], troubled: new Uint8Array(given.length), filled: new Uint8Array(given.length), bound: new Uint8Array(given.length), promised: new Float64Array(given.length), wordingRows: [],
        baskets: new Uint32Array(given.length), places: new Uint32Array(given.length), columns: new Map(), joints: new Map(), rated: [], packed: [],
      }
      given.forEach(({ order, now }, i) => {
        const basket = (block.baskets[i] = numberOf(order.items))
        const { country, postcode } = order.shipTo
        const place = (block.places[i] = numbered(placeNumbers, `${country} ${postcode}`))
        if (place === places.length) places.push({ country, postcode })
        const c = openCase(order, ready, now, baskets[basket])
        block.cases.push(c)
        block.troubled[i] = order.problems.length > 0 || c.value === undefined ? 1 : 0
        block.filled[i] = order.items.length > 0 ? 1 : 0
        block.bound[i] = country ? 1 : 0
        block.promised[i] = order.promisedBy === '' ? Infinity : dayOf(order.promisedBy)
        block.wordingRows.push(rowsAbout(ready.wordings, order.channel, order.wording))
      })
      return block
    },
    answers: (question) => {
      const known = answers.get(question) ?? []
      if (!question.includes('"group":')) answers.set(question, known)
      return known
    },
    pack: (basket, items, wishes, split, key) => {
      const known = packings.get(key)
      if (known) return known
      const packed = pack(items, presets, wishes)
      const ways = packed.ok ? [packed.parcels, ...(split === 'when cheaper' ? packSmaller(items, presets, wishes, packed.parcels) : [])] : []
      const made = { ways, sums: ways.length === 1 && ways[0]!.length > 0 ? sumParcels(ways[0]!) : null }
      if (packings.size >= mostPackings) packings.clear()
      packings.set(key, made)
      return made
    },
    ends: (from, place) => (ends[from]![place] ??= ready.rateBook.lanes.map((lane) => endFor(lane, locations[from]!, places[place]!.country, places[place]!.postcode))),
    way: (from, place) => (ways[from]![place] ??= wayBetween(locations[from]!, places[place]!, ready)),
    same: <T>(value: T): T => {
      if (typeof value !== 'object' || value === null) return value
      const key = JSON.stringify(value)
      const known = values.get(key)
      if (known !== undefined) return known as T
      values.set(key, value)
      return value
    },
  }
}

function numbered(numbers: Map<string, number>, key: string): number {
  let number = numbers.get(key)
  if (number === undefined) numbers.set(key, (number = numbers.size))
  return number
}

type Keyed = 'line' | 'sku' | 'title' | 'quantity' | 'unitWeight' | 'unitPrice' | 'size' | 'tags' | 'dangerousGoods' | 'hsCode' | 'origin' | 'handling'
/** Does not compile when an item gets a field that `itemKey` forgets. */
const keyed: Exclude<keyof Item, Keyed> extends never ? '\u0001' : never = '\u0001'

/** A text that is the same for equal items; which line of the channel's order it is does not count. */
const itemKey = ({ sku, title, quantity, unitWeight, unitPrice, size, tags, dangerousGoods, hsCode, origin, handling }: Item): string =>
  `${sku}${keyed}${title}${keyed}${quantity} ${unitWeight} ${unitPrice.minor} ${unitPrice.currency} ${size ? `${size[0]} ${size[1]} ${size[2]}` : ''}${keyed}${textOf(tags)}${keyed}${dangerousGoods}${keyed}${hsCode}${keyed}${origin}${keyed}${textOf(handling)}`

const textOf = (list: readonly string[] | undefined): string => (!list || list.length === 0 ? '' : list.length === 1 ? list[0]! : list.join('\u0002'))
