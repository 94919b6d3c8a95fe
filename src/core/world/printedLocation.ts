import { printedAddress } from '@/core/address'
import type { Location } from '@/core/rating'

/** The address of a location as it is printed on labels: company, street lines, place, and the country last. */
export const printedLocation = ({ address, country }: Pick<Location, 'address' | 'country'>): readonly string[] =>
  printedAddress({
    ...{ name: '', company: address.company, lines: address.lines, postcode: address.postcode },
    ...{ city: address.city, region: '', country },
  })
