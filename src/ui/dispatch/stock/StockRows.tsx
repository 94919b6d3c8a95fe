'use client'
import { useQuery } from '@tanstack/react-query'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { useState } from 'react'
import type { MoveKind } from '@/data'
import type { StockView } from '@/usecases/dispatch/stock/showStock'
import { call } from '../../kit/api'
import { TextInput } from '../../kit/Field'
import { count, shortDay } from '../../kit/format'
import { OrderLink } from '../../kit/OrderLink'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'

type Row = StockView['rows'][number]
const moveWords: Readonly<Record<MoveKind, string>> = {
  ...{ count: 'counted', channel: 'the channel says', partner: 'the partner says', bought: 'promised to a label' },
  ...{ 'given back': 'given back by a label', sent: 'left', 'put back': 'put back', short: 'was not there' },
  returned: 'came back',
}

/** The stock line by line; what is on hand can be typed anew, and each line shows its moves. */
export function StockRows({ view }: { view: StockView }) {
  const [open, setOpen] = useState<string | null>(null)
  return (
    <table className="w-full bg-sheet">
      <thead className="sticky top-0 bg-paper">
        <tr className="border-b border-hair text-left text-small text-soft">
          <th className="py-1 pr-3 pl-5 font-normal">SKU</th>
          <th className="px-3 font-normal">What</th>
          <th className="px-3 font-normal">Location</th>
          <th className="px-3 text-right font-normal">On hand</th>
          <th className="px-3 text-right font-normal">Promised</th>
          <th className="px-3 text-right font-normal">Free</th>
          <th className="px-3 font-normal">Last moved</th>
          <th className="pr-5">
            <span className="sr-only">Moves</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {view.rows.map((row) => {
          const key = `${row.location} ${row.sku}`
          return (
            <Line
              key={key}
              row={row}
              view={view}
              open={open === key}
              onOpen={() => setOpen(open === key ? null : key)}
            />
          )
        })}
      </tbody>
    </table>
  )
}

function Line({ row, view, open, onOpen }: { row: Row; view: StockView; open: boolean; onOpen: () => void }) {
  const free = row.onHand - row.reserved
  const Mark = open ? ChevronDown : ChevronRight
  return (
    <>
      <tr className="border-b border-hair/70 hover:bg-tint">
        <td className="py-1 pr-3 pl-5 font-mono text-small">{row.sku}</td>
        <td className="max-w-[20rem] truncate px-3">{row.title}</td>
        <td className="px-3">{view.locations[row.location] ?? row.location}</td>
        <td className="px-3 text-right">
          <Counted row={row} />
        </td>
        <td className="px-3 text-right tabular-nums">{row.reserved === 0 ? '' : count(row.reserved)}</td>
        <td
          className={`px-3 text-right tabular-nums ${free < 0 ? 'font-semibold text-lost' : ''} ${free === 0 ? 'text-wait' : ''}`}
        >
          {free < 0 ? `${count(-free)} too few` : count(free)}
        </td>
        <td className="px-3 whitespace-nowrap text-soft">
          {moveWords[row.kind]}, {shortDay(row.movedAt)}
        </td>
        <td className="pr-5 text-right">
          <button
            type="button"
            aria-expanded={open}
            aria-label={`Moves of ${row.sku} in ${view.locations[row.location] ?? row.location}`}
            className="grid size-7 place-items-center text-act"
            onClick={onOpen}
          >
            <Mark className="size-4" aria-hidden />
          </button>
        </td>
      </tr>
      {open && (
        <tr className="border-b border-hair/70 bg-tint">
          <td colSpan={8} className="px-5 py-2">
            <Moves row={row} />
          </td>
        </tr>
      )}
    </>
  )
}

/** What is there; typed anew, it was counted. */
function Counted({ row }: { row: Row }) {
  const [typed, setTyped] = useState<string | null>(null)
  const change = useChange(['stock'])
  const onHand = typed !== null && /^\d{1,9}$/.test(typed.trim()) ? Number(typed.trim()) : null
  const save = (): void => {
    if (onHand === null || onHand === row.onHand) return setTyped(null)
    void change(
      () => call('PUT /api/dispatch/stock', { body: { location: row.location, sku: row.sku, onHand, note: '' } }),
      `${row.sku}: ${count(onHand)} counted`,
    ).then(() => setTyped(null))
  }
  return (
    <TextInput
      aria-label={`On hand of ${row.sku}`}
      inputMode="numeric"
      className="w-20 text-right tabular-nums"
      aria-invalid={typed !== null && onHand === null ? true : undefined}
      value={typed ?? String(row.onHand)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') save()
        if (event.key === 'Escape') setTyped(null)
      }}
    />
  )
}

function Moves({ row }: { row: Row }) {
  const { data } = useQuery({
    queryKey: ['stock', 'moves', row.location, row.sku, row.moveId],
    queryFn: () => call('GET /api/dispatch/stock/moves', { query: { location: row.location, sku: row.sku } }),
  })
  if (!data) return null
  const signed = (n: number): string => (n === 0 ? '' : `${n > 0 ? '+' : '−'}${count(Math.abs(n))}`)
  return (
    <table className="text-small">
      <thead>
        <tr className="text-left text-soft">
          <th className="pr-6 font-normal">When</th>
          <th className="pr-6 font-normal">What</th>
          <th className="pr-6 text-right font-normal">On hand</th>
          <th className="pr-6 text-right font-normal">Promised</th>
          <th className="pr-6 font-normal">Order</th>
          <th className="font-normal">Who</th>
        </tr>
      </thead>
      <tbody>
        {data.moves.map((move) => (
          <tr key={move.id}>
            <td className="pr-6 text-soft">
              <When at={move.at} />
            </td>
            <td className="pr-6">
              {moveWords[move.kind]}
              {move.note && <span className="text-soft">, {move.note}</span>}
            </td>
            <td className="pr-6 text-right tabular-nums">{signed(move.onHand)}</td>
            <td className="pr-6 text-right tabular-nums">{signed(move.reserved)}</td>
            <td className="pr-6">
              {move.orderId !== null && move.number !== null && <OrderLink id={move.orderId} number={move.number} />}
            </td>
            <td className="text-soft">{move.author}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
