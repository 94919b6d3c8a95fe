import { isSupportedCountry, parsePhoneNumberWithError } from 'libphonenumber-js/mobile'

/**
 * A telephone number as it was typed, as E.164 writes it (`+32470123456`), if it is one that can take text messages; a
 * number without its country is one of `country` (ISO 3166-1 alpha-2). Null for everything else.
 */
export function mobileNumber(typed: string, country: string): string | null {
  if (typed.length > 40 || typed.trim() === '') return null
  try {
    const number = parsePhoneNumberWithError(typed.normalize('NFKC'), {
      ...(isSupportedCountry(country) ? { defaultCountry: country } : {}),
      extract: false,
    })
    return number.isValid() && !number.ext ? number.number : null
  } catch {
    return null
  }
}
