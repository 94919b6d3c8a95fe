import { type Day, dayOf, minuteOf } from '@/core/calendar'
import { postcodeKey } from '@/core/order'
import { type Conversion, conversionTo, minorDigits, type Rates, type MinorUnits, minorUnits } from '@/core/units'
import {
  type Holidays,
  type Location,
  type Punctuality,
  type Service,
  type Surcharge,
  surchargeKinds,
  type Tariff,
} from './tariff'

/** What can be read off rates when they are made ready; all of it by number, so that rating allocates nothing. */
export interface RateBook {
  readonly lanes: readonly Lane[]
  readonly holidays: Holidays
  readonly home: string
}

export interface Collection {
  /** Its number within the lane. */
  readonly index: number
  readonly cutOff: number
  readonly collects: readonly number[]
  /** Days on which nothing is handed over there; public holidays alone when absent. */
  readonly closed?: ReadonlySet<Day>
}

/** One service made ready. */
export interface Lane {
  readonly service: Service
  readonly collections: ReadonlyMap<string, Collection>
  /** By country of origin, then of destination. */
  readonly routes: ReadonlyMap<string, ReadonlyMap<string, Route>>
  /** Names of its zones; plans and transit go by their number. */
  readonly zones: readonly string[]
  readonly plans: readonly Plan[]
  /** Per mille of shipments on time, by zone; −1 when too few are known. */
  readonly onTime: Int16Array
}

export interface Route {
  /** Longest first. */
  readonly special: readonly (End & { readonly prefix: string })[]
  readonly rest: End | null
  /** Days of leaving and arrival that were asked for before; see `daysOf`. */
  readonly days: Map<number, number>
}

/** Where a route ends: the number of the zone, and working days in transit. */
export interface End {
  readonly zone: number
  readonly transit: number
}

/** One tariff made ready. */
export interface Plan {
  readonly tariff: Tariff
  readonly from: Day
  readonly until: Day
  readonly zones: readonly (PlanZone | null)[]
  readonly charges: readonly Charge[]
  /** From the tariff's currency to the home currency; null when there is no rate. */
  readonly conversion: Conversion | null
  /** One hundred of the tariff's currency, in its minor units: 10,000 for euros, 100 for yen. */
  readonly hundred: number
}

export interface PlanZone {
  readonly upTo: Int32Array
  readonly price: Int32Array
  readonly stepEvery: number
  readonly stepPrice: MinorUnits
  readonly perShipment: number
  readonly minimum: number
}

export interface Charge {
  readonly kind: number
  readonly surcharge: Surcharge
  readonly from: Day
  readonly until: Day
  /** 1 where it is due; null when it is due in every zone. */
  readonly zones: Uint8Array | null
  readonly areas: ReadonlyMap<string, readonly string[]> | null
  /** Fuel: the first month, and the per mille of each month from it on. */
  readonly firstMonth: number
  readonly monthly: Int16Array | null
}

const fewest = 20

/** Makes services and tariffs ready for rating many shipments; build it once per world. */
export function compileRates(
  services: readonly Service[],
  tariffs: readonly Tariff[],
  rates: Rates,
  holidays: Holidays = new Map(),
  punctuality: readonly Punctuality[] = [],
  locations: readonly Location[] = [],
): RateBook {
  const doors = new Map(locations.map((location) => [location.id, doorOf(location, holidays)]))
  return {
    lanes: services
      .filter(({ retired }) => !retired)
      .map((service) =>
        compileLane(
          service,
          tariffs.filter((tariff) => tariff.service === service.id),
          rates,
          punctuality,
          doors,
        ),
      ),
    holidays,
    home: rates.home,
  }
}

/** When a location hands parcels over, besides what services say. */
interface Door {
  readonly open: readonly number[] | undefined
  readonly closed: ReadonlySet<Day> | undefined
}

function doorOf({ country, openDays, closedOn = [] }: Location, holidays: Holidays): Door {
  const own = closedOn.map(dayOf)
  return { open: openDays, closed: own.length > 0 ? new Set([...(holidays.get(country) ?? []), ...own]) : undefined }
}

function compileLane(
  service: Service,
  tariffs: readonly Tariff[],
  rates: Rates,
  punctuality: readonly Punctuality[],
  doors: ReadonlyMap<string, Door>,
): Lane {
  const zones = [...new Set(service.zones.map(({ zone }) => zone))]
  const known = new Map(
    punctuality
      .filter((entry) => entry.service === service.id && entry.shipments >= fewest)
      .map((entry) => [entry.zone, Math.round((entry.onTime * 1000) / entry.shipments)]),
  )
  return {
    service,
    zones,
    routes: routesOf(service, zones),
    collections: new Map(
      service.locations.map((location, index) => {
        const own = service.collections?.find((collection) => collection.location === location) ?? service
        const { open, closed } = doors.get(location) ?? {}
        const collects = open ? own.collects.filter((day) => open.includes(day)) : own.collects
        return [location, { index, cutOff: minuteOf(own.cutOff) ?? 0, collects, ...(closed ? { closed } : {}) }]
      }),
    ),
    plans: tariffs.map((tariff) => compilePlan(tariff, zones, rates)).sort((a, b) => a.from - b.from),
    onTime: Int16Array.from(zones, (zone) => known.get(zone) ?? -1),
  }
}

