import { arrivalDay, dayText, minuteOf, shipDay, type LocalTime } from '@/core/calendar'
import type { Parcel } from '@/core/packing'
import { formatLength, formatWeight } from '@/core/units'
import type { Band, Location, Service, Zone } from './tariff'

export interface CostLine {
  readonly what: 'base' | 'fuel' | 'signature' | 'insurance'
  readonly minor: number
}

export interface Quote {
  readonly service: string
  readonly carrier: string
  readonly zone: string
  /** Grams that the price is for: scales or dimensional weight, the greater. */
  readonly billable: number
  readonly lines: readonly CostLine[]
  readonly cost: number
  readonly leavesOn: string
  readonly arrivesOn: string
  readonly tracked: boolean
}

export type RefusalCode =
  | 'location' | 'not-covered' | 'too-heavy' | 'too-long' | 'too-big' | 'post-office-box' | 'dangerous-goods'
  | 'no-signature' | 'no-cover' | 'no-band' | 'never-collects' | 'barred' | 'not-allowed' | 'no-offer' | 'too-slow' | 'too-dear'

export interface Refusal {
  readonly service: string
  readonly carrier: string
  readonly code: RefusalCode
  readonly sentence: string
}

export interface Shipment {
  readonly parcel: Parcel
  readonly from: Location
  readonly to: { readonly country: string; readonly postcode: string; readonly postOfficeBox: boolean }
  readonly dangerousGoods: readonly string[]
  readonly signature: boolean
  /** What the service must offer besides: `tracking`, `cash on delivery`, `live goods`, `duties paid`. */
  readonly needs?: readonly string[]
  /** Most days from leaving to arrival. */
  readonly within?: number | null
  /** Value to be covered, in minor units of the home currency; 0 for none. */
  readonly insured: number
  readonly ready: LocalTime
}

interface Lane { readonly service: Service; readonly cutOff: number; readonly zonesByRoute: ReadonlyMap<string, readonly Zone[]> }

/** Services made ready for rating many shipments; build it once per world. */
export interface RateBook {
  readonly lanes: readonly Lane[]
}

export function compileRates(services: readonly Service[]): RateBook {
  return {
    lanes: services.map((service) => {
      const zonesByRoute = new Map<string, Zone[]>()
      for (const zone of service.zones) {
        const route = `${zone.from}>${zone.to}`
        const zones = zonesByRoute.get(route) ?? []
        zones.push(zone)
        zonesByRoute.set(route, zones)
      }
      // Zones with postcode prefixes first, the longest prefix before shorter ones.
      const longest = (zone: Zone): number => Math.max(0, ...(zone.prefixes ?? []).map((prefix) => prefix.length))
      for (const zones of zonesByRoute.values()) zones.sort((a, b) => longest(b) - longest(a))
      return { service, cutOff: minuteOf(service.cutOff) ?? 0, zonesByRoute }
    }),
  }
}

/**
 * Dimensional weight in grams: volume over the divisor (cm³ per kg), rounded up to the gram.
 * The divisor is part of each carrier's tariff; the formula is the trade's.
 */
export const dimensionalWeight = (volumeMm3: number, divisor: number): number => Math.ceil(volumeMm3 / divisor - 1e-9)

/** Quotes every service for a shipment; each one that cannot carry it is refused with its reason and by how much. */
export function quoteAll(book: RateBook, shipment: Shipment): { quotes: Quote[]; refusals: Refusal[] } {
  const quotes: Quote[] = []
  const refusals: Refusal[] = []
  for (const lane of book.lanes) {
    const result = quoteOne(lane, shipment)
    if ('code' in result) refusals.push(result)
    else quotes.push(result)
  }
  return { quotes, refusals }
}

const refuse = (service: Service, code: RefusalCode, sentence: string): Refusal => ({ service: service.id, carrier: service.carrier, code, sentence })

