import { grams } from '@/core/units'
import { arrivalDay, dayOf, dayText, minuteOf, shipDay } from '@/core/calendar'
import { type ItemCard, normaliseOrder } from '@/core/order'
import { pack } from '@/core/packing'
import { compileRates, noQuote, quoteColumns, type ShipmentColumns } from '@/core/rating'
import { shopRawOrder } from '@/adapters'
import { demoServices, demoTariffs } from '../demo/carriers'
import { demoOrders } from '../demo/orders'
import { demoWorld } from '../demo/world'
import { priceOf } from '../standins/carrier/price'

interface Asked {
  readonly country: string
  readonly postcode: string
  readonly residential: boolean
  readonly location: number
  readonly day: number
  readonly minute: number
  readonly parcels: readonly {
    readonly weight: number
    readonly size: readonly number[]
    readonly longestSide: number
    readonly girth: number
    readonly volume: number
  }[]
  readonly dangerousGoods: readonly string[]
}

/**
 * All services of the demo for many orders: by columns, and by a plain loop over the same tariff rows. Both must say
 * the same.
 */
export function benchQuotes(count: number, say: (line: string) => void): void {
  const shipments = madeUp(count)
  const columns = columnsOf(shipments)
  const book = compileRates(demoServices, demoTariffs, demoWorld.rates)
  const [cost, arrives] = [new Int32Array(count * demoServices.length), new Int32Array(count * demoServices.length)]
  quoteColumns(book, columns, cost, arrives)
  let fastest = Infinity
  for (let round = 0; round < 3; round++) {
    const began = performance.now()
    quoteColumns(book, columns, cost, arrives)
    fastest = Math.min(fastest, performance.now() - began)
  }
  const few = Math.min(count, 5000)
  const began = performance.now()
  const plain = Array.from({ length: few }, (_, i) => plainQuotes(shipments[i]!))
  const plainMs = performance.now() - began
  let off = 0
  for (let i = 0; i < few; i++)
    demoServices.forEach((service, lane) => {
      const [fast, slow] = [cost[i * demoServices.length + lane]!, plain[i]![lane]!]
      if (
        fast !== slow &&
        !(service.carrier === 'skua' && fast !== noQuote && slow !== noQuote && Math.abs(fast - slow) <= 5)
      )
        off++
    })
  const perSecond = (count * demoServices.length) / (fastest / 1000)
  const plainPerSecond = (few * demoServices.length) / (plainMs / 1000)
  say(
    `quotes: ${count} orders × ${demoServices.length} services in ${fastest.toFixed(0)} ms, ${(perSecond / 1e6).toFixed(2)} million/s; a plain loop over the rows ${(plainPerSecond / 1e6).toFixed(3)} million/s: ${(perSecond / plainPerSecond).toFixed(1)} times; ${off} of ${few * demoServices.length} differ`,
  )
}

function madeUp(count: number): Asked[] {
  const cards = new Map(demoWorld.items.map((card): [string, ItemCard] => [card.sku, card]))
  const found: Asked[] = []
  for (const raw of demoOrders('large', 7, '2026-11-20')) {
    const order = normaliseOrder(shopRawOrder(raw)!, 'mossgill-shop', cards)
    const packed = pack(order.items, demoWorld.presets, { preset: null, added: grams(0) })
    if (packed.ok && packed.parcels.length > 0)
      found.push({
        country: order.shipTo.country,
        postcode: order.shipTo.postcode,
        residential: order.shipTo.company === '',
        location: found.length % 3,
        day: dayOf(order.placedAt),
        minute: found.length % 1440,
        parcels: packed.parcels.map(bare),
        dangerousGoods: [...new Set(order.items.map((item) => item.dangerousGoods).filter(Boolean))],
      })
    if (found.length === count) break
  }
  return found
}

/** Without what a parcel says of its own goods: here all of a shipment share what it has. */
const bare = ({ weight, size, longestSide, girth, volume }: Asked['parcels'][number]): Asked['parcels'][number] => ({
  weight,
  size,
  longestSide,
  girth,
  volume,
})

