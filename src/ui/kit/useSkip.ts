import { createParser, parseAsInteger, useQueryState } from 'nuqs'
import { aStep } from './step'

/** No list is longer; more in an address is a mistake. */
const most = 10_000_000

/** How many of a long list come before those that are shown, in an address. */
export const skipInAddress = createParser({
  parse: (text) => {
    const skip = parseAsInteger.parse(text)
    return skip === null ? null : Math.min(most, Math.max(0, skip))
  },
  serialize: String,
}).withDefault(0)

/** The same where nothing else of the list is in the address; a page with two such lists names each. */
export const useSkip = (name = 'skip') => useQueryState(name, skipInAddress.withOptions(aStep))
