import type { Order } from '@/core/order'
import type { Routed } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import type { Fact } from './conditions'
import { atHome, beginOf, nextDay } from './plain'
import { compact, known } from './passes'

/* What each fact is, as far as the stages before have settled it. */

export interface About {
  readonly order: Order
  readonly world: World
  readonly now: number
  readonly found: Routed
  /** How many stages are settled, and what they came to. */
  readonly settled: number
  readonly decisions: Readonly<Record<string, unknown>>
  /** Grams of the items; with the correction. */
  readonly goods: number | undefined
  readonly corrected: () => number | undefined
  readonly zone: () => string
}

/** A fact of an order, by its identifier. */
export function factOf(id: string, about: About): Fact {
  const fact = orderFact(id, about) ?? goodsFact(id, about) ?? parcelFact(id, about) ?? serviceFact(id, about)
  if (!fact) throw new Error(`The reference does not know the fact "${id}".`)
  return fact
}

/** What the order says by itself. */
function orderFact(id: string, { order, world }: About): Fact | undefined {
  const { shipTo, buyer } = order
  const { rates } = world
  switch (id) {
    case 'channel':
      return ['text', known(order.channel)]
    case 'order number':
      return ['text', known(order.number)]
    case 'wording':
      return ['text', known(order.wording)]
    case 'payment':
      return ['text', order.paymentMethod]
    case 'shipping paid':
      return ['number', atHome(order.shippingPaid, rates) ?? undefined]
    case 'order value':
      return ['number', atHome(order.value, rates) ?? undefined]
    case 'discount':
      return ['number', atHome(order.discount, rates) ?? undefined]
    case 'return reason':
      return ['text', order.comesBack?.reason]
    case 'return days':
      return ['number', order.comesBack?.days]
    case 'return value':
      return ['number', order.comesBack?.value && (atHome(order.comesBack.value, rates) ?? undefined)]
    case 'returning buyer':
      return ['yes/no', buyer.returning]
    case 'has e-mail':
      return ['yes/no', buyer.email !== '']
    case 'has phone':
      return ['yes/no', buyer.phone !== '']
    case 'country':
      return ['text', known(shipTo.country)]
    case 'postcode':
      return ['postcode', known(shipTo.postcode)]
    case 'city':
      return ['text', known(shipTo.city)]
    case 'region':
      return ['text', known(shipTo.region)]
    case 'post-office box':
      return ['yes/no', shipTo.lines.some((line) => /postbus|po box|postfach|boite postale/i.test(line))]
    case 'company':
      return ['yes/no', shipTo.company !== '']
    case 'residential':
      return ['yes/no', shipTo.company === '']
    case 'remote area':
      return [
        'yes/no',
        (world.remoteAreas ?? []).some(
          ({ country, prefixes }) =>
            country === shipTo.country &&
            prefixes.some((prefix) => compact(shipTo.postcode).startsWith(compact(prefix))),
        ),
      ]
    case 'parcel locker':
      return ['yes/no', shipTo.lines.some((line) => /packstation/i.test(line))]
    case 'territory':
      return ['text', undefined]
    case 'address problems':
      return [
        'yes/no',
        order.problems.some(
          ({ code }) => ['unknown-country', 'no-street', 'no-city'].includes(code) || code.startsWith('address-'),
        ),
      ]
  }
  return undefined
}

/** Its items, and its moments. */
function goodsFact(id: string, about: About): Fact | undefined {
  const { order, world, now, goods } = about
  const hours = (from: number, until: number | undefined): number | undefined =>
    until === undefined ? undefined : Math.floor((until - from) / 3_600_000)
  switch (id) {
    case 'quantity':
      return ['number', order.items.reduce((sum, item) => sum + item.quantity, 0)]
    case 'lines':
      return ['number', order.items.length]
    case 'items weight':
      return ['number', goods]
    case 'items volume':
      return [
        'number',
        order.items.some(({ size }) => size === null)
          ? undefined
          : order.items.reduce((sum, { size, quantity }) => sum + size![0] * size![1] * size![2] * quantity, 0) / 1e6,
      ]
    case 'stocked at':
      return [
        'tags',
        world.locations
          .filter(
            ({ stock }) =>
              !stock ||
              order.items.every(
                ({ sku }) =>
                  order.items.filter((other) => other.sku === sku).reduce((sum, other) => sum + other.quantity, 0) <=
                  (stock[sku] ?? 0),
              ),
          )
          .map(({ id: location }) => location),
      ]
    case 'placed':
      return ['time', Date.parse(order.placedAt) || undefined]
    case 'paid':
      return ['time', order.paidAt ? Date.parse(order.paidAt) : undefined]
    case 'promised':
      return ['time', endOf(order.promisedBy, about)]
    case 'now':
      return ['time', now]
    case 'hours to promise':
      return ['number', hours(now, endOf(order.promisedBy, about))]
    case 'age':
      return ['number', hours(Date.parse(order.placedAt) || now, now)]
  }
  return undefined
}

