'use client'
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual'
import {
  useEffect,
  useEffectEvent,
  useImperativeHandle,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
  type Ref,
} from 'react'
import { singleKeys } from '../singleKeys'
import { useWidth } from '../useWidth'
import { fitting, type GridColumn, templateOf } from './columns'
import { GridHead } from './GridHead'

export interface GridHandle {
  /** Sets the focus on the row of the cursor. */
  readonly focus: () => void
  readonly scrollToTop: () => void
  readonly scrollTo: (index: number) => void
}

interface Props<Row> {
  readonly label: string
  readonly columns: readonly GridColumn<Row>[]
  /** Rows in all; those that are not there yet are undefined. */
  readonly count: number
  readonly rowAt: (index: number) => Row | undefined
  readonly idOf: (row: Row) => number
  /** How a row is called when it is selected. */
  readonly nameOf: (row: Row) => string
  readonly cursor: number
  /** The row that the cursor moves to, and with which key it was opened, if it was. */
  readonly onCursor: (index: number, row: Row | undefined) => void
  readonly onOpen?: (row: Row, by: 'key' | 'mouse') => void
  readonly open?: number | null
  /** What may be selected; a row alone, when it is no selection of orders but a tick. */
  readonly selected?: ReadonlySet<number>
  readonly onToggle?: (row: Row) => void
  readonly selectable?: (row: Row) => boolean
  readonly selectLabel?: string
  readonly sorts?: readonly string[]
  readonly onSort?: (column: string, more: boolean) => void
  /** Sets how wide a column is, pixels; without it, columns cannot be sized. */
  readonly onSize?: (column: string, width: number) => void
  readonly onRange?: (first: number, last: number) => void
  /** Keys of one letter, which act only here; they can be switched off. */
  readonly letters?: Readonly<Record<string, () => void>>
  readonly onEscape?: () => void
  /** A text that is pasted while a row has the focus. */
  readonly onPaste?: (text: string) => void
  readonly tone?: (row: Row) => string
  /** What a row says across all columns but the first, where it has no values to show. */
  readonly across?: (row: Row) => string | undefined
  readonly children?: ReactNode
  readonly ref?: Ref<GridHandle>
}

const rowHeight = 30
const mark = 34
/** Without marks the first column stands a little from the edge. */
const edge = 14

/**
 * A list of many rows, after the pattern of grids (WAI-ARIA): one tab stop, the focus goes from row to row with the
 * arrows, Enter opens, Space selects. Only what is in view is drawn, and the row that has the focus; columns give way
 * where there is less room.
 */
