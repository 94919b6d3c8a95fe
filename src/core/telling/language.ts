/** Languages that Gharry's own texts are in, with their names in themselves. */
export const languages = ['en', 'nl', 'de', 'fr', 'pl'] as const
export type Language = (typeof languages)[number]
export const languageNames: Readonly<Record<Language, string>> = {
  ...{ en: 'English', nl: 'Nederlands', de: 'Deutsch', fr: 'Français', pl: 'Polski' },
}

/** Whether a text is one of the languages. */
export const isLanguage = (text: string): text is Language => (languages as readonly string[]).includes(text)

// Where several are spoken, the one that most speak; whoever reads another one finds it on the page.
const ofCountry: Readonly<Record<string, Language>> = {
  ...{ NL: 'nl', BE: 'nl', DE: 'de', AT: 'de', CH: 'de', LI: 'de', FR: 'fr', LU: 'fr', MC: 'fr', PL: 'pl' },
}

/**
 * The language of a customer: the channel's where it says one that there are texts in, else that of the country (French
 * for Wallonia, by its postcodes 4000 to 7999 and 1300 to 1499), else English.
 */
export function languageOf(channelLanguage: string, country: string, postcode = ''): Language {
  const said = channelLanguage.slice(0, 2).toLowerCase()
  if (isLanguage(said)) return said
  if (country === 'BE' && /^\s{0,9}(?:[4-7]\d|1[34])\d\d\b/.test(postcode)) return 'fr'
  return ofCountry[country] ?? 'en'
}

/**
 * The best of the languages for what a browser prefers (`Accept-Language`, RFC 9110, 12.5.4); `usual` when it prefers
 * none of them.
 */
export function preferredLanguage(accepted: string, usual: Language): Language {
  const wanted = accepted
    .slice(0, 500)
    .split(',')
    .map((part, i) => {
      const [tag = '', ...more] = part.trim().split(';')
      const q = Number(/^\s{0,9}q=([\d.]{1,5})$/.exec(more[0] ?? '')?.[1] ?? 1)
      return { language: tag.slice(0, 2).toLowerCase(), q, i }
    })
    .filter(({ q }) => q > 0)
    .sort((a, b) => b.q - a.q || a.i - b.i)
  for (const { language } of wanted) if (isLanguage(language)) return language
  return usual
}
