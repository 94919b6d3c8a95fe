import type { Service, Surcharge, Tariff } from '@/core/rating'

/** What a carrier is asked to carry, as it reads it. */
export interface Consignment {
  readonly service: string
  readonly fromCountry: string
  readonly toCountry: string
  readonly toPostcode: string
  readonly shipOn: string
  /** A parcel that says nothing of its goods shares what the consignment has. */
  readonly parcels: readonly {
    readonly weight: number
    readonly size: readonly number[]
    readonly dangerousGoods?: readonly string[] | undefined
    readonly notStackable?: boolean | undefined
  }[]
  readonly signature: boolean
  readonly insured: number
  readonly toCollect: number
  readonly residential: boolean
  readonly postOfficeBox: boolean
  readonly notStackable: boolean
  readonly dangerousGoods: readonly string[]
  readonly duties: 'DAP' | 'DDP'
}

export interface Priced {
  readonly minor: number
  readonly currency: string
  readonly zone: string
  readonly transitDays: number
  /** The base after the discount, then each surcharge that is due, in the tariff's currency. */
  readonly lines: readonly { readonly on: string; readonly minor: number }[]
}

/**
 * Prices by the carrier's own reading of its tariff, apart from Gharry's engine: row by row, as its clerk would. A
 * sentence when it does not take the consignment. `homePerUnit` is what one unit of a currency is worth in the
 * seller's, whose unit has `homeMinors` minor units.
 */
export function priceOf(
  services: readonly Service[],
  tariffs: readonly Tariff[],
  asked: Consignment,
  homePerUnit: (currency: string) => number,
  homeMinors = 100,
): Priced | string {
  const service = services.find((candidate) => candidate.id === asked.service)
  if (!service) return `There is no service "${asked.service}".`
  const zone = zoneOf(service, asked)
  if (!zone) return `${service.name} does not go to ${asked.toCountry} ${asked.toPostcode}.`
  const refused = refusalOf(service, asked, homeMinors)
  if (refused !== null) return refused
  const tariff = tariffs
    .filter(
      (candidate) =>
        candidate.service === service.id &&
        candidate.from <= asked.shipOn &&
        (candidate.until === null || candidate.until >= asked.shipOn),
    )
    .sort((a, b) => (a.from < b.from ? 1 : -1))[0]
  const prices = tariff?.zones[zone.zone]
  if (!tariff || !prices) return `${service.name} has no tariff for ${asked.shipOn} in zone ${zone.zone}.`
  const list = listPrice(tariff, prices, asked)
  if (typeof list !== 'number') return `${service.name} has no price for ${list.dear} g.`
  const base = list - Math.round((list * tariff.discountPermille) / 1000)
  const rate = homePerUnit(tariff.currency)
  const lines: { on: string; minor: number }[] = [{ on: 'base', minor: base }]
  for (const surcharge of tariff.surcharges) {
    if (surcharge.zones && !surcharge.zones.includes(zone.zone)) continue
    if ((surcharge.from && asked.shipOn < surcharge.from) || (surcharge.until && asked.shipOn > surcharge.until))
      continue
    const parcels = concerned(surcharge, service, asked)
    const times = surcharge.each === 'parcel' ? parcels : Math.min(1, parcels)
    if (times === 0) continue
    const valued = surcharge.on === 'cash on delivery' ? asked.toCollect : asked.insured - service.cover.included
    const fixed =
      (surcharge.amount ?? 0) +
      (surcharge.perHundred ? surcharge.perHundred * startedHundreds(valued, rate, homeMinors) : 0)
    lines.push({
      on: surcharge.on,
      minor: fixed * times + Math.round((base * permille(surcharge, asked.shipOn)) / 1000),
    })
  }
  return {
    minor: lines.reduce((sum, { minor }) => sum + minor, 0),
    lines,
    currency: tariff.currency,
    zone: zone.zone,
    transitDays: zone.transitDays,
  }
}

/** The zone with the longest beginning of the postcode, else the one of the whole country. */
function zoneOf(service: Service, asked: Consignment): Service['zones'][number] | undefined {
  const lanes = service.zones.filter((zone) => zone.from === asked.fromCountry && zone.to === asked.toCountry)
  const special = lanes
    .flatMap((zone) =>
      (zone.prefixes ?? [])
        .filter((prefix) => beginsWith(asked.toPostcode, prefix))
        .map((prefix) => ({ zone, length: prefix.length })),
    )
    .sort((a, b) => b.length - a.length)[0]?.zone
  return special ?? lanes.find((candidate) => !candidate.prefixes)
}

