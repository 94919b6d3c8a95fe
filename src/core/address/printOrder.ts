import addressFormatter from '@fragaria/address-formatter'
import { type Address, countryName } from '@/core/order'

const nameMark = '\uE000'
const streetMark = '\uE001'
const orders = new Map<string, readonly string[]>()

/**
 * The lines of an address in the print order of its own country (package `@fragaria/address-formatter`, templates of
 * the OpenCage project), the country in capitals last. Empty parts are left out; the street lines stay as they were
 * given.
 */
export function printedAddress(address: Address): string[] {
  const { name, company, lines, postcode, city, region, country } = address
  const place = placeLines(country, postcode, city, region)
  const street = lines.filter(Boolean)
  const printed = place
    .flatMap((line) => {
      if (line.includes(nameMark)) return [name, company]
      return line.includes(streetMark) ? street : [line]
    })
    .filter(Boolean)
  return [...printed, countryName(country).toUpperCase()].filter(Boolean)
}

function placeLines(country: string, postcode: string, city: string, region: string): readonly string[] {
  const key = `${country}\n${postcode}\n${city}\n${region}`
  const known = orders.get(key)
  if (known) return known
  // The country itself is written by us, so it is left out here; without one the order of most of Europe is taken.
  const found = addressFormatter.format(
    {
      attention: nameMark,
      road: streetMark,
      postcode,
      city,
      ...(region ? { state: region } : {}),
      countryCode: country || 'BE',
    },
    { output: 'array', appendCountry: false },
  )
  const lines =
    [nameMark, streetMark].every((mark) => found.some((line) => line.includes(mark))) &&
    (city === '' || found.some((line) => line.toUpperCase().includes(city.toUpperCase())))
      ? found
      : [nameMark, streetMark, [postcode, city].filter(Boolean).join(' '), region]
  if (orders.size > 5000) orders.clear()
  orders.set(key, lines)
  return lines
}
