'use client'
import dynamic from 'next/dynamic'
import { useMemo } from 'react'
import type { Arrivals as ArrivalsRow } from '@/usecases/tracking/showArrivals'
import type { showBoardDays } from '@/usecases/tracking/showBoard'
import { count, shortDay } from '../kit/format'
import { stateWord } from '../kit/StateMark'
import { Arrivals } from './Arrivals'
import { Lanes } from './Lanes'
import { TrackingHead } from './TrackingHead'

const Chart = dynamic(() => import('../kit/Chart').then((module) => module.Chart), { ssr: false })

interface Props {
  readonly arrivals: readonly ArrivalsRow[]
  readonly days: Awaited<ReturnType<typeof showBoardDays>>
}

/** What became of the shipments of the last month, and where those of each day are. */
export function ArrivalsPage({ arrivals, days: { days } }: Props) {
  const dates = useMemo(() => [...new Set(days.map(({ day }) => day))].sort(), [days])
  const states = useMemo(() => [...new Set(days.map(({ status }) => status))], [days])
  const sums = useMemo(() => {
    const found = new Map<string, number>()
    for (const { day, status, count: n } of days)
      found.set(`${day} ${status}`, (found.get(`${day} ${status}`) ?? 0) + Number(n))
    return found
  }, [days])
  const option = useMemo(
    () => ({
      tooltip: { trigger: 'axis' },
      xAxis: { data: dates.map((day) => shortDay(day)) },
      series: states.map((status) => ({
        name: stateWord(status),
        type: 'bar',
        stack: 'all',
        barMaxWidth: 26,
        data: dates.map((day) => sums.get(`${day} ${status}`) ?? 0),
      })),
    }),
    [dates, states, sums],
  )
  return (
    <div className="h-full overflow-auto">
      <TrackingHead at="arrivals" about="What came when it was foreseen, and what has not come" />
      <Arrivals initial={arrivals} />
      <section aria-label="Not arrived yet" className="px-5 py-3">
        <h2 className="mb-1 text-lead">Not arrived yet, by the day of the label</h2>
        {dates.length === 0 ? (
          <p className="text-soft">Everything has arrived.</p>
        ) : (
          <>
            <Chart
              label="Parcels that have not arrived, by day and state; the table below says the same"
              height={220}
              option={option}
            />
            <details className="mt-2">
              <summary className="cursor-pointer text-act">The same as a table</summary>
              <table className="mt-1">
                <thead>
                  <tr className="border-b border-hair text-small text-soft">
                    <th className="py-1 pr-4 text-left">Day</th>
                    {states.map((status) => (
                      <th key={status} className="px-3 text-right">
                        {stateWord(status)}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {dates.map((day) => (
                    <tr key={day} className="border-b border-hair/60">
                      <td className="py-1 pr-4">{shortDay(day)}</td>
                      {states.map((status) => (
                        <td key={status} className="px-3 text-right">
                          {count(sums.get(`${day} ${status}`) ?? 0)}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </details>
          </>
        )}
      </section>
      <Lanes />
    </div>
  )
}
