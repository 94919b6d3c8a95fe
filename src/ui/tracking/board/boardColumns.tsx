import type { BoardLine, BoardSpread } from '@/usecases/tracking/showBoard'
import { count, shortDay } from '../../kit/format'
import type { GridColumn } from '../../kit/grid/columns'
import { StateMark } from '../../kit/StateMark'
import { When } from '../../kit/When'
import { daysLate, silence } from './needs'

/** What the board shows of a parcel; `now` is the moment that lateness and silence are counted from. */
export function boardColumns(names: BoardSpread['names'] | undefined, now: string): readonly GridColumn<BoardLine>[] {
  return [
    {
      id: 'status',
      name: 'State',
      min: 150,
      gives: 0,
      cell: (row) => <StateMark state={row.status} />,
      whole: (row) => (row.words > 0 ? 'The customer wrote' : undefined),
    },
    {
      id: 'late',
      name: 'Late',
      min: 76,
      gives: 0,
      right: true,
      sort: 'due',
      cell: (row) => {
        const days = now === '' ? 0 : daysLate(row, now)
        return days > 0 ? (
          <b className="font-semibold text-lost">{count(days)} d</b>
        ) : (
          <span className="text-soft">–</span>
        )
      },
    },
    {
      id: 'silent',
      name: 'No news for',
      min: 96,
      gives: 1,
      right: true,
      sort: 'statusAt',
      cell: (row) => (
        <span className={row.silentFrom !== null && row.silentFrom < now ? 'font-semibold text-lost' : ''}>
          {now === '' ? '' : silence(row, now)}
        </span>
      ),
    },
    { id: 'due', name: 'Due', min: 72, gives: 3, cell: (row) => shortDay(row.due) },
    {
      id: 'expected',
      name: 'Expected',
      min: 130,
      gives: 2,
      cell: (row) =>
        row.likely === null ? (
          <span className="text-soft">–</span>
        ) : (
          <span title={`Half of such parcels come by ${shortDay(row.likely)}, nine of ten by ${shortDay(row.surely)}`}>
            {shortDay(row.likely)}
            {row.surely !== row.likely && <span className="text-soft"> – {shortDay(row.surely)}</span>}
          </span>
        ),
    },
    {
      id: 'tracking',
      name: 'Tracking number',
      min: 176,
      gives: 0,
      cell: (row) => <span className="font-mono text-small">{row.trackingNumber}</span>,
      whole: (row) => row.trackingNumber,
    },
    {
      id: 'order',
      name: 'Order',
      min: 96,
      gives: 0,
      sort: 'number',
      cell: (row) => <span className="font-mono text-small">{row.number}</span>,
      whole: (row) => row.number,
    },
    {
      id: 'service',
      name: 'Service',
      min: 130,
      share: 1,
      gives: 2,
      sort: 'carrier',
      cell: (row) => names?.services[row.service] ?? names?.carriers[row.carrier] ?? row.carrier,
    },
    {
      id: 'lane',
      name: 'From, to',
      min: 130,
      share: 1,
      gives: 4,
      sort: 'country',
      cell: (row) => (
        <span>
          {names?.locations[row.location] ?? row.location} <span className="text-soft">to</span>{' '}
          <b className="font-semibold">{row.country || '??'}</b>
        </span>
      ),
    },
    { id: 'bought', name: 'Bought', min: 104, gives: 5, sort: 'boughtAt', cell: (row) => <When at={row.boughtAt} /> },
  ]
}
