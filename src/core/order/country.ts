import { countries as countryList } from 'countries-list'
import countries from 'i18n-iso-countries'
import de from 'i18n-iso-countries/langs/de.json'
import en from 'i18n-iso-countries/langs/en.json'
import fr from 'i18n-iso-countries/langs/fr.json'
import nl from 'i18n-iso-countries/langs/nl.json'
import pl from 'i18n-iso-countries/langs/pl.json'
import { cleanText } from './text'

const languages = ['en', 'de', 'fr', 'nl', 'pl'] as const
let registered = false

/** The package, with the names it needs; registered at first use, so that who never asks never loads them. */
function names(): typeof countries {
  if (!registered) for (const locale of [en, de, fr, nl, pl]) countries.registerLocale(locale)
  registered = true
  return countries
}

// Codes that channels send although ISO 3166-1 does not list them for the country.
const aliases: Record<string, string> = {
  UK: 'GB',
  EL: 'GR',
  'GREAT BRITAIN': 'GB',
  ENGLAND: 'GB',
  SCOTLAND: 'GB',
  WALES: 'GB',
  HOLLAND: 'NL',
  XKX: 'XK',
  KOSOVO: 'XK',
}
const known = new Map<string, string>()

/**
 * The ISO 3166-1 alpha-2 code for a code (two or three letters) or a name in English, German, French, Dutch or
 * Polish; `XK` for Kosovo (user-assigned, as the EU uses it). Null when it is none of these.
 */
export function countryCode(text: string): string | null {
  // No country has a longer name.
  if (text.length > 200) return null
  const key = cleanText(text).toUpperCase()
  const before = known.get(key)
  if (before !== undefined) return before || null
  const code = findCode(key)
  if (known.size > 5000) known.clear()
  known.set(key, code ?? '')
  return code
}

function findCode(key: string): string | null {
  if (key === '') return null
  const alias = aliases[key]
  if (alias) return alias
  if (key === 'XK' || (/^[A-Z]{2}$/.test(key) && names().isValid(key))) return key
  if (/^[A-Z]{3}$/.test(key)) return names().alpha3ToAlpha2(key) ?? null
  for (const language of languages) {
    const code = names().getAlpha2Code(key, language)
    if (code) return code
  }
  return null
}

/** The English name of a country as people write it (in full, not "UK"), or the code itself when it has none. */
export function countryName(code: string): string {
  if (code === 'XK') return 'Kosovo'
  const usual = names().getName(code, 'en', { select: 'alias' })
  return (usual && usual.length > 3 ? usual : names().getName(code, 'en')) ?? code
}

/** The continent of a country by its code (package `countries-list`); undefined for a code it does not have. */
export const continentOf = (country: string): string | undefined =>
  countryList[country as keyof typeof countryList]?.continent
