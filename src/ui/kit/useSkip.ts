import { parseAsInteger, useQueryState } from 'nuqs'
import { aStep } from './step'

/** No list is longer; more in an address is a mistake. */
const most = 10_000_000

/** How many of a long list come before those that are shown; a page with two such lists names each. */
export function useSkip(name = 'skip') {
  const [skip, setSkip] = useQueryState(name, parseAsInteger.withDefault(0).withOptions(aStep))
  return [Math.min(most, Math.max(0, skip)), setSkip] as const
}