export function Grid<Row>(props: Props<Row>) {
  const { label, columns, count, rowAt, cursor, selected, onToggle, onOpen, onRange, letters, ref } = props
  const scroller = useRef<HTMLDivElement>(null)
  const width = useWidth(scroller, 1280)
  const shown = fitting(columns, width - (selected ? mark : edge))
  const template = `${selected ? `${mark}px ` : ''}${templateOf(shown)}`
  const [headAt, setHeadAt] = useState<number | null>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    scrollPaddingStart: 28,
    rangeExtractor: (range) => {
      const inView = defaultRangeExtractor(range)
      return cursor < count && !inView.includes(cursor) ? [...inView, cursor].sort((a, b) => a - b) : inView
    },
  })
  const mayToggle = (row: Row): boolean => onToggle !== undefined && (props.selectable?.(row) ?? true)
  const items = virtual.getVirtualItems()
  const first = virtual.range?.startIndex ?? 0
  const last = virtual.range?.endIndex ?? 40
  const tellRange = useEffectEvent(() => onRange?.(first, last))
  useEffect(() => tellRange(), [first, last])

  // The focus follows the cursor once its row is drawn.
  const wanted = useRef<number | null>(null)
  useEffect(() => {
    // Not before the cursor is there: scrolling alone draws rows, too.
    if (wanted.current !== cursor) return
    const row = scroller.current?.querySelector<HTMLElement>(`[data-row="${cursor}"]`)
    if (!row) return
    wanted.current = null
    row.focus({ preventScroll: true })
  })
  const go = (to: number): void => {
    const next = Math.max(0, Math.min(count - 1, to))
    if (count === 0) return
    wanted.current = next
    virtual.scrollToIndex(next)
    setHeadAt(null)
    props.onCursor(next, rowAt(next))
  }
  useImperativeHandle(ref, () => ({
    focus: () => {
      wanted.current = cursor
      virtual.scrollToIndex(cursor)
      scroller.current?.querySelector<HTMLElement>(`[data-row="${cursor}"]`)?.focus({ preventScroll: true })
    },
    scrollTo: (index) => virtual.scrollToIndex(index, { align: 'center' }),
    scrollToTop: () => scroller.current?.scrollTo({ top: 0 }),
  }))

  const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 600) / rowHeight) - 2)
  const moves: Readonly<Record<string, () => void>> = {
    ArrowDown: () => go(cursor + 1),
    ArrowUp: () => (cursor === 0 && shown.some(({ sort }) => sort) ? setHeadAt(0) : go(cursor - 1)),
    PageDown: () => go(cursor + page),
    PageUp: () => go(cursor - page),
    Home: () => go(0),
    End: () => go(count - 1),
  }
  const keys = (event: KeyboardEvent): void => {
    // The row has the focus, not something within it.
    if (!(event.target as HTMLElement).hasAttribute('data-row')) return
    const row = rowAt(cursor)
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey
    const letter = plain && singleKeys.on() ? letters?.[event.key] : undefined
    const act =
      (plain && moves[event.key]) ||
      (event.key === ' ' && row && mayToggle(row) && (() => onToggle?.(row))) ||
      (event.key === 'Enter' && onOpen && row && (() => onOpen(row, 'key'))) ||
      (event.key === 'Escape' && props.onEscape) ||
      letter
    if (!act) return
    event.preventDefault()
    event.stopPropagation()
    act()
  }
  return (
    <div
      ref={scroller}
      className="min-h-0 flex-1 overflow-x-hidden overflow-y-auto"
      role="grid"
      aria-label={label}
      aria-rowcount={count + 1}
      aria-colcount={shown.length + (selected ? 1 : 0)}
      aria-multiselectable={selected ? true : undefined}
      onKeyDown={keys}
      onPaste={(event) => {
        if (!props.onPaste || !(event.target as HTMLElement).hasAttribute('data-row')) return
        event.preventDefault()
        props.onPaste(event.clipboardData.getData('text'))
      }}
    >
      <GridHead
        columns={shown}
        template={template}
        select={selected ? (props.selectLabel ?? 'Selected') : undefined}
        sorts={props.sorts ?? []}
        onSort={props.onSort}
        at={headAt}
        onAt={setHeadAt}
        onDown={() => go(cursor)}
        onSize={props.onSize}
      />
      {props.children}
      <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {items.map((item) => {
          const row = rowAt(item.index)
          const on = item.index === cursor
          const id = row === undefined ? null : props.idOf(row)
          const isOpen = id !== null && id === props.open
          return (
            <div
              key={item.key}
              role="row"
              data-row={item.index}
              tabIndex={on && headAt === null ? 0 : -1}
              aria-rowindex={item.index + 2}
              aria-selected={selected ? id !== null && selected.has(id) : undefined}
              onFocus={(event) => {
                if (event.target === event.currentTarget && !on) props.onCursor(item.index, row)
              }}
              onClick={() => {
                props.onCursor(item.index, row)
                if (row) onOpen?.(row, 'mouse')
              }}
              className={`group/row absolute inset-x-0 grid cursor-default items-center ${selected ? '' : 'pl-3.5'} border-b border-hair/70 outline-offset-[-2px] ${groundOf(isOpen, on)} ${row && props.tone ? props.tone(row) : ''}`}
              style={{ height: rowHeight, transform: `translateY(${item.start}px)`, gridTemplateColumns: template }}
            >
              {(on || isOpen) && <span aria-hidden className="absolute inset-y-0 left-0 w-[3px] bg-act forced-mark" />}
              {selected && (
                <span
                  role="gridcell"
                  className="flex h-full items-center justify-center"
                  onClick={(event) => {
                    event.stopPropagation()
                    if (row && event.target === event.currentTarget && mayToggle(row)) onToggle?.(row)
                  }}
                >
                  {row && id !== null && mayToggle(row) && (
                    <input
                      type="checkbox"
                      tabIndex={-1}
                      // The focus is the row's: what is a click for the mouse is Space for the keyboard.
                      onFocus={(event) => event.currentTarget.closest<HTMLElement>('[data-row]')?.focus()}
                      aria-label={`Select ${props.nameOf(row)}`}
                      checked={selected.has(id)}
                      onChange={() => onToggle?.(row)}
                      className="size-4 accent-(--act)"
                    />
                  )}
                </span>
              )}
              <Cells columns={shown} row={row} across={row && props.across?.(row)} />
            </div>
          )
        })}
      </div>
    </div>
  )
}

function groundOf(open: boolean, on: boolean): string {
  if (open) return 'bg-act-soft'
  return on ? 'bg-tint' : 'bg-sheet hover:bg-tint'
}

/** The cells of a row; of one that is not there yet, where they will be. */
function Cells<Row>({
  columns,
  row,
  across,
}: {
  columns: readonly GridColumn<Row>[]
  row: Row | undefined
  across: string | undefined
}) {
  const own = across === undefined ? columns : columns.slice(0, 1)
  return (
    <>
      {own.map((column) => (
        <span
          role="gridcell"
          key={column.id}
          data-column={column.id}
          title={row && column.whole?.(row)}
          className={`truncate px-1.5 ${column.right ? 'text-right' : ''}`}
        >
          {row ? column.cell(row) : <span className="block h-2.5 w-2/3 bg-tint" />}
        </span>
      ))}
      {across !== undefined && (
        <span
          role="gridcell"
          title={across}
          aria-colspan={columns.length - 1}
          className="truncate px-1.5"
          style={{ gridColumn: `span ${columns.length - 1}` }}
        >
          {across}
        </span>
      )}
    </>
  )
}
