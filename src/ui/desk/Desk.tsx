'use client'
import dynamic from 'next/dynamic'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { World } from '@/core/world'
import type { OrderRow } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { count, orderCount } from '../kit/format'
import { chosenColumns } from '../kit/grid/columns'
import { Grid, type GridHandle } from '../kit/grid/Grid'
import { Plain, ScreenHead } from '../kit/Screen'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { useKeys } from '../kit/useKeys'
import { keepSelection } from '../dispatch/selection'
import { useDeskAddress } from './deskAddress'
import { deskColumns } from './deskColumns'
import { Filters } from './Filters'
import { useMany } from './many/useMany'
import { useCursor } from './useCursor'
import { useDeskRows } from './useDeskRows'
import { useKeptColumns } from './useKeptColumns'
import { Views } from './Views'

const orderDrawer = () => import('./order/OrderDrawer').then((module) => module.OrderDrawer)
// The list comes first; the order beside it is fetched while the list is read.
const OrderDrawer = dynamic(orderDrawer, {
  ssr: false,
  loading: () => <aside className="beside p-5 text-soft">Fetching the order …</aside>,
})

const TypeOrder = dynamic(() => import('./typed/TypeOrder').then((module) => module.TypeOrder), {
  ssr: false,
  loading: () => <aside className="beside p-5 text-soft">Fetching the form …</aside>,
})

const EditMany = dynamic(() => import('./many/EditMany').then((module) => module.EditMany), {
  ssr: false,
  loading: () => <aside className="beside p-5 text-soft">Fetching what can be decided …</aside>,
})

const WriteToBuyers = dynamic(() => import('./letters/WriteToBuyers').then((module) => module.WriteToBuyers), {
  ssr: false,
  loading: () => <aside className="beside p-5 text-soft">Fetching the letters …</aside>,
})

const nothing: ReadonlySet<number> = new Set()

