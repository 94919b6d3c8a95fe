import type { Grams, MinorUnits } from '@/core/units'
import { foldText, glob } from '@/core/order'
import type { Pick, Speed } from '@/core/rating'

/**
 * What a channel's checkout wording means. The first row that fits an order gives; a rule or a hand pin goes before
 * it.
 */
export interface WordingTable {
  readonly channel: string
  readonly rows: readonly WordingRow[]
}

export interface WordingRow {
  /** The wording, in which `*` and `?` stand for any characters and any one; compared as all text is. */
  readonly wording: string
  /** Only for these countries. */
  readonly countries?: readonly string[]
  /** Only for this corrected weight of the items, grams, both ends included. */
  readonly weight?: readonly [Grams, Grams]
  /** Only for this order value in minor units of the home currency, both ends included. */
  readonly value?: readonly [MinorUnits, MinorUnits]
  readonly gives: WordingMeaning
}

/** At least one of them. A service is taken or nothing; a way to choose stands for what cannot name one. */
export interface WordingMeaning {
  readonly speed?: Speed
  readonly preset?: string
  readonly pick?: Pick
}

/** What a wording table looks at. */
export interface WordingQuestion {
  readonly channel: string
  readonly wording: string
  readonly country: string
  /** Undefined when an item has none. */
  readonly weight: Grams | undefined
  /** Undefined when there is no exchange rate. */
  readonly value: MinorUnits | undefined
}

/** The rows of a table that are about a wording, whatever the bands. */
type RowsFor = (wording: string) => readonly WordingRow[]
export type ReadyWordings = ReadonlyMap<string, RowsFor>

// Checkouts have few wordings; one that writes a new one for every order is not remembered for ever.
const maxRemembered = 5000

/** Tables made ready for asking; build them once per world. */
export const readyWordings = (tables: readonly WordingTable[]): ReadyWordings =>
  new Map(tables.map(({ channel, rows }) => [channel, rowsFor(rows)]))

function rowsFor(rows: readonly WordingRow[]): RowsFor {
  const tests = rows.map((row) => glob(foldText(row.wording)))
  const known = new Map<string, readonly WordingRow[]>()
  return (wording) => {
    let found = known.get(wording)
    if (!found) {
      const folded = foldText(wording)
      found = folded === '' ? [] : rows.filter((_, i) => tests[i]!(folded))
      if (known.size >= maxRemembered) known.clear()
      known.set(wording, found)
    }
    return found
  }
}

const within = (n: number | undefined, band: readonly [number, number] | undefined): boolean =>
  !band || (n !== undefined && n >= band[0] && n <= band[1])

const noRows: readonly WordingRow[] = []

/** The rows that are about a wording, whatever the bands. */
export const rowsAbout = (tables: ReadyWordings, channel: string, wording: string): readonly WordingRow[] =>
  tables.get(channel)?.(wording) ?? noRows

/**
 * The row that says what a wording means: the first whose bands fit; null when none does. An order without wording has
 * none.
 */
export function wordingRow(
  tables: ReadyWordings,
  { channel, wording, country, weight, value }: WordingQuestion,
): WordingRow | null {
  return (
    rowsAbout(tables, channel, wording).find((row) => rowGoesTo(row, country) && rowWeighs(row, weight, value)) ?? null
  )
}

/** Whether a row is about a country. */
export const rowGoesTo = ({ countries }: WordingRow, country: string): boolean =>
  !countries || countries.includes(country)
/**
 * Whether weight (grams) and value (home minor units) are within the bands of a row; what is not known is within
 * none.
 */
export const rowWeighs = (row: WordingRow, weight: number | undefined, value: number | undefined): boolean =>
  within(weight, row.weight) && within(value, row.value)

/** Whether any row of a table is about a wording, whatever the bands. */
export const isMapped = (tables: ReadyWordings, channel: string, wording: string): boolean =>
  rowsAbout(tables, channel, wording).length > 0