/** Why the service does not take it; null where it does. */
function refusalOf({ name, limits, offers, cover }: Service, asked: Consignment, homeMinors: number): string | null {
  if (asked.postOfficeBox && !limits.postOfficeBox) return `${name} does not deliver to post-office boxes.`
  if (asked.signature && !offers.includes('signature')) return `${name} has no signature.`
  if (asked.toCollect > 0 && !offers.includes('cash on delivery')) return `${name} does not collect cash.`
  if (asked.insured > cover.upTo) return `${name} covers ${cover.upTo / homeMinors} at most.`
  const heaviest = Math.max(...asked.parcels.map((parcel) => parcel.weight))
  return heaviest > limits.weight ? `${name} takes ${limits.weight} g at most.` : null
}

/** The price of the list, before the discount; or the weight for which there is none. */
function listPrice(
  { basis, dimensionalDivisor, roundUpTo }: Tariff,
  prices: Tariff['zones'][string],
  asked: Consignment,
): number | { readonly dear: number } {
  const billable = asked.parcels.map(({ weight, size }) => {
    const volume = size.reduce((product, side) => product * side, 1)
    const byVolume = dimensionalDivisor === null ? 0 : Math.ceil(volume / dimensionalDivisor)
    return Math.ceil(Math.max(weight, byVolume) / roundUpTo) * roundUpTo
  })
  const banded = basis === 'shipment' ? [billable.reduce((sum, grams) => sum + grams, 0)] : billable
  let list = prices.perShipment ?? 0
  for (const grams of banded) {
    const band = prices.bands.find((candidate) => grams <= candidate.upTo)
    const last = prices.bands[prices.bands.length - 1]!
    if (band) list += band.price
    else if (prices.step) list += last.price + Math.ceil((grams - last.upTo) / prices.step.every) * prices.step.price
    else return { dear: grams }
  }
  return Math.max(list, prices.minimum ?? 0)
}

/** How many parcels a surcharge concerns. */
function concerned(surcharge: Surcharge, service: Service, asked: Consignment): number {
  const over = surcharge.over ?? 0
  const all = (due: boolean): number => (due ? asked.parcels.length : 0)
  switch (surcharge.on) {
    case 'long':
      return asked.parcels.filter(({ size }) => Math.max(...size) > over).length
    case 'big':
      return asked.parcels.filter(({ size }) => {
        const [a = 0, b = 0, c = 0] = [...size].sort((x, y) => y - x)
        return a + 2 * (b + c) > over
      }).length
    case 'heavy':
      return asked.parcels.filter(({ weight }) => weight > over).length
    case 'fuel':
    case 'peak':
      return all(true)
    case 'residential':
      return all(asked.residential)
    case 'remote':
      return all(
        (surcharge.areas ?? []).some(
          (area) =>
            area.country === asked.toCountry && area.prefixes.some((prefix) => beginsWith(asked.toPostcode, prefix)),
        ),
      )
    case 'not stackable':
      return asked.parcels.filter((parcel) => parcel.notStackable ?? asked.notStackable).length
    case 'dangerous goods':
      return asked.parcels.filter((parcel) =>
        (parcel.dangerousGoods ?? asked.dangerousGoods).some((un) => surcharge.classes?.includes(un) ?? true),
      ).length
    case 'signature':
      return all(asked.signature)
    case 'insurance':
      return all(asked.insured > service.cover.included)
    case 'post-office box':
      return all(asked.postOfficeBox)
    case 'cash on delivery':
      return all(asked.toCollect > 0)
    case 'duties paid':
      return all(asked.duties === 'DDP' && asked.fromCountry !== asked.toCountry)
  }
}

const beginsWith = (postcode: string, prefix: string): boolean =>
  postcode.toUpperCase().split(/[ -]/).join('').startsWith(prefix.toUpperCase().split(/[ -]/).join(''))

/**
 * How many hundreds of its currency the clerk counts for a value of the seller's: the first count of whole hundreds
 * that is worth as much.
 */
function startedHundreds(value: number, rate: number, homeMinors: number): number {
  const worth = (hundreds: number): bigint =>
    (BigInt(hundreds) * 200n * BigInt(Math.round(rate * 1e6)) * BigInt(homeMinors) + 1_000_000n) / 2_000_000n
  let hundreds = Math.max(0, Math.floor(value / rate / homeMinors / 100) - 2)
  while (worth(hundreds) < BigInt(value)) hundreds++
  return hundreds
}

/** The month's figure, or the last one before it. */
function permille({ months, permille: otherwise = 0 }: Surcharge, day: string): number {
  const month = Object.keys(months ?? {})
    .sort()
    .filter((candidate) => candidate <= day.slice(0, 7))
    .pop()
  return month === undefined ? otherwise : months![month]!
}