/** The orders, exceptions first, with the order that is open beside them. */
export function Desk({ names, world }: { names: DeskNames; world: World }) {
  const address = useDeskAddress()
  const router = useRouter()
  const say = useSay()
  const change = useChange()
  const grid = useRef<GridHandle>(null)
  const search = useRef<HTMLInputElement>(null)
  const [range, setRange] = useState<readonly [number, number]>([0, 40])
  const list = useDeskRows(address.query, range[0], range[1])
  const { rows, total, more, listed, failed, loading, retry } = list
  const [cursor, setCursor] = useCursor(address, list, grid)
  const [selected, setSelected] = useState(nothing)
  const [entered, setEntered] = useState(false)
  const { many, begin, write, end } = useMany(address.query, selected)
  const open = Number(address.params.get('order')) || null
  const typing = address.params.get('new')
  const columns = useMemo(() => deskColumns(names), [names])
  const [choice, setChoice] = useKeptColumns()
  const shown = useMemo(() => chosenColumns(columns, choice), [columns, choice])
  useEffect(() => void orderDrawer(), [])
  // Other filters, another list; the same orders in another sequence are still selected.
  useEffect(() => {
    setSelected(nothing)
    end()
  }, [address.filter, end])

  const toggle = ({ id }: OrderRow): void =>
    setSelected((before) => {
      const next = new Set(before)
      if (!next.delete(id)) next.add(id)
      return next
    })
  const selectAll = (): Promise<boolean> =>
    change(
      () => call('GET /api/desk/ids', { query: new URLSearchParams(address.query) }),
      (ids) => {
        setSelected(new Set(ids))
        say(`${orderCount(ids.length)} selected`)
      },
    )
  const endManyHere = (): void => {
    end()
    grid.current?.focus()
  }
  const toDispatch = (): void => {
    if (selected.size === 0) return
    keepSelection([...selected])
    router.push('/dispatch?from=desk')
  }
  const close = (): void => {
    address.set('order', null)
    setEntered(false)
    grid.current?.focus()
  }
  // With nothing chosen on the page, the arrows are meant for the list.
  const intoList = (event: KeyboardEvent): void => {
    if (document.activeElement !== document.body) return
    event.preventDefault()
    grid.current?.focus()
  }
  useKeys({
    ArrowDown: intoList,
    ArrowUp: intoList,
    '/': (event) => {
      event.preventDefault()
      search.current?.focus()
    },
  })
  const sorts = address.values('sort')
  const sortBy = (column: string, more: boolean): void => {
    const now = sorts.find((sort) => sort.replace('-', '') === column)
    const others = more ? sorts.filter((sort) => sort.replace('-', '') !== column) : []
    address.set('sort', [...others, ...nextSort(column, now)].join(','))
  }

  return (
    <div className="relative flex h-full">
      <section className="flex min-w-0 flex-1 flex-col" aria-label="Orders">
        <ScreenHead title="Desk" about={loading ? 'Fetching orders …' : listText(total, more, listed)}>
          {selected.size > 0 && <span className="text-soft">{count(selected.size)} selected</span>}
          <Views
            query={address.query}
            columns={columns}
            choice={choice}
            onChoice={setChoice}
            onTake={(query, next) => {
              address.take(query)
              setChoice(next)
            }}
          />
          <Button onClick={() => address.set('new', 'order')}>New order</Button>
          <Button onClick={() => selectAll()}>Select all shown</Button>
          <Button disabled={selected.size === 0} onClick={() => begin('write')}>
            Write
          </Button>
          <Button disabled={selected.size === 0} onClick={() => begin('decide')}>
            Decide
          </Button>
          <Button
            kind={many === null ? 'filled' : 'plain'}
            calls="POST /api/dispatch/plan"
            disabled={selected.size === 0}
            onClick={toDispatch}
          >
            Plan a batch
          </Button>
        </ScreenHead>
        <Filters address={address} names={names} searchRef={search} onLeave={() => grid.current?.focus()} />
        <Grid
          ref={grid}
          label="Orders"
          columns={shown}
          onSize={(column, width) => setChoice({ ...choice, sizes: { ...choice.sizes, [column]: width } })}
          count={listed}
          rowAt={rows}
          idOf={(row) => row.id}
          nameOf={(row) => row.number}
          cursor={Math.min(cursor, Math.max(0, listed - 1))}
          onCursor={(index, row) => {
            setCursor(index)
            if (open !== null && row && index !== cursor) address.set('order', String(row.id))
          }}
          open={open}
          onOpen={(row, by) => {
            setEntered(by === 'key')
            address.open(row.id)
          }}
          selected={selected}
          onToggle={toggle}
          sorts={sorts}
          onSort={sortBy}
          onRange={(first, last) =>
            setRange((before) => (before[0] === first && before[1] === last ? before : [first, last]))
          }
          letters={{ a: () => void selectAll(), b: toDispatch, e: () => begin('decide'), w: () => begin('write') }}
          onPaste={(pasted) => begin('decide', pasted)}
          onEscape={() => (open === null ? setSelected(nothing) : close())}
        >
          {failed && (
            <Plain title="The orders cannot be shown">
              {sentenceOf(failed)} <Button onClick={retry}>Try again</Button>
            </Plain>
          )}
          {!failed && !loading && total === 0 && <NoOrders filtered={address.query !== ''} onClear={address.clear} />}
        </Grid>
      </section>
      {typing !== null && (
        <TypeOrder
          key={typing}
          again={Number(typing) || null}
          names={names}
          onDone={(order) => {
            // What was typed is gone from the screen: the focus waits on the list until the order it has become is
            // there.
            grid.current?.focus()
            setEntered(true)
            address.open(order)
          }}
          onClose={() => address.set('new', null)}
        />
      )}
      {many?.what === 'decide' && typing === null && (
        <EditMany orders={many.orders} names={names} world={world} pasted={many.pasted} onClose={endManyHere} />
      )}
      {many?.what === 'write' && typing === null && <WriteToBuyers orders={many.orders} onClose={endManyHere} />}
      {open !== null && typing === null && many === null && (
        <OrderDrawer
          id={open}
          names={names}
          world={world}
          entered={entered}
          onClose={close}
          onOpen={(order) => address.open(order)}
          onAgain={() => address.set('new', String(open))}
          onWrite={() => write(open)}
        />
      )}
    </div>
  )
}

function NoOrders({ filtered, onClear }: { filtered: boolean; onClear: () => void }) {
  return filtered ? (
    <Plain title="No order fits these filters">
      Take one away, or{' '}
      <button className="text-act underline" onClick={onClear}>
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
  )
}

/** How many there are; what is not listed of them is said. */
function listText(total: number, more: boolean, listed: number): string {
  const all = `${more ? 'More than ' : ''}${orderCount(total)}`
  return more || listed < total ? `${all}, the first ${count(listed)} are listed` : all
}

/** Unsorted, then upwards, then downwards, then unsorted again. */
function nextSort(column: string, now: string | undefined): string[] {
  if (now === undefined) return [column]
  return now.startsWith('-') ? [] : [`-${column}`]
}
