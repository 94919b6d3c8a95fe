'use client'
import { useEffect, useRef, type KeyboardEvent } from 'react'
import type { GridColumn } from './columns'

/** The head of a grid: its names sort. From the first row an arrow leads here, and along it. */
export function GridHead<Row>({
  columns,
  template,
  select,
  sorts,
  onSort,
  at,
  onAt,
  onDown,
}: {
  columns: readonly GridColumn<Row>[]
  template: string
  /** What the column of ticks is called, where there is one. */
  select: string | undefined
  sorts: readonly string[]
  onSort: ((column: string, more: boolean) => void) | undefined
  /** The sortable column that has the focus. */
  at: number | null
  onAt: (at: number | null) => void
  onDown: () => void
}) {
  const head = useRef<HTMLDivElement>(null)
  const sortable = onSort ? columns.filter(({ sort }) => sort) : []
  useEffect(() => {
    if (at !== null) head.current?.querySelectorAll('button')[at]?.focus()
  }, [at])
  const keys = (event: KeyboardEvent): void => {
    if (at === null) return
    if (event.key === 'ArrowDown') onDown()
    else if (event.key === 'ArrowLeft') onAt(Math.max(0, at - 1))
    else if (event.key === 'ArrowRight') onAt(Math.min(sortable.length - 1, at + 1))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <div role="rowgroup" className="sticky top-0 z-10">
      <div
        ref={head}
        role="row"
        aria-rowindex={1}
        onKeyDown={keys}
        className={`grid h-7 items-center border-b border-hair bg-paper text-small text-soft ${select === undefined ? 'pl-3.5' : ''}`}
        style={{ gridTemplateColumns: template }}
      >
        {select !== undefined && (
          <span role="columnheader">
            <span className="sr-only">{select}</span>
          </span>
        )}
        {columns.map((column) => {
          const sort = column.sort && sorts.find((candidate) => candidate.replace('-', '') === column.sort)
          return (
            <span
              role="columnheader"
              key={column.id}
              aria-sort={directionOf(sort)}
              className={`truncate px-1.5 ${column.right ? 'text-right' : ''}`}
            >
              {column.sort && onSort ? (
                <button
                  className="min-h-6 hover:text-act"
                  title="Sort; with Shift as a further key"
                  tabIndex={at !== null && sortable[at] === column ? 0 : -1}
                  onFocus={() => onAt(sortable.indexOf(column))}
                  onBlur={(event) => {
                    if (!head.current?.contains(event.relatedTarget)) onAt(null)
                  }}
                  onClick={(event) => onSort(column.sort!, event.shiftKey)}
                >
                  {column.name}
                  {sort && (sort.startsWith('-') ? ' ↓' : ' ↑')}
                </button>
              ) : (
                column.name
              )}
            </span>
          )
        })}
      </div>
    </div>
  )
}

function directionOf(sort: string | undefined): 'ascending' | 'descending' | undefined {
  if (!sort) return undefined
  return sort.startsWith('-') ? 'descending' : 'ascending'
}
