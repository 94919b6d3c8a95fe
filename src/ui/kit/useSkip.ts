import { parseAsInteger, useQueryState } from 'nuqs'
import { aStep } from './step'

/** How many of a long list come before those that are shown. */
export const useSkip = () => useQueryState('skip', parseAsInteger.withDefault(0).withOptions(aStep))
