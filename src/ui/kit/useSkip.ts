import { parseAsInteger, useQueryState } from 'nuqs'
import { aStep } from './step'

/** How many of a long list come before those that are shown; a page with two such lists names each. */
export const useSkip = (name = 'skip') => useQueryState(name, parseAsInteger.withDefault(0).withOptions(aStep))