function quoteOne(lane: Lane, shipment: Shipment): Quote | Refusal {
  const { service } = lane
  const { parcel, from, to } = shipment

  if (!service.locations.includes(from.id)) return refuse(service, 'location', `does not collect in ${from.name}`)
  const zone = lane.zonesByRoute.get(`${from.country}>${to.country}`)?.find((candidate) => covers(candidate, to.postcode))
  if (!zone) return refuse(service, 'not-covered', `does not go from ${from.country} to ${to.country || 'an unknown country'} ${to.postcode}`.trimEnd())
  const { limits } = service
  if (to.postOfficeBox && !limits.postOfficeBox) return refuse(service, 'post-office-box', 'does not deliver to post-office boxes')
  if (parcel.weight > limits.weight) return refuse(service, 'too-heavy', `takes ${formatWeight(limits.weight)}, the parcel is ${formatWeight(parcel.weight - limits.weight)} over`)
  if (parcel.longestSide > limits.longestSide) return refuse(service, 'too-long', `takes sides up to ${formatLength(limits.longestSide)}, the parcel is ${formatLength(parcel.longestSide - limits.longestSide)} over`)
  if (parcel.girth > limits.girth) return refuse(service, 'too-big', `takes ${formatLength(limits.girth)} length plus girth, the parcel is ${formatLength(parcel.girth - limits.girth)} over`)
  const refused = shipment.dangerousGoods.find((un) => !limits.dangerousGoods.includes(un))
  if (refused) return refuse(service, 'dangerous-goods', `does not take ${refused}`)
  if (shipment.signature && service.signatureFee === null) return refuse(service, 'no-signature', 'has no signature')
  if (shipment.insured > service.cover.upTo) return refuse(service, 'no-cover', `covers at most ${(service.cover.upTo / 100).toFixed(2)}, ${((shipment.insured - service.cover.upTo) / 100).toFixed(2)} too little`)

  const missing = shipment.needs?.find((need) => !(need === 'tracking' ? service.tracked : service.offers?.includes(need)))
  if (missing) return refuse(service, 'no-offer', `does not offer ${missing}`)

  const billable = service.dimensionalDivisor ? Math.max(parcel.weight, dimensionalWeight(parcel.volume, service.dimensionalDivisor)) : parcel.weight
  const band = bandFor(service.bands[zone.zone], billable)
  if (!band) return refuse(service, 'no-band', `has no price in zone ${zone.zone} for ${formatWeight(billable)} billable`)
  const leaves = shipDay(shipment.ready, lane.cutOff, service.collects)
  const arrives = leaves === null ? null : arrivalDay(leaves, zone.transitDays, service.delivers)
  if (leaves === null || arrives === null) return refuse(service, 'never-collects', 'has no collection or delivery days')
  if (shipment.within !== undefined && shipment.within !== null && arrives - leaves > shipment.within) return refuse(service, 'too-slow', `takes ${arrives - leaves} days, ${arrives - leaves - shipment.within} more than allowed`)

  const lines: CostLine[] = [{ what: 'base', minor: band.price }]
  // Per mille of whole minor units: rounded half up to the minor unit.
  if (service.fuelPermille > 0) lines.push({ what: 'fuel', minor: Math.floor((band.price * service.fuelPermille + 500) / 1000) })
  if (shipment.signature && service.signatureFee) lines.push({ what: 'signature', minor: service.signatureFee })
  const toCover = shipment.insured - service.cover.included
  if (toCover > 0) lines.push({ what: 'insurance', minor: Math.ceil(toCover / 10_000) * service.cover.perHundred })
  let cost = 0
  for (const line of lines) cost += line.minor
  return { service: service.id, carrier: service.carrier, zone: zone.zone, billable, lines, cost, leavesOn: dayText(leaves), arrivesOn: dayText(arrives), tracked: service.tracked }
}

const covers = (zone: Zone, postcode: string): boolean => !zone.prefixes || zone.prefixes.some((prefix) => postcode.startsWith(prefix))

function bandFor(bands: readonly Band[] | undefined, billable: number): Band | undefined {
  return bands?.find((band) => billable <= band.upTo)
}
