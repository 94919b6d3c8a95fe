import type { ReactNode } from 'react'

/** A column of a grid. */
export interface GridColumn<Row> {
  readonly id: string
  readonly name: string
  /** Pixels that it needs at least. */
  readonly min: number
  /** Its share of what is left over, as in `1fr`; none when absent. */
  readonly share?: number
  /** Where there is less room, columns of the highest number go first; 0 always stays. */
  readonly gives: number
  readonly right?: boolean
  /** By what the server sorts it. */
  readonly sort?: string
  readonly cell: (row: Row) => ReactNode
  /** The whole of what a cell may cut off. */
  readonly whole?: (row: Row) => string | undefined
}

/** The columns that fit into a width, in their order: the least important give way first. */
export function fitting<Row>(columns: readonly GridColumn<Row>[], width: number): readonly GridColumn<Row>[] {
  let shown = columns
  const needed = (): number => shown.reduce((sum, { min }) => sum + min, 0)
  while (needed() > width) {
    const most = Math.max(...shown.map(({ gives }) => gives))
    if (most === 0) break
    // Of equals, the one that is farther to the right.
    const at = shown.findLastIndex(({ gives }) => gives === most)
    shown = shown.filter((_, i) => i !== at)
  }
  return shown
}

/** The tracks of the columns, for CSS. */
export const templateOf = <Row>(columns: readonly GridColumn<Row>[]): string =>
  columns.map(({ min, share }) => (share ? `minmax(${min}px, ${share}fr)` : `${min}px`)).join(' ')

/** Which columns are shown, in which order, and how wide those are that a person has sized (pixels). */
export interface ColumnChoice {
  readonly hidden: readonly string[]
  readonly order: readonly string[]
  readonly sizes: Readonly<Record<string, number>>
}
export const usualColumns: ColumnChoice = { hidden: [], order: [], sizes: {} }

/** No column is narrower, pixels. */
export const narrowest = 48

/** The columns as a person has chosen them: what is sized takes no share of what is left; new ones come at the end. */
export function chosenColumns<Row>(
  columns: readonly GridColumn<Row>[],
  { hidden, order, sizes }: ColumnChoice,
): readonly GridColumn<Row>[] {
  const place = (id: string): number => (order.includes(id) ? order.indexOf(id) : order.length)
  return columns
    .filter(({ id }) => !hidden.includes(id))
    .toSorted((a, b) => place(a.id) - place(b.id))
    .map((column) => {
      const size = sizes[column.id]
      return size === undefined ? column : { ...column, min: Math.max(narrowest, size), share: undefined }
    })
}
