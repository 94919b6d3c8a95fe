'use client'
import { useQuery } from '@tanstack/react-query'
import type { Arrivals as ArrivalsRow } from '@/usecases/tracking/showArrivals'
import { call } from '../kit/api'
import { count, percent } from '../kit/format'

/** What became of the last 30 days' shipments, one service a row: what is on its way, late, and came when foreseen. */
export function Arrivals({ initial }: { initial: readonly ArrivalsRow[] }) {
  // A month of shipments is summed up for it, so it is asked for less often than what waits.
  const { data: rows } = useQuery({
    queryKey: ['arrivals'],
    queryFn: () => call('GET /api/tracking/arrivals'),
    initialData: initial,
    staleTime: 30_000,
    refetchInterval: 30_000,
  })
  if (rows.length === 0) return null
  return (
    <section aria-label="Shipments of the last 30 days" className="border-b border-hair bg-sheet px-5 pb-2">
      <table className="w-full">
        <thead>
          <tr className="text-small text-soft">
            <th className="py-1.5">Shipments of the last 30 days</th>
            <th className="pl-3 text-right">Bought</th>
            <th className="pl-3 text-right">Not delivered yet</th>
            <th className="pl-3 text-right">Late</th>
            <th className="pl-3 text-right">Delivered</th>
            <th className="w-1/3 pl-6 min-[900px]:pl-10">Came by the day foreseen</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ service, name, shipments, onTheWay, late, delivered, onTime }) => (
            <tr key={service} className="border-t border-hair/60">
              <td className="py-1 font-semibold">{name}</td>
              <td className="text-right">{count(shipments)}</td>
              <td className="text-right">{count(onTheWay)}</td>
              <td className={`text-right ${late > 0 ? 'font-semibold text-lost' : 'text-soft'}`}>{count(late)}</td>
              <td className="text-right">{count(delivered)}</td>
              <td className="pl-6 min-[900px]:pl-10">
                {delivered === 0 ? (
                  <span className="text-soft">none delivered yet</span>
                ) : (
                  <Share of={onTime / delivered} />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Share({ of }: { of: number }) {
  return (
    <span className="flex items-center gap-2">
      <span className="w-14 shrink-0 text-right whitespace-nowrap">{percent(of)}</span>
      <span aria-hidden className="h-2 flex-1 bg-tint">
        <span className="block h-full bg-done-mark" style={{ width: `${of * 100}%` }} />
      </span>
    </span>
  )
}
