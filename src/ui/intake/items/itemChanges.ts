import type { itemColumns } from '@/core/order'
import type { ItemView } from '@/usecases/intake/items'

export type Column = (typeof itemColumns)[number]

/** What is typed in a cell, and what was there when the typing began. */
interface Cell {
  readonly text: string
  readonly was: string
}

/** Cells that are changed and not saved yet, by SKU. */
export type Changes = Readonly<Record<string, Readonly<Partial<Record<Column, Cell>>>>>
export const nothingChanged: Changes = {}

/** A cell that somebody else has changed since. */
export interface Overtaken {
  readonly sku: string
  readonly column: Column
  readonly text: string
  readonly now: string
}

/** A changed cell; one that is as it was is no change. */
export function withCell(changes: Changes, { row }: Pick<ItemView, 'row'>, column: Column, text: string): Changes {
  const sku = row.sku!
  const now = row[column] ?? ''
  return put(changes, sku, column, text === now ? null : { text, was: changes[sku]?.[column]?.was ?? now })
}

/** The changed cells that somebody else has given another value meanwhile, of the items that are known. */
export const overtakenCells = (changes: Changes, items: readonly Pick<ItemView, 'row'>[]): readonly Overtaken[] =>
  items.flatMap(({ row }) =>
    Object.entries(changes[row.sku ?? ''] ?? {}).flatMap(([name, { text, was }]) => {
      const column = name as Column
      const now = row[column] ?? ''
      return now === was || now === text ? [] : [{ sku: row.sku!, column, text, now }]
    }),
  )

/** Takes theirs: the cells are no changes any more. */
export const withoutCells = (changes: Changes, cells: readonly Overtaken[]): Changes =>
  cells.reduce((left, { sku, column }) => put(left, sku, column, null), changes)

/** Goes on from theirs as known: what is saved then replaces it, knowingly. */
export const knownNow = (changes: Changes, cells: readonly Overtaken[]): Changes =>
  cells.reduce((next, { sku, column, text, now }) => put(next, sku, column, { text, was: now }), changes)

function put(changes: Changes, sku: string, column: Column, cell: Cell | null): Changes {
  const { [sku]: own = {}, ...others } = changes
  const { [column]: _before, ...rest } = own
  const next = cell ? { ...rest, [column]: cell } : rest
  return Object.keys(next).length === 0 ? others : { ...others, [sku]: next }
}
