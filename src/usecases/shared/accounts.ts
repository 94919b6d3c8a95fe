import { fromJson, type ConnectionRow } from '@/data'

/** What is asked for: the account that a label was bought with, or the one that a location uses. */
export interface AccountWanted {
  readonly account?: string | null
  readonly location?: string
}

/** The locations that use an account; null for all. */
export const locationsOf = ({ locations }: Pick<ConnectionRow, 'locations'>): readonly string[] | null =>
  locations === null ? null : fromJson<string[]>(locations)

/**
 * Of a carrier's accounts, the oldest first: the one that is named; else the first that is on and is the location's
 * own, or everybody's; without a location, the first that is on. Undefined when there is none.
 */
export function accountFor(
  rows: readonly ConnectionRow[],
  { account, location }: AccountWanted = {},
): ConnectionRow | undefined {
  const named = account ? rows.find(({ id }) => id === account) : undefined
  if (named) return named
  const on = rows.filter((row) => row.on)
  if (location === undefined) return on[0] ?? rows[0]
  return (
    on.find((row) => locationsOf(row)?.includes(location)) ??
    on.find((row) => locationsOf(row) === null) ??
    (on.length === 0 ? rows.find((row) => locationsOf(row)?.includes(location) ?? true) : undefined)
  )
}
