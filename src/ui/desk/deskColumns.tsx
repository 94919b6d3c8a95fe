import type { ReactNode } from 'react'
import type { OrderRow } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { formatWeight } from '@/core/units'
import { amount, shortDay, shortTime } from '../kit/format'
import { StateMark } from '../kit/StateMark'

export interface Column {
  readonly id: string
  readonly sort?: string
  readonly name: string
  readonly width: string
  readonly right?: boolean
  readonly cell: (row: OrderRow, names: DeskNames) => ReactNode
}

/** What the Desk shows of an order; numbers stand right, their units in the header. */
export const columns: readonly Column[] = [
  { id: 'state', sort: 'rank', name: 'State', width: '132px', cell: (row) => <StateMark state={row.state} /> },
  {
    id: 'number',
    sort: 'number',
    name: 'Order',
    width: '92px',
    cell: (row) => <span className="font-mono text-small">{row.number}</span>,
  },
  { id: 'placed', sort: 'placed_at', name: 'Placed', width: '98px', cell: (row) => shortTime(row.placedAt) },
  { id: 'buyer', sort: 'buyer', name: 'Buyer', width: 'minmax(96px,1fr)', cell: (row) => row.buyer },
  {
    id: 'country',
    sort: 'country',
    name: 'To',
    width: '110px',
    cell: (row) => (
      <span>
        <b className="font-semibold">{row.country || '??'}</b> <span className="text-soft">{row.city}</span>
      </span>
    ),
  },
  { id: 'value', sort: 'value', name: 'Value €', width: '82px', right: true, cell: (row) => amount(row.value) },
  {
    id: 'weight',
    sort: 'weight',
    name: 'Parcel',
    width: '74px',
    right: true,
    cell: (row) => (row.weight === null ? '–' : formatWeight(row.weight)),
  },
  {
    id: 'service',
    sort: 'service',
    name: 'Service',
    width: '118px',
    cell: (row, names) =>
      row.service ? (names.services[row.service] ?? row.service) : <span className="text-soft">none</span>,
  },
  { id: 'cost', sort: 'cost', name: 'Label €', width: '70px', right: true, cell: (row) => amount(row.cost) },
  {
    id: 'arrives',
    sort: 'arrives_on',
    name: 'Arrives',
    width: '88px',
    cell: (row) => (
      <span>
        {shortDay(row.arrivesOn)}
        {(row.daysLate ?? 0) > 0 && (
          <b className="ml-1 text-lost" title={`${row.daysLate} days after the promised day`}>
            +{row.daysLate} d
          </b>
        )}
      </span>
    ),
  },
  {
    id: 'note',
    name: 'Blocker, or tags',
    width: 'minmax(160px,2fr)',
    cell: (row) => {
      if (row.flag) return <span className="text-lost">{row.flag}</span>
      if (row.problem && row.state === 'attention') return <span title={row.problem}>{row.reason ?? row.problem}</span>
      const urgency = urgencyOf(row.priority)
      if (row.hold && row.state === 'held')
        return (
          <span>
            {urgency}
            {row.hold}
            {row.holdUntil && <span className="text-soft">, until {shortTime(row.holdUntil)}</span>}
          </span>
        )
      return (
        <span className="text-soft">
          {urgency}
          {row.pinned ? 'pinned by hand  ' : ''}
          {row.tags}
        </span>
      )
    },
  },
]

function urgencyOf(priority: number): ReactNode {
  if (priority === 0) return <b className="text-wait">▲ urgent </b>
  return priority === 2 ? <span className="text-soft">▽ later </span> : null
}
