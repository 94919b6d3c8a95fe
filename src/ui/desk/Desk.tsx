'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import dynamic from 'next/dynamic'
import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { World } from '@/core/world'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { count } from '../kit/format'
import { Plain, ScreenHead } from '../kit/Screen'
import { useSay } from '../kit/Toast'
import { useKeys } from '../kit/useKeys'
import { keepSelection } from '../dispatch/selection'
import { columns } from './deskColumns'
import { useDeskAddress } from './deskAddress'
import { Filters } from './Filters'
import { useDeskRows } from './useDeskRows'
import { useChange } from '../kit/useChange'

const orderDrawer = () => import('./order/OrderDrawer').then((module) => module.OrderDrawer)
// The list comes first; the order beside it is fetched while the list is read.
const OrderDrawer = dynamic(orderDrawer, {
  ssr: false,
  loading: () => (
    <aside className="w-[452px] shrink-0 border-l border-hair bg-sheet p-5 text-soft">Fetching the order …</aside>
  ),
})

const rowHeight = 30
// Beside an open order only what tells one order from the next remains.
const narrow = columns.filter((column) =>
  ['state', 'number', 'buyer', 'country', 'service', 'cost', 'note'].includes(column.id),
)

export function Desk({ names, world }: { names: DeskNames; world: World }) {
  const address = useDeskAddress()
  const router = useRouter()
  const say = useSay()
  const change = useChange()
  const scroller = useRef<HTMLDivElement>(null)
  const search = useRef<HTMLInputElement>(null)
  const [range, setRange] = useState<readonly [number, number]>([0, 40])
  const { rows, total, failed, loading } = useDeskRows(address.query, range[0], range[1])
  const [cursor, setCursor] = useState(0)
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set())
  const open = Number(address.params.get('order')) || null
  const shown = open === null ? columns : narrow
  const template = `34px ${shown.map((column) => column.width).join(' ')}`

  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  })
  const items = virtual.getVirtualItems()
  const first = items[0]?.index ?? 0
  const last = items[items.length - 1]?.index ?? 40
  useEffect(
    () => setRange((before) => (before[0] === first && before[1] === last ? before : [first, last])),
    [first, last],
  )
  useEffect(() => {
    setCursor(0)
    setSelected(new Set())
    scroller.current?.scrollTo({ top: 0 })
  }, [address.query])

  const move = useCallback(
    (by: number) => {
      setCursor((before) => {
        const next = Math.max(0, Math.min(total - 1, before + by))
        virtual.scrollToIndex(next)
        const row = rows(next)
        if (open !== null && row) address.set('order', String(row.id))
        return next
      })
    },
    [address, open, rows, total, virtual],
  )
  const toggle = (id: number): void =>
    setSelected((before) => {
      const next = new Set(before)
      if (!next.delete(id)) next.add(id)
      return next
    })
  const here = rows(cursor)
  const selectAll = (): Promise<boolean> =>
    change(
      () => call('GET /api/desk/ids', { query: new URLSearchParams(address.query) }),
      (ids) => {
        setSelected(new Set(ids))
        say(`${count(ids.length)} orders selected`)
      },
    )
  const toDispatch = (): void => {
    keepSelection([...selected])
    router.push('/dispatch?from=desk')
  }
  useEffect(() => void orderDrawer(), [])
  useKeys({
    ArrowDown: (e) => {
      e.preventDefault()
      move(1)
    },
    ArrowUp: (e) => {
      e.preventDefault()
      move(-1)
    },
    PageDown: (e) => {
      e.preventDefault()
      move(20)
    },
    PageUp: (e) => {
      e.preventDefault()
      move(-20)
    },
    ' ': (e) => {
      if (/^(BUTTON|INPUT)$/.test((e.target as HTMLElement).tagName)) return
      e.preventDefault()
      if (here) toggle(here.id)
    },
    Enter: (e) => {
      if ((e.target as HTMLElement).closest('a,button')) return
      if (here) address.set('order', String(here.id))
    },
    Escape: () => {
      if (open !== null) return address.set('order', null)
      return search.current === document.activeElement ? search.current?.blur() : setSelected(new Set())
    },
    '/': (e) => {
      e.preventDefault()
      search.current?.focus()
    },
    a: () => void selectAll(),
    b: () => {
      if (selected.size > 0) toDispatch()
    },
  })

  const sorts = address.values('sort')
  const sortBy = (column: string, more: boolean): void => {
    const now = sorts.find((sort) => sort.replace('-', '') === column)
    const others = more ? sorts.filter((sort) => sort.replace('-', '') !== column) : []
    address.set('sort', [...others, ...nextSort(column, now)].join(','))
  }

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Orders">
        <ScreenHead title="Desk" about={loading ? 'Fetching orders …' : `${count(total)} orders`}>
          {selected.size > 0 && <span className="text-soft">{count(selected.size)} selected</span>}
          <Button onClick={() => selectAll()}>Select all shown</Button>
          <Button kind="filled" disabled={selected.size === 0} onClick={toDispatch}>
            Plan a batch
          </Button>
        </ScreenHead>
        <Filters address={address} names={names} searchRef={search} />
        <div
          ref={scroller}
          className="min-h-0 flex-1 overflow-auto"
          role="grid"
          aria-label="Orders"
          aria-rowcount={total}
          tabIndex={0}
        >
          <div
            role="row"
            className="sticky top-0 z-10 grid h-7 items-center border-b border-hair bg-paper text-small text-soft"
            style={{ gridTemplateColumns: template }}
          >
            <span role="columnheader" className="sr-only">
              Selected
            </span>
            <span aria-hidden />
            {shown.map((column) => {
              const sort = column.sort && sorts.find((candidate) => candidate.replace('-', '') === column.sort)
              return (
                <span
                  role="columnheader"
                  key={column.id}
                  aria-sort={directionOf(sort)}
                  className={`truncate px-1.5 ${column.right ? 'text-right' : ''}`}
                >
                  {column.sort ? (
                    <button
                      className="hover:text-act"
                      title="Sort; with Shift as a further key"
                      onClick={(event) => sortBy(column.sort!, event.shiftKey)}
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
          {failed && <Plain title="The orders cannot be shown">{sentenceOf(failed)}</Plain>}
          {!failed &&
            !loading &&
            total === 0 &&
            (address.query ? (
              <Plain title="No order fits these filters">
                Take one away, or{' '}
                <button className="text-act underline" onClick={address.clear}>
                  clear them all
                </button>
                .
              </Plain>
            ) : (
              <Plain title="No orders yet">
                Go to{' '}
                <a className="text-act underline" href="/intake">
                  Intake
                </a>{' '}
                and import from a channel or a file.
              </Plain>
            ))}
          <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {items.map((item) => {
              const row = rows(item.index)
              const on = item.index === cursor
              return (
                <div
                  key={item.key}
                  role="row"
                  aria-rowindex={item.index + 1}
                  aria-selected={row ? selected.has(row.id) : false}
                  onClick={() => {
                    setCursor(item.index)
                    if (row) address.set('order', String(row.id))
                  }}
                  className={`absolute inset-x-0 grid cursor-default items-center border-b border-hair/70 ${groundOf(row !== undefined && row.id === open, on)}`}
                  style={{ height: rowHeight, transform: `translateY(${item.start}px)`, gridTemplateColumns: template }}
                >
                  <span
                    role="gridcell"
                    className="flex h-full items-center justify-center"
                    onClick={(event) => event.stopPropagation()}
                  >
                    {on && <span aria-hidden className="absolute inset-y-0 left-0 w-[3px] bg-act" />}
                    {row && (
                      <input
                        type="checkbox"
                        aria-label={`Select ${row.number}`}
                        checked={selected.has(row.id)}
                        onChange={() => toggle(row.id)}
                        className="accent-(--act)"
                      />
                    )}
                  </span>
                  {shown.map((column) => (
                    <span
                      role="gridcell"
                      key={column.id}
                      className={`truncate px-1.5 ${column.right ? 'text-right' : ''}`}
                    >
                      {row ? column.cell(row, names) : <span className="block h-2.5 w-2/3 bg-tint" />}
                    </span>
                  ))}
                </div>
              )
            })}
          </div>
        </div>
      </section>
      {open !== null && (
        <OrderDrawer
          id={open}
          names={names}
          world={world}
          onClose={() => address.set('order', null)}
          onOpen={(order) => address.set('order', String(order))}
        />
      )}
    </div>
  )
}

/** Unsorted, then upwards, then downwards, then unsorted again. */
function nextSort(column: string, now: string | undefined): string[] {
  if (now === undefined) return [column]
  return now.startsWith('-') ? [] : [`-${column}`]
}

function groundOf(open: boolean, on: boolean): string {
  if (open) return 'bg-act-soft'
  return on ? 'bg-tint' : 'bg-sheet hover:bg-tint'
}

function directionOf(sort: string | undefined): 'ascending' | 'descending' | undefined {
  if (!sort) return undefined
  return sort.startsWith('-') ? 'descending' : 'ascending'
}
