import type { Grams } from '@/core/units'
import { dayOf } from '@/core/calendar'
import { type Item, itemKey, type Order } from '@/core/order'
import { type PackingWishes, type Parcel, type ParcelSums, sumParcels } from '@/core/packing'
import { type End, endFor, type Offer } from '@/core/rating'
import {
  type Basket,
  basketOf,
  type Case,
  openCase,
  type Split,
  type Pins,
  type FactValue,
} from '@/core/rulebook/language'
import type { Column, Joint } from './factColumns'
import { lacks, type Way, wayBetween } from '@/core/rulebook/decide'
import { rowGoesTo, rowsAbout, type WordingRow, type ReadyWorld } from '@/core/world'
import { noPrices, type Prices } from './prices'

/** An order as it is to be decided: for which moment, and with which hand pins. */
export interface GivenOrder {
  readonly order: Order
  readonly now: number
  readonly pins?: Pins
}

/**
 * Orders read once, for any number of rulebooks. Baskets, places and wording rows are numbers of the memory they were
 * read with. What deciding asks of every order is in flat arrays: it is read in a row, and little else of an order
 * is.
 */
export interface OrderBlock {
  readonly given: readonly GivenOrder[]
  /** As no stage has touched them yet. */
  readonly cases: readonly Case[]
  readonly now: Float64Array
  /** 1 where there are hand pins. */
  readonly pinned: Uint8Array
  readonly baskets: Uint32Array
  readonly places: Uint32Array
  /** 1 where it has a problem of its own, items, a country to go to. */
  readonly troubled: Uint8Array
  readonly filled: Uint8Array
  readonly bound: Uint8Array
  /** Grams of the items. */
  readonly itemsWeight: Float64Array
  /** The promised day, as `dayOf` has it; Infinity where there is none. */
  readonly promised: Float64Array
  /** The rows of the wording tables that are about its wording and its country. */
  readonly wordingRows: (readonly NumberedRow[])[]
  /** Facts of the orders by what a rulebook asks, each read once: the value's number for each order, and the values. */
  readonly columns: Map<string, Column>
  /** Columns that were joined, by the keys of all of them. */
  readonly joints: Map<string, Joint>
  readonly prices: Prices
  /** How each order was packed, and for which wishes. */
  readonly packed: (PackedFor | undefined)[]
}

export interface NumberedRow {
  /** From 1 on. */
  readonly number: number
  readonly row: WordingRow
}

/** How a basket was packed for what was wished. */
export interface PackedFor {
  readonly wishes: string
  readonly preset: string | null
  readonly added: Grams
  /** When it can leave, where the choice among several ways to pack hangs on it; else null. */
  readonly leaves: number | null
  /** None when it cannot be packed. */
  readonly parcels: readonly Parcel[]
  readonly sums: ParcelSums | null
}

/** One way to pack a basket, or several to be weighed by their price; no way at all when a person has to look. */
export interface PackedBasket {
  readonly ways: readonly (readonly Parcel[])[]
  /** Unless there are several. */
  readonly only: PackedFor | null
}

/** What is asked of services by the rules, whatever the order. */
export interface Terms {
  readonly number: number
  readonly residential: boolean
  readonly needs: readonly Offer[]
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
  /** How much it remembers: different baskets, or places, whichever are more. */
  readonly size: () => number
  /**
   * What a question about items came to, by basket; null where it has no answer. Groups are a rulebook's own: nobody
   * shares a question about one.
   */
  readonly answers: (question: string) => (FactValue | null)[]
  readonly pack: (
    basket: number,
    items: readonly Item[],
    wishes: PackingWishes,
    split: Split,
    others: string,
  ) => PackedBasket
  /** Where each service's way ends, from a location (by its place in the world) to a place. */
  readonly ends: (from: number, place: number) => readonly (End | null)[]
  /** The same, for what the way is. */
  readonly way: (from: number, place: number) => Way
  /** The same terms have the same number, whichever rulebook sets them. */
  readonly terms: (
    from: number,
    residential: boolean,
    signature: boolean,
    within: number | null,
    needs: readonly Offer[],
  ) => Terms
  /** The first value that looked the same: so that equal values of two rulebooks are one. */
  readonly same: <T>(value: T) => T
}

const maxPackings = 200_000
const maxRemembered = 50_000
const noRows: readonly never[] = []

