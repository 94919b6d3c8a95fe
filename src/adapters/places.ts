import cityTimezones from 'city-timezones'

/** A place on the map: degrees, and the time zone (IANA) that holds there. */
export interface Place {
  readonly name: string
  readonly country: string
  readonly latitude: number
  readonly longitude: number
  readonly zone: string
}

const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/ł/g, 'l')
    .replace(/[^a-z]+/g, ' ')
    .trim()

/** English names of cities that the list has by their own. */
const english: Readonly<Record<string, string>> = {
  ghent: 'gent',
  bruges: 'brugge',
  cologne: 'koln',
  warsaw: 'warszawa',
}

let byCountry: Map<string, { readonly largest: Place; readonly cities: Map<string, Place> }> | undefined

/** The shipped list of cities (Natural Earth, by `city-timezones`), read at first use. */
function cities(): NonNullable<typeof byCountry> {
  if (byCountry) return byCountry
  byCountry = new Map()
  const all = [...cityTimezones.cityMapping].sort((a, b) => b.pop - a.pop)
  for (const { city, city_ascii: ascii, iso2, lat, lng, timezone } of all) {
    const place = { name: city, country: iso2, latitude: lat, longitude: lng, zone: timezone }
    const own = byCountry.get(iso2) ?? { largest: place, cities: new Map<string, Place>() }
    for (const name of [plain(city), plain(ascii)]) if (!own.cities.has(name)) own.cities.set(name, place)
    byCountry.set(iso2, own)
  }
  return byCountry
}

/** A city of one of some countries, by its name; the first country that has one counts. Undefined when none has. */
export function placeNamed(name: string, countries: readonly string[]): Place | undefined {
  const wanted = plain(name.slice(0, 80))
  if (wanted === '') return undefined
  for (const country of countries) {
    const known = cities().get(country)?.cities
    const found = known?.get(wanted) ?? known?.get(english[wanted] ?? '')
    if (found) return found
  }
  return undefined
}

/** The time zone of a city, else of the largest city of its country, else UTC. */
export const zoneOf = (country: string, city: string): string =>
  placeNamed(city, [country])?.zone ?? cities().get(country)?.largest.zone ?? 'UTC'