/** What Triage says, and its parcels. */
function parcelFact(id: string, { settled, decisions, corrected, goods, found }: About): Fact | undefined {
  const parcels = settled > 1 ? found.parcels : []
  const most = (of: (parcel: (typeof parcels)[number]) => number): number | undefined =>
    parcels.length === 0 ? undefined : Math.max(...parcels.map(of))
  switch (id) {
    case 'tags':
      return ['tags', settled > 0 ? (decisions.tags as string[]) : []]
    case 'held':
      return ['yes/no', settled > 0 && decisions.hold !== null]
    case 'speed':
      return ['text', settled > 0 ? ((decisions.speed as string | null) ?? undefined) : undefined]
    case 'priority':
      return ['text', settled > 0 ? (decisions.priority as string) : 'normal']
    case 'weight':
      return ['number', settled > 0 ? corrected() : goods]
    case 'preset':
      return ['text', known(parcels[0]?.preset ?? '')]
    case 'parcels':
      return ['number', parcels.length === 0 ? undefined : parcels.length]
    case 'parcel weight':
      return ['number', corrected() === undefined ? undefined : most(({ weight }) => weight)]
    case 'shipment weight':
      return [
        'number',
        corrected() === undefined || parcels.length === 0
          ? undefined
          : parcels.reduce((sum, { weight }) => sum + weight, 0),
      ]
    case 'longest side':
      return ['number', most(({ size }) => Math.max(...size))]
    case 'girth':
      return ['number', most(({ size }) => Math.max(...size) + 2 * (size[0] + size[1] + size[2] - Math.max(...size)))]
    case 'parcel volume':
      return [
        'number',
        parcels.length === 0
          ? undefined
          : parcels.reduce((sum, { size }) => sum + size[0] * size[1] * size[2], 0) / 1e6,
      ]
  }
  return undefined
}

/** Where it leaves from, what is asked of services, and the service. */
function serviceFact(id: string, about: About): Fact | undefined {
  const { order, settled, decisions, found } = about
  const quote = settled > 4 ? found.quote : null
  switch (id) {
    case 'location':
      return ['text', settled > 2 ? (found.location ?? undefined) : undefined]
    case 'trade':
      return ['text', settled > 2 ? (found.trade ?? undefined) : undefined]
    case 'distance':
      return ['text', settled > 2 ? distance(about) : undefined]
    case 'insured value':
      return ['number', settled > 3 ? insured(about) : 0]
    case 'signature':
      return ['yes/no', settled > 3 && decisions.signature === true]
    case 'needs':
      return [
        'tags',
        settled > 3
          ? [
              ...(decisions.needs as string[]),
              ...(decisions.duties === 'DDP' && found.trade === 'export' ? ['duties paid'] : []),
            ]
          : [],
      ]
    case 'service':
      return ['text', quote?.service]
    case 'carrier':
      return ['text', quote?.carrier]
    case 'runner-up':
      return ['text', settled > 4 ? found.runnerUp?.service : undefined]
    case 'cost':
      return ['number', quote?.cost]
    case 'arrival':
      return ['time', quote ? endOf(quote.arrivesOn, about) : undefined]
    case 'days late':
      return [
        'number',
        quote && order.promisedBy
          ? Math.round((Date.parse(quote.arrivesOn) - Date.parse(order.promisedBy)) / 86_400_000)
          : undefined,
      ]
    case 'promise chance':
      return ['number', quote && order.promisedBy ? promiseChance(quote, about) : undefined]
  }
  return undefined
}

/** A day without a time counts until its end, by the clocks of the location. */
function endOf(day: string, { zone }: Pick<About, 'zone'>): number | undefined {
  return day === '' ? undefined : beginOf(nextDay(day), zone()) - 1
}

/** From the widest lane to the narrowest, each leaning on the one before with the weight of 12 parcels. */
function promiseChance(
  given: { service: string; zone: string; arrivesOn: string },
  { order, world, found }: About,
): number | undefined {
  const day = 86_400_000
  const spare = Math.round((Date.parse(order.promisedBy) - Date.parse(given.arrivesOn)) / day)
  const weekday = new Date(given.arrivesOn).getUTCDay() || 7
  const lanes = (world.arrivals ?? []).filter(({ service }) => service === given.service)
  const there = lanes.filter(({ zone, country }) => zone === given.zone && country === order.shipTo.country)
  const from = there.filter(({ location }) => location === found.location)
  let chance: number | undefined
  for (const some of [lanes, there, from, from.filter((lane) => lane.weekday === weekday)]) {
    const came = some.flatMap((lane) => lane.came)
    const all = came.reduce((sum, [, parcels]) => sum + parcels, 0)
    if (all === 0) continue
    const kept = came.reduce((sum, [days, parcels]) => sum + (days <= spare ? parcels : 0), 0)
    chance = chance === undefined ? kept / all : (kept + 12 * chance) / (all + 12)
  }
  return chance === undefined ? undefined : Math.round(1000 * chance + 1e-9) / 10
}

function insured({ order, world, decisions }: About): number {
  const insurance = decisions.insurance as { cover: string; amount?: { minor: number; currency: string } }
  return insurance.cover === 'none'
    ? 0
    : (atHome(insurance.cover === 'amount' ? insurance.amount! : order.value, world.rates) ?? 0)
}

function distance({ order, world, found }: About): string | undefined {
  const from = world.locations.find(({ id }) => id === found.location)
  const to = order.shipTo
  if (!from || to.country === '') return undefined
  if (from.country === to.country)
    return compact(from.address.postcode).slice(0, 2) === compact(to.postcode).slice(0, 2) ? 'local' : 'domestic'
  // The test worlds lie in Europe.
  return 'same continent'
}