/** What is known of orders, baskets and parcels in a world, kept from draft to draft; one for each world. */
export function orderMemory(ready: ReadyWorld): OrderMemory {
  const itemNumbers = new Map<string, number>()
  const basketNumbers = new Map<string, number>()
  const baskets: Basket[] = []
  const placeNumbers = new Map<string, number>()
  const places: { readonly country: string; readonly postcode: string }[] = []
  const packings = new Map<string, PackedBasket>()
  const values = new Map<string, unknown>()
  const answers = new Map<string, (FactValue | null)[]>()
  const { locations } = ready.world
  const terms = new Map<string, Terms>()
  const rowNumbers = new Map<WordingRow, NumberedRow>()
  const rowsOf = new Map<string, readonly NumberedRow[]>()
  const ways = locations.map((): Way[] => [])
  const ends = locations.map((): (readonly (End | null)[])[] => [])
  /** Past orders share their lists of items: then nobody needs to look at the items. */
  const known = new WeakMap<readonly Item[], number>()
  const numberOf = (items: readonly Item[]): number => {
    let number = known.get(items)
    if (number === undefined) known.set(items, (number = newList(items)))
    return number
  }
  const newList = (items: readonly Item[]): number => {
    let list = ''
    for (const item of items) list += `${numbered(itemNumbers, itemKey(item))},`
    const number = numbered(basketNumbers, list)
    if (number === baskets.length) baskets.push(basketOf(items, ready))
    return number
  }
  return {
    ready,
    basketCount: () => baskets.length,
    size: () => Math.max(baskets.length, places.length),
    read: (given) => {
      const count = given.length
      const block: OrderBlock & { cases: Case[] } = {
        given,
        cases: [],
        now: new Float64Array(count),
        pinned: new Uint8Array(count),
        baskets: new Uint32Array(count),
        places: new Uint32Array(count),
        troubled: new Uint8Array(count),
        filled: new Uint8Array(count),
        bound: new Uint8Array(count),
        itemsWeight: new Float64Array(count),
        promised: new Float64Array(count),
        wordingRows: [],
        columns: new Map(),
        joints: new Map(),
        prices: noPrices(count, ready.rateBook.lanes.length),
        packed: [],
      }
      given.forEach(({ order, now, pins }, i) => {
        const basket = (block.baskets[i] = numberOf(order.items))
        const { country, postcode } = order.shipTo
        const place = (block.places[i] = numbered(placeNumbers, `${country} ${postcode}`))
        if (place === places.length) places.push({ country, postcode })
        const c = openCase(order, ready, now, baskets[basket])
        block.cases.push(c)
        block.now[i] = now
        block.pinned[i] = pins === undefined ? 0 : 1
        block.troubled[i] = order.problems.length > 0 || c.value === undefined || lacks(order).length > 0 ? 1 : 0
        block.filled[i] = order.items.length > 0 ? 1 : 0
        block.bound[i] = country ? 1 : 0
        block.itemsWeight[i] = c.basket.itemsWeight
        block.promised[i] = order.promisedBy === '' ? Infinity : dayOf(order.promisedBy)
        block.wordingRows.push(wordingRowsOf(order))
      })
      return block
    },
    answers: (question) => {
      const known = answers.get(question) ?? []
      if (!question.includes('"group":')) answers.set(question, known)
      return known
    },
    pack: (basket, items, wishes, split, others) => {
      const { preset, added } = wishes
      const key = `${basket} ${added} ${preset ?? ''} ${others}`
      const known = packings.get(key)
      if (known) return known
      // An order that is routed by itself, as with hand pins, finds it there.
      const { packed, others: smaller } = ready.pack(items, wishes, split === 'when cheaper')
      const ways = packed.ok ? [packed.parcels, ...smaller] : []
      const parcels = ways[0] ?? []
      const made = {
        ways,
        only:
          ways.length > 1
            ? null
            : {
                wishes: others,
                preset,
                added,
                leaves: null,
                parcels,
                sums: parcels.length > 0 ? sumParcels(parcels) : null,
              },
      }
      if (packings.size >= maxPackings) packings.clear()
      packings.set(key, made)
      return made
    },
    ends: (from, place) =>
      (ends[from]![place] ??= ready.rateBook.lanes.map((lane) =>
        endFor(lane, locations[from]!, places[place]!.country, places[place]!.postcode),
      )),
    way: (from, place) => (ways[from]![place] ??= same(wayBetween(locations[from]!, places[place]!, ready))),
    terms: (from, residential, signature, within, needs) => {
      const key = JSON.stringify([from, residential, signature, within, needs])
      let found = terms.get(key)
      if (!found) terms.set(key, (found = { number: terms.size, residential, needs }))
      return found
    },
    same,
  }

  function wordingRowsOf({ channel, wording, shipTo: { country } }: Order): readonly NumberedRow[] {
    const about = rowsAbout(ready.wordings, channel, wording)
    if (about.length === 0) return noRows
    const key = `${country} ${channel} ${wording}`
    let found = rowsOf.get(key)
    if (!found) {
      found = about.filter((row) => rowGoesTo(row, country)).map((row) => rowNumbers.get(row) ?? newRow(row))
      if (rowsOf.size >= maxRemembered) rowsOf.clear()
      rowsOf.set(key, found)
    }
    return found
  }

  function newRow(row: WordingRow): NumberedRow {
    const made = { number: rowNumbers.size + 1, row }
    rowNumbers.set(row, made)
    return made
  }

  function same<T>(value: T): T {
    if (typeof value !== 'object' || value === null) return value
    const key = JSON.stringify(value)
    const known = values.get(key)
    if (known !== undefined) return known as T
    values.set(key, value)
    return value
  }
}

function numbered(numbers: Map<string, number>, key: string): number {
  let number = numbers.get(key)
  if (number === undefined) numbers.set(key, (number = numbers.size))
  return number
}
