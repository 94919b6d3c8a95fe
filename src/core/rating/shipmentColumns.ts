import { minorUnits, type MinorUnits } from '@/core/units'
import { postcodeKey } from '@/core/order'
import type { Parcel } from '@/core/packing'
import type { RateBook } from './compileRates'
import { arrivesAt, type Asked, costOf, costSize, endFor, noQuote } from './quote'
import type { Location, Offer } from './tariff'

/**
 * Many shipments as columns; texts and lists are numbers into `places`, `goods` and `needs`. Grams, millimetres, cubic
 * millimetres, minor units.
 */
export interface ShipmentColumns {
  readonly count: number
  readonly locations: readonly Location[]
  readonly places: readonly {
    readonly country: string
    readonly postcode: string
    readonly postOfficeBox: boolean
    readonly residential: boolean
  }[]
  readonly goods: readonly (readonly string[])[]
  readonly needs: readonly (readonly Offer[])[]
  readonly location: Uint8Array
  readonly place: Uint32Array
  readonly dangerousGoods: Uint16Array
  readonly need: Uint16Array
  readonly signature: Uint8Array
  readonly notStackable: Uint8Array
  readonly insured: Int32Array
  readonly toCollect: Int32Array
  readonly day: Int32Array
  readonly minuteOfDay: Int16Array
  /** Parcels of shipment i: from `firstParcel[i]` up to `firstParcel[i + 1]`. */
  readonly firstParcel: Uint32Array
  readonly weight: Int32Array
  readonly longestSide: Int32Array
  readonly girth: Int32Array
  readonly volume: Float64Array
  /**
   * By parcel: what is in it, as a number of `goods`, and whether nothing may be put on it. Without them, all parcels
   * share what the shipment has.
   */
  readonly parcelGoods?: Uint16Array
  readonly parcelNotStackable?: Uint8Array
}

type Writable<T> = { -readonly [K in keyof T]: T[K] }

/**
 * Costs and arrival days of every service for every shipment, row by row (`shipment × lanes + lane`), by the same
 * checks and prices as `quoteAll`; the inner loop allocates nothing. `noQuote` where a service does not take it.
 */
export function quoteColumns(
  book: RateBook,
  columns: ShipmentColumns,
  cost = new Int32Array(columns.count * book.lanes.length),
  arrives = new Int32Array(columns.count * book.lanes.length),
): { readonly cost: Int32Array; readonly arrives: Int32Array } {
  const { lanes } = book
  const ends = columns.locations.map((from) =>
    lanes.map((lane) => columns.places.map((place) => endFor(lane, from, place.country, place.postcode))),
  )
  const keys = columns.places.map(({ postcode }) => postcodeKey(postcode))
  const out = new Float64Array(costSize)
  const pools: Writable<Parcel>[][] = []
  const asked: Writable<Asked> = {
    country: '',
    postcode: '',
    place: '',
    postOfficeBox: false,
    residential: false,
    notStackable: false,
    dangerousGoods: [],
    signature: false,
    dutiesPaid: false,
    insured: minorUnits(0),
    toCollect: minorUnits(0),
    location: '',
    from: '',
    needs: [],
    within: Infinity,
    demandedBy: Infinity,
    protectedBy: '',
    carriers: null,
    ready: { day: 0, minuteOfDay: 0 },
    parcels: [],
  }
  const ready = asked.ready as Writable<Asked['ready']>
  for (let i = 0; i < columns.count; i++) {
    const from = columns.locations[columns.location[i]!]!
    const place = columns.places[columns.place[i]!]!
    asked.country = place.country
    asked.postcode = keys[columns.place[i]!]!
    asked.postOfficeBox = place.postOfficeBox
    asked.residential = place.residential
    asked.notStackable = columns.notStackable[i] === 1
    asked.dangerousGoods = columns.goods[columns.dangerousGoods[i]!]!
    asked.needs = columns.needs[columns.need[i]!]!
    asked.dutiesPaid = asked.needs.includes('duties paid')
    asked.signature = columns.signature[i] === 1
    asked.insured = columns.insured[i]! as MinorUnits
    asked.toCollect = columns.toCollect[i]! as MinorUnits
    asked.location = from.id
    asked.from = from.country
    ready.day = columns.day[i]!
    ready.minuteOfDay = columns.minuteOfDay[i]!
    asked.parcels = fillParcels(pools, columns, i)
    const lanesOf = ends[columns.location[i]!]!
    for (let l = 0; l < lanes.length; l++) {
      const at = i * lanes.length + l
      cost[at] = costOf(book, lanes[l]!, lanesOf[l]![columns.place[i]!]!, asked, out)
      arrives[at] = cost[at] === noQuote ? noQuote : out[arrivesAt]!
    }
  }
  return { cost, arrives }
}

function fillParcels(pools: Writable<Parcel>[][], columns: ShipmentColumns, shipment: number): readonly Parcel[] {
  const first = columns.firstParcel[shipment]!
  const count = columns.firstParcel[shipment + 1]! - first
  const pool = (pools[count] ??= Array.from(
    { length: count },
    () =>
      ({
        preset: '',
        size: [0, 0, 0],
        weight: 0,
        longestSide: 0,
        girth: 0,
        volume: 0,
        contents: [],
      }) as unknown as Writable<Parcel>,
  ))
  for (let k = 0; k < count; k++) {
    const parcel = pool[k]!
    parcel.weight = columns.weight[first + k]! as Parcel['weight']
    parcel.longestSide = columns.longestSide[first + k]! as Parcel['longestSide']
    parcel.girth = columns.girth[first + k]! as Parcel['girth']
    parcel.volume = columns.volume[first + k]!
    if (columns.parcelGoods) parcel.dangerousGoods = columns.goods[columns.parcelGoods[first + k]!]!
    if (columns.parcelNotStackable) parcel.notStackable = columns.parcelNotStackable[first + k] === 1
  }
  return pool
}