function columnsOf(all: readonly Asked[]): ShipmentColumns {
  const places = new Map<string, number>()
  const goods = new Map<string, number>()
  const numbered = (map: Map<string, number>, key: string): number =>
    map.get(key) ?? (map.set(key, map.size), map.size - 1)
  const parcels = all.flatMap((asked) => asked.parcels)
  let first = 0
  const zeros = all.length
  const place = Uint32Array.from(all, (asked) =>
    numbered(places, `${asked.country}\n${asked.postcode}\n${asked.residential}`),
  )
  const dangerousGoods = Uint16Array.from(all, (asked) => numbered(goods, asked.dangerousGoods.join('\n')))
  return {
    count: all.length,
    locations: demoWorld.locations,
    places: [...places.keys()].map((key) => {
      const [country = '', postcode = '', residential] = key.split('\n')
      return { country, postcode, postOfficeBox: false, residential: residential === 'true' }
    }),
    goods: [...goods.keys()].map((key) => (key === '' ? [] : key.split('\n'))),
    needs: [[]],
    location: Uint8Array.from(all, (asked) => asked.location),
    place,
    dangerousGoods,
    need: new Uint16Array(zeros),
    signature: new Uint8Array(zeros),
    notStackable: new Uint8Array(zeros),
    insured: new Int32Array(zeros),
    toCollect: new Int32Array(zeros),
    day: Int32Array.from(all, (asked) => asked.day),
    minuteOfDay: Int16Array.from(all, (asked) => asked.minute),
    firstParcel: Uint32Array.from([
      ...all.map((asked) => {
        const at = first
        first += asked.parcels.length
        return at
      }),
      parcels.length,
    ]),
    weight: Int32Array.from(parcels, (parcel) => parcel.weight),
    longestSide: Int32Array.from(parcels, (parcel) => parcel.longestSide),
    girth: Int32Array.from(parcels, (parcel) => parcel.girth),
    volume: Float64Array.from(parcels, (parcel) => parcel.volume),
  }
}

/** What somebody would write who goes through the rows for each order. */
function plainQuotes(asked: Asked): number[] {
  const from = demoWorld.locations[asked.location]!
  return demoServices.map((service) => {
    const { limits } = service
    if (
      !service.locations.includes(from.id) ||
      (limits.domesticOnly && asked.country !== from.country) ||
      (limits.parcels !== undefined && asked.parcels.length > limits.parcels)
    )
      return noQuote
    if (
      asked.parcels.some(
        (parcel) =>
          parcel.weight > limits.weight ||
          parcel.longestSide > limits.longestSide ||
          parcel.girth > limits.girth ||
          (limits.volume !== undefined && parcel.volume > limits.volume),
      )
    )
      return noQuote
    if (asked.dangerousGoods.some((un) => !limits.dangerousGoods.includes(un))) return noQuote
    const collection = service.collections?.find(({ location }) => location === from.id) ?? service
    const leaves = shipDay(
      { day: asked.day, minuteOfDay: asked.minute },
      minuteOf(collection.cutOff)!,
      collection.collects,
    )
    if (leaves === null) return noQuote
    const priced = priceOf(
      demoServices,
      demoTariffs,
      {
        service: service.id,
        fromCountry: from.country,
        toCountry: asked.country,
        toPostcode: asked.postcode,
        shipOn: dayText(leaves),
        parcels: asked.parcels,
        signature: false,
        insured: 0,
        toCollect: 0,
        residential: asked.residential,
        postOfficeBox: false,
        notStackable: false,
        dangerousGoods: asked.dangerousGoods,
        duties: 'DAP',
      },
      (currency) => (currency === 'EUR' ? 1 : demoWorld.rates.micro[currency]! / 1e6),
    )
    if (typeof priced === 'string' || arrivalDay(leaves, priced.transitDays, service.delivers) === null) return noQuote
    return priced.currency === 'EUR'
      ? priced.minor
      : Math.round((priced.minor * demoWorld.rates.micro[priced.currency]!) / 1e6)
  })
}
