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
  onSize,
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
  /** Sets how wide a column is, pixels. */
  onSize: ((column: string, width: number) => void) | undefined
}) {
  const head = useRef<HTMLDivElement>(null)
  const sortable = onSort ? columns.filter(({ sort }) => sort) : []
  useEffect(() => {
    if (at !== null) head.current?.querySelectorAll('button')[at]?.focus()
  }, [at])
  const keys = (event: KeyboardEvent): void => {
    if (at === null) return
    if (event.key === 'ArrowDown') onDown()
    else if (onSize && event.shiftKey && /^Arrow(Left|Right)$/.test(event.key)) {
      const cell = (event.target as HTMLElement).closest<HTMLElement>('[role=columnheader]')
      const column = sortable[at]
      if (cell && column) onSize(column.id, cell.offsetWidth + (event.key === 'ArrowLeft' ? -8 : 8))
    } else if (event.key === 'ArrowLeft') onAt(Math.max(0, at - 1))
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
              className={`relative truncate px-1.5 ${column.right ? 'text-right' : ''}`}
            >
              {onSize && <Edge onSize={(width) => onSize(column.id, width)} />}
              {column.sort && onSort ? (
                <button
                  className="min-h-6 hover:text-act"
                  title={`Sort; with Shift as a further key${onSize ? '. Shift and an arrow make it wider or narrower' : ''}`}
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

/** The edge of a column, which is drawn to size it. */
function Edge({ onSize }: { onSize: (width: number) => void }) {
  const from = useRef<{ readonly x: number; readonly width: number } | null>(null)
  return (
    <span
      aria-hidden
      className="absolute inset-y-0 right-0 w-1.5 cursor-col-resize touch-none hover:bg-act"
      onPointerDown={(event) => {
        event.preventDefault()
        event.currentTarget.setPointerCapture(event.pointerId)
        from.current = { x: event.clientX, width: event.currentTarget.parentElement!.offsetWidth }
      }}
      onPointerMove={(event) => {
        if (from.current) onSize(Math.max(48, Math.round(from.current.width + event.clientX - from.current.x)))
      }}
      onPointerUp={() => {
        from.current = null
      }}
    />
  )
}
