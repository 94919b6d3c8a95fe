import { homeSign } from '../kit/locale'
import type { ReactNode } from 'react'
import type { OrderRow } from '@/data'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { GridColumn } from '../kit/grid/columns'
import { amount, shortDay, weightText } from '../kit/format'
import { StateMark } from '../kit/StateMark'
import { When } from '../kit/When'

/** What the Desk shows of an order; numbers are to the right, their units in the header. */
export const deskColumns = (names: DeskNames): readonly GridColumn<OrderRow>[] => [
  { id: 'state', sort: 'rank', name: 'State', min: 132, gives: 0, cell: (row) => <StateMark state={row.state} /> },
  {
    id: 'number',
    sort: 'number',
    name: 'Order',
    min: 92,
    gives: 0,
    cell: (row) => <span className="font-mono text-small">{row.number}</span>,
  },
  { id: 'placed', sort: 'placed_at', name: 'Placed', min: 122, gives: 4, cell: (row) => <When at={row.placedAt} /> },
  {
    id: 'buyer',
    sort: 'buyer',
    name: 'Buyer',
    min: 96,
    share: 1,
    gives: 0,
    cell: (row) => <bdi>{row.buyer}</bdi>,
    whole: (row) => row.buyer,
  },
  {
    id: 'country',
    sort: 'country',
    name: 'To',
    min: 110,
    gives: 1,
    cell: (row) => (
      <span>
        <b className="font-semibold">{row.country || '??'}</b> <span className="text-soft">{row.city}</span>
      </span>
    ),
  },
  {
    id: 'value',
    sort: 'value',
    name: `Value ${homeSign()}`,
    min: 82,
    gives: 5,
    right: true,
    cell: (row) => amount(row.value),
  },
  {
    id: 'weight',
    sort: 'weight',
    name: 'Parcel',
    min: 74,
    gives: 6,
    right: true,
    cell: (row) => (row.weight === null ? '–' : weightText(row.weight)),
  },
  {
    id: 'service',
    sort: 'service',
    name: 'Service',
    min: 136,
    gives: 2,
    cell: (row) =>
      row.service ? (names.services[row.service] ?? row.service) : <span className="text-soft">none</span>,
  },
  {
    id: 'cost',
    sort: 'cost',
    name: `Label ${homeSign()}`,
    min: 70,
    gives: 3,
    right: true,
    cell: (row) => amount(row.cost),
  },
  {
    id: 'arrives',
    sort: 'arrives_on',
    name: 'Arrives',
    min: 88,
    gives: 5,
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
    min: 160,
    share: 2,
    gives: 0,
    whole: (row) =>
      row.flag ?? row.report ?? (row.state === 'attention' ? (row.problem ?? undefined) : (row.hold ?? row.tags)),
    cell: (row) => {
      if (row.flag ?? row.report) return <span className="text-lost">{row.flag ?? row.report}</span>
      if (row.problem && row.state === 'attention') return row.reason ?? row.problem
      const urgency = urgencyOf(row.priority)
      if (row.hold && row.state === 'held')
        return (
          <span>
            {urgency}
            {row.hold}
            {row.holdUntil && (
              <span className="text-soft">
                , until <When at={row.holdUntil} />
              </span>
            )}
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