/** A route while its ends are gathered. */
type OpenRoute = Route & { special: (End & { prefix: string })[]; rest: End | null }

function routesOf(service: Service, zones: readonly string[]): Map<string, Map<string, Route>> {
  const routes = new Map<string, Map<string, OpenRoute>>()
  for (const { zone, from, to, prefixes, transitDays } of service.zones) {
    let ends = routes.get(from)
    if (!ends) routes.set(from, (ends = new Map<string, OpenRoute>()))
    let route = ends.get(to)
    if (!route) ends.set(to, (route = { special: [], rest: null, days: new Map() }))
    const end = { zone: zones.indexOf(zone), transit: transitDays }
    if (prefixes) for (const prefix of prefixes) route.special.push({ prefix: postcodeKey(prefix), ...end })
    else route.rest ??= end
  }
  for (const ends of routes.values())
    for (const route of ends.values()) route.special.sort((a, b) => b.prefix.length - a.prefix.length)
  return routes
}

function compilePlan(tariff: Tariff, zones: readonly string[], rates: Rates): Plan {
  return {
    tariff,
    from: dayOf(tariff.from),
    until: tariff.until === null ? Infinity : dayOf(tariff.until),
    conversion: conversionTo(rates, tariff.currency),
    hundred: 100 * 10 ** minorDigits(tariff.currency),
    zones: zones.map((zone): PlanZone | null => {
      const price = tariff.zones[zone]
      return price
        ? {
            upTo: Int32Array.from(price.bands, (band) => band.upTo),
            price: Int32Array.from(price.bands, (band) => band.price),
            stepEvery: price.step?.every ?? 0,
            stepPrice: price.step?.price ?? minorUnits(0),
            perShipment: price.perShipment ?? 0,
            minimum: price.minimum ?? 0,
          }
        : null
    }),
    charges: tariff.surcharges
      .map((surcharge): Charge => ({
        kind: surchargeKinds.indexOf(surcharge.on) + 1,
        surcharge,
        from: surcharge.from ? dayOf(surcharge.from) : -Infinity,
        until: surcharge.until ? dayOf(surcharge.until) : Infinity,
        zones: surcharge.zones ? Uint8Array.from(zones, (zone) => (surcharge.zones!.includes(zone) ? 1 : 0)) : null,
        areas: surcharge.areas ? areasByCountry(surcharge.areas) : null,
        ...monthly(surcharge),
      }))
      .sort((a, b) => a.kind - b.kind),
  }
}

/** One country may be listed more than once. */
function areasByCountry(areas: NonNullable<Surcharge['areas']>): Map<string, readonly string[]> {
  const found = new Map<string, readonly string[]>()
  for (const { country, prefixes } of areas)
    found.set(country, [...(found.get(country) ?? []), ...prefixes.map(postcodeKey)])
  return found
}

/**
 * Months without a figure take the last one before them; after the last listed month it goes on, and before the first
 * `permille` holds.
 */
function monthly({ months, permille }: Surcharge): Pick<Charge, 'firstMonth' | 'monthly'> {
  const listed = Object.entries(months ?? {})
    .map(([text, value]) => [Number(text.slice(0, 4)) * 12 + Number(text.slice(5, 7)) - 1, value] as const)
    .sort((a, b) => a[0] - b[0])
  const first = listed[0]
  if (!first) return { firstMonth: 0, monthly: null }
  const values = new Int16Array(listed[listed.length - 1]![0] - first[0] + 1)
  let value = permille ?? 0
  for (let month = first[0], next = 0; month < first[0] + values.length; month++) {
    while (next < listed.length && listed[next]![0] <= month) value = listed[next++]![1]
    values[month - first[0]] = value
  }
  return { firstMonth: first[0], monthly: values }
}

/**
 * Where a route ends for a postcode (as `postcodeKey` has it), the longest prefix first; null when the service does
 * not go there.
 */
export function endOf(lane: Lane, from: string, to: string, postcode: string): End | null {
  const route = lane.routes.get(from)?.get(to)
  if (!route) return null
  const { special } = route
  for (let i = 0; i < special.length; i++) if (postcode.startsWith(special[i]!.prefix)) return special[i]!
  return route.rest
}

/** The tariff of a day: of several, the one that began last. */
export function planOn(lane: Lane, day: Day): Plan | null {
  for (let i = lane.plans.length - 1; i >= 0; i--)
    if (day >= lane.plans[i]!.from && day <= lane.plans[i]!.until) return lane.plans[i]!
  return null
}
