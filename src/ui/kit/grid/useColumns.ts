'use client'
import {
  type ColumnDef,
  getCoreRowModel,
  type OnChangeFn,
  type Table,
  type TableState,
  useReactTable,
} from '@tanstack/react-table'
import { useMemo } from 'react'
import type { GridColumn } from './columns'

/** Which columns are shown, in which order, and how wide those are that a person has sized (pixels). */
export interface ColumnChoice {
  readonly hidden: readonly string[]
  readonly order: readonly string[]
  readonly sizes: Readonly<Record<string, number>>
}
export const usualColumns: ColumnChoice = { hidden: [], order: [], sizes: {} }

const narrowest = 48

/** The columns of a grid as a person has chosen them; the state is the caller's, who keeps it. */
export function useColumns<Row>(
  columns: readonly GridColumn<Row>[],
  choice: ColumnChoice,
  onChoice: (next: ColumnChoice) => void,
): { readonly shown: readonly GridColumn<Row>[]; readonly table: Table<Row> } {
  const defs = useMemo(
    () =>
      columns.map(({ id, name, min }): ColumnDef<Row> => ({
        id,
        header: name,
        size: min,
        minSize: narrowest,
        enableHiding: true,
      })),
    [columns],
  )
  const state: Partial<TableState> = {
    columnVisibility: Object.fromEntries(choice.hidden.map((id) => [id, false])),
    columnOrder: [...choice.order],
    columnSizing: { ...choice.sizes },
  }
  const next =
    <T>(now: T, put: (value: T) => ColumnChoice): OnChangeFn<T> =>
    (update) =>
      onChoice(put(typeof update === 'function' ? (update as (old: T) => T)(now) : update))
  const table = useReactTable<Row>({
    data: none as Row[],
    columns: defs,
    state,
    getCoreRowModel: getCoreRowModel(),
    onColumnVisibilityChange: next(state.columnVisibility!, (value) => ({
      ...choice,
      hidden: Object.keys(value).filter((id) => !value[id]),
    })),
    onColumnOrderChange: next(state.columnOrder!, (order) => ({ ...choice, order })),
    onColumnSizingChange: next(state.columnSizing!, (sizes) => ({ ...choice, sizes })),
  })
  const byId = new Map(columns.map((column) => [column.id, column]))
  const shown = table.getVisibleLeafColumns().flatMap(({ id }): GridColumn<Row>[] => {
    const column = byId.get(id)
    if (!column) return []
    const size = choice.sizes[id]
    // What a person has sized is that wide, and takes no share of what is left.
    return [size === undefined ? column : { ...column, min: Math.max(narrowest, size), share: undefined }]
  })
  return { shown, table }
}

const none: readonly unknown[] = []
