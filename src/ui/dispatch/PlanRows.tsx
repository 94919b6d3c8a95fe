'use client'
import { homeSign } from '../kit/locale'
import { useMemo, useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { BatchPlan } from '@/usecases/dispatch/planBatch'
import { amount, shortDay } from '../kit/format'
import { Grid } from '../kit/grid/Grid'
import type { GridColumn } from '../kit/grid/columns'

type Label = BatchPlan['labels'][number]
interface Row {
  readonly order: number
  readonly number: string
  /** None where it cannot be bought; `reason` says why. */
  readonly label?: Label
  readonly reason?: string
}

/** The orders of a plan, what cannot be bought first; Space or a click leaves one out. */
export function PlanRows({
  plan,
  names,
  left,
  onToggle,
}: {
  plan: BatchPlan
  names: DeskNames
  left: ReadonlySet<number>
  onToggle: (order: number) => void
}) {
  const [cursor, setCursor] = useState(0)
  const rows = useMemo<readonly Row[]>(
    () => [
      ...plan.blocked.map(({ order, number, reason }) => ({ order, number, reason })),
      ...plan.labels.map((label) => ({ order: label.order, number: label.number, label })),
    ],
    [plan],
  )
  const bought = useMemo(
    () => new Set(plan.labels.map(({ order }) => order).filter((order) => !left.has(order))),
    [plan, left],
  )
  const columns = useMemo(() => columnsOf(names), [names])
  return (
    <Grid
      label="Orders of the batch"
      columns={columns}
      count={rows.length}
      rowAt={(index) => rows[index]}
      idOf={(row) => row.order}
      nameOf={(row) => row.number}
      cursor={cursor}
      onCursor={setCursor}
      selected={bought}
      selectLabel="Buy"
      selectable={(row) => row.label !== undefined}
      across={(row) => row.reason && `△ ${row.reason}`}
      onToggle={(row) => onToggle(row.order)}
      onOpen={(row, by) => {
        if (by === 'mouse' && row.label) onToggle(row.order)
      }}
      tone={(row) => {
        if (!row.label) return 'bg-wait-soft/60'
        return left.has(row.order) ? 'text-soft line-through' : ''
      }}
    />
  )
}

const columnsOf = (names: DeskNames): readonly GridColumn<Row>[] => [
  {
    id: 'order',
    name: 'Order',
    min: 96,
    gives: 0,
    cell: ({ number }) => <span className="font-mono text-small">{number}</span>,
  },
  {
    id: 'buyer',
    name: 'Buyer',
    min: 110,
    share: 1,
    gives: 1,
    cell: ({ label }) => <bdi>{label?.buyer}</bdi>,
    whole: ({ label }) => label?.buyer,
  },
  { id: 'to', name: 'To', min: 40, gives: 3, cell: ({ label }) => label?.country },
  {
    id: 'service',
    name: 'Service',
    min: 150,
    gives: 2,
    cell: ({ label }) => label && (names.services[label.service] ?? label.service),
  },
  {
    id: 'arrives',
    name: 'Arrives',
    min: 96,
    gives: 4,
    cell: ({ label }) =>
      label && (
        <>
          {shortDay(label.arrivesOn)}
          {(label.daysLate ?? 0) > 0 && <b className="ml-1 text-lost">+{label.daysLate} d</b>}
        </>
      ),
  },
  {
    id: 'lines',
    name: `Cost lines ${homeSign()}`,
    min: 220,
    share: 2,
    gives: 5,
    cell: ({ label }) => label && <span className="text-small text-soft">{linesOf(label)}</span>,
    whole: ({ label }) => label && linesOf(label),
  },
  {
    id: 'cost',
    name: `Label ${homeSign()}`,
    min: 76,
    gives: 0,
    right: true,
    cell: ({ label }) => label && amount(label.cost),
  },
]

const linesOf = ({ lines }: Label): string => lines.map(({ what, minor }) => `${what} ${amount(minor)}`).join(' + ')
