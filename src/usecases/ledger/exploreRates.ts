import { minorUnits } from '@/core/units'
import { dayOf, localTime, minuteOf } from '@/core/calendar'
import { countryCode } from '@/core/order'
import { parcelOf } from '@/core/packing'
import {
  noQuote,
  type Offer,
  type Quote,
  quoteAll,
  quoteColumns,
  type Refusal,
  type ShipmentColumns,
} from '@/core/rating'
import { readyWorld } from '@/core/world'
import { newestWorld } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'

/** What is asked of all services at once. Grams, millimetres, minor units of the home currency. */
export interface Exploration {
  readonly location: string
  readonly country: string
  readonly postcode: string
  readonly parcels: number
  readonly weight: number
  readonly size: readonly [number, number, number]
  readonly residential: boolean
  readonly postOfficeBox: boolean
  readonly signature: boolean
  readonly insured: number
  readonly needs: readonly Offer[]
  readonly dangerousGoods: readonly string[]
  /** The day and time it is ready; empty for now. */
  readonly day: string
  readonly time: string
}

export interface Explored {
  readonly quotes: readonly (Quote & { readonly marks: readonly ('cheapest' | 'first there' | 'not beaten')[] })[]
  readonly refusals: readonly Refusal[]
  /** Costs of each service over the weight of one parcel of the same size; null where it has no price. */
  readonly curve: {
    readonly weights: readonly number[]
    readonly services: readonly { readonly service: string; readonly costs: readonly (number | null)[] }[]
  }
}

const curvePoints = 64

/** All quotes for a shipment with their lines, and how the costs run over the weight. */
export async function exploreRates(gharry: Application, asked: Exploration): Promise<Answer<Explored>> {
  const world = (await newestWorld(gharry.db))?.world
  const from = world?.locations.find(({ id }) => id === asked.location)
  if (!world || !from) return refuse('unknown-location', `There is no location "${asked.location}".`)
  const country = countryCode(asked.country)
  if (!country)
    return refuse('unknown-country', `"${asked.country}" is no country: write a code such as NL, or a name.`)
  const ready = asked.day
    ? { day: dayOf(asked.day), minuteOfDay: minuteOf(asked.time) ?? 600 }
    : localTime(gharry.now().getTime(), from.timeZone)
  const { rateBook } = readyWorld({ ...world, items: [] })
  const to = {
    country,
    postcode: asked.postcode.trim().toUpperCase(),
    postOfficeBox: asked.postOfficeBox,
    residential: asked.residential,
  }
  const parcel = parcelOf('', asked.size, asked.weight, [])
  const { quotes, refusals } = quoteAll(rateBook, {
    parcels: new Array(asked.parcels).fill(parcel),
    from,
    to,
    dangerousGoods: asked.dangerousGoods,
    signature: asked.signature,
    insured: minorUnits(asked.insured),
    needs: asked.needs,
    ready,
  })
  const weights = weightsUpTo(Math.max(30_000, asked.weight))
  const { cost } = quoteColumns(
    rateBook,
    curveColumns({ ...asked, country: to.country, postcode: to.postcode }, weights, from, ready),
  )
  const curve = world.services.map(({ id }, lane) => ({
    service: id,
    costs: weights.map((_, i) => {
      const minor = cost[i * world.services.length + lane]!
      return minor === noQuote ? null : minor
    }),
  }))
  return {
    ok: true,
    quotes: marked(quotes),
    refusals,
    curve: { weights, services: curve.filter(({ costs }) => costs.some((minor) => minor !== null)) },
  }
}

/** Cheapest first; the best by cost, by day, and those that no other beats in both. */
function marked(quotes: readonly Quote[]): Explored['quotes'] {
  const least = Math.min(...quotes.map(({ cost }) => cost))
  const first = quotes.reduce((day, { arrivesOn }) => (arrivesOn < day ? arrivesOn : day), '9999-12-31')
  return [...quotes]
    .sort((a, b) => a.cost - b.cost || (a.arrivesOn < b.arrivesOn ? -1 : 1))
    .map((quote) => ({
      ...quote,
      marks: [
        ...(quote.cost === least ? (['cheapest'] as const) : []),
        ...(quote.arrivesOn === first ? (['first there'] as const) : []),
        ...(quotes.some(
          (other) =>
            other !== quote &&
            other.cost <= quote.cost &&
            other.arrivesOn <= quote.arrivesOn &&
            (other.cost < quote.cost || other.arrivesOn < quote.arrivesOn),
        )
          ? []
          : (['not beaten'] as const)),
      ],
    }))
}

/** Weights that lie closer where tariffs have more bands: from 100 g up to the heaviest, each step somewhat larger. */
function weightsUpTo(most: number): number[] {
  const ratio = (most / 100) ** (1 / (curvePoints - 1))
  return [...new Set(Array.from({ length: curvePoints }, (_, i) => Math.round((100 * ratio ** i) / 50) * 50))]
}

function curveColumns(
  asked: Exploration,
  weights: readonly number[],
  from: ShipmentColumns['locations'][number],
  ready: { day: number; minuteOfDay: number },
): ShipmentColumns {
  const count = weights.length
  const { longestSide, girth, volume } = parcelOf('', asked.size, 0, [])
  return {
    count,
    locations: [from],
    places: [
      {
        country: asked.country,
        postcode: asked.postcode,
        postOfficeBox: asked.postOfficeBox,
        residential: asked.residential,
      },
    ],
    goods: [asked.dangerousGoods],
    needs: [asked.needs],
    location: new Uint8Array(count),
    place: new Uint32Array(count),
    dangerousGoods: new Uint16Array(count),
    need: new Uint16Array(count),
    signature: new Uint8Array(count).fill(Number(asked.signature)),
    notStackable: new Uint8Array(count),
    insured: new Int32Array(count).fill(asked.insured),
    toCollect: new Int32Array(count),
    day: new Int32Array(count).fill(ready.day),
    minuteOfDay: new Int16Array(count).fill(ready.minuteOfDay),
    firstParcel: Uint32Array.from({ length: count + 1 }, (_, i) => i),
    weight: Int32Array.from(weights),
    longestSide: new Int32Array(count).fill(longestSide),
    girth: new Int32Array(count).fill(girth),
    volume: new Float64Array(count).fill(volume),
  }
}
