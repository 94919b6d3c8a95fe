import { countries } from 'countries-list'

/** ISO 3166-1 alpha-2 codes of all countries. */
export const countryCodes: readonly string[] = Object.keys(countries)

const names = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'code' })

/** A country's name by its code, as the browser knows it; the code itself for what is none. */
export function countryName(code: string): string {
  try {
    return names.of(code) ?? code
  } catch {
    return code || 'unknown'
  }
}
