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
import { type ColumnChoice, type GridColumn, narrowest } from './columns'

/** The columns of a grid as a table that a person arranges; the state is the caller's, who keeps it. */
export function useColumns<Row>(
  columns: readonly GridColumn<Row>[],
  choice: ColumnChoice,
  onChoice: (next: ColumnChoice) => void,
): Table<Row> {
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
  return useReactTable<Row>({
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
}

const none: readonly unknown[] = []
