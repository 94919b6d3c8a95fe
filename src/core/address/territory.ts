/**
 * Parts of countries to which other customs rules apply than to the rest, by postcode. `union`: goods from the customs
 * union come in without a declaration. From Article 4 of Regulation (EU) 952/2013 (customs territory), Article 6 of
 * Directive 2006/112/EC (territories without the Union's value added tax, to which goods are declared), and for
 * Northern Ireland the Windsor Framework of 2023.
 */
export interface Territory {
  readonly name: string
  readonly country: string
  /** Postcodes begin with one of these; none for the whole code. */
  readonly prefixes: readonly string[]
  readonly union: boolean
}

export const territories: readonly Territory[] = [
  { name: 'Canary Islands', country: 'ES', prefixes: ['35', '38'], union: false },
  { name: 'Ceuta', country: 'ES', prefixes: ['51'], union: false },
  { name: 'Melilla', country: 'ES', prefixes: ['52'], union: false },
  { name: 'Åland', country: 'FI', prefixes: ['22'], union: false },
  { name: 'Åland', country: 'AX', prefixes: [], union: false },
  { name: 'Heligoland', country: 'DE', prefixes: ['27498'], union: false },
  { name: 'Büsingen', country: 'DE', prefixes: ['78266'], union: false },
  { name: 'Livigno', country: 'IT', prefixes: ['23030', '23041'], union: false },
  { name: 'Campione d’Italia', country: 'IT', prefixes: ['22061'], union: false },
  { name: 'Mount Athos', country: 'GR', prefixes: ['63086', '63087'], union: false },
  { name: 'Guadeloupe', country: 'FR', prefixes: ['971'], union: false },
  { name: 'Martinique', country: 'FR', prefixes: ['972'], union: false },
  { name: 'French Guiana', country: 'FR', prefixes: ['973'], union: false },
  { name: 'Réunion', country: 'FR', prefixes: ['974'], union: false },
  { name: 'Mayotte', country: 'FR', prefixes: ['976'], union: false },
  { name: 'French overseas', country: 'FR', prefixes: ['975', '977', '978', '986', '987', '988'], union: false },
  ...(['GP', 'MQ', 'GF', 'RE', 'YT'] as const).map((country) => ({
    name: 'French overseas',
    country,
    prefixes: [],
    union: false,
  })),
  { name: 'Monaco', country: 'MC', prefixes: [], union: true },
  { name: 'Northern Ireland', country: 'GB', prefixes: ['BT'], union: true },
  { name: 'Svalbard', country: 'NO', prefixes: ['917', '8099'], union: false },
  { name: 'Svalbard and Jan Mayen', country: 'SJ', prefixes: [], union: false },
]

const byCountry = new Map<string, Territory[]>()
for (const territory of territories)
  byCountry.set(territory.country, [...(byCountry.get(territory.country) ?? []), territory])

/** The territory that a postcode lies in; undefined for the ordinary part of a country. */
export function territoryOf(country: string, postcode: string): Territory | undefined {
  const list = byCountry.get(country)
  if (!list) return undefined
  const plain = postcode.replace(/[\s-]/g, '').toUpperCase()
  return list.find(({ prefixes }) => prefixes.length === 0 || prefixes.some((prefix) => plain.startsWith(prefix)))
}

/** Whether goods move between a place and the customs union without a declaration. `members` are its countries. */
export function isInUnion(country: string, postcode: string, members: ReadonlySet<string>): boolean {
  return territoryOf(country, postcode)?.union ?? members.has(country)
}

/**
 * What customs see in a shipment: within one country, within the customs union, or an export. Between a country and a
 * territory of its own that stands outside, goods are declared as well; between Great Britain and Northern Ireland they
 * are not, for the parcels of private people.
 */
export function tradeBetween(
  from: { readonly country: string; readonly postcode: string },
  to: { readonly country: string; readonly postcode: string },
  members: ReadonlySet<string>,
): 'domestic' | 'customs union' | 'export' {
  const [a, b] = [territoryOf(from.country, from.postcode), territoryOf(to.country, to.postcode)]
  if (
    from.country === to.country &&
    (a?.name === b?.name ||
      from.country === 'GB' ||
      (members.has(from.country) ? (a?.union ?? true) === (b?.union ?? true) : true))
  )
    return 'domestic'
  return isInUnion(from.country, from.postcode, members) && isInUnion(to.country, to.postcode, members)
    ? 'customs union'
    : 'export'
}
