'use client'
import { useQuery } from '@tanstack/react-query'
import dynamic from 'next/dynamic'
import { parseAsString, useQueryState } from 'nuqs'
import { useMemo } from 'react'
import { call } from '../kit/api'
import { countryName } from '../kit/countryName'
import { Select } from '../kit/Field'
import { count, percent } from '../kit/format'
import { aStep } from '../kit/step'

const Chart = dynamic(() => import('../kit/Chart').then((module) => module.Chart), { ssr: false })
/** Lanes beside each other in one picture. */
const mostDrawn = 6

/** How parcels of a service came against what it promised, lane by lane: as a picture, and as the table of the same. */
export function Lanes() {
  const { data } = useQuery({
    queryKey: ['lanes'],
    queryFn: () => call('GET /api/tracking/arrivals/lanes'),
    staleTime: 600_000,
  })
  const [asked, setAsked] = useQueryState('service', parseAsString.withOptions(aStep))
  const services = useMemo(() => new Map(data?.lanes.map(({ service, name }) => [service, name])), [data])
  const service = asked ?? data?.lanes[0]?.service ?? ''
  const lanes = useMemo(() => (data?.lanes ?? []).filter((lane) => lane.service === service), [data, service])
  const days = useMemo(() => {
    const all = lanes.flatMap(({ came }) => came.map(([day]) => day))
    const [first, last] = [Math.max(-4, Math.min(0, ...all)), Math.min(10, Math.max(1, ...all))]
    return Array.from({ length: last - first + 1 }, (_, i) => first + i)
  }, [lanes])
  const option = useMemo(
    () => ({
      tooltip: { trigger: 'axis', valueFormatter: (share: unknown) => `${String(share)} %` },
      xAxis: { data: days.map(dayWord) },
      yAxis: { axisLabel: { formatter: '{value} %' } },
      series: lanes.slice(0, mostDrawn).map(({ country, came, delivered }) => ({
        name: countryName(country),
        type: 'bar',
        barMaxWidth: 22,
        data: days.map((day) => Math.round((1000 * within(came, day, days)) / delivered) / 10),
      })),
    }),
    [lanes, days],
  )
  if (lanes.length === 0) return null
  return (
    <section aria-label="Against what was promised" className="border-t border-hair px-5 py-3">
      <div className="mb-1 flex items-center gap-3">
        <h2 className="text-lead">When parcels came, against the day foreseen</h2>
        <Select aria-label="Service" value={service} onChange={(event) => void setAsked(event.target.value)}>
          {[...services].map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
        <span className="text-soft">of the last 90 days</span>
      </div>
      <Chart
        label={`When parcels of ${services.get(service) ?? service} came, by country; the table below says the same`}
        height={220}
        option={option}
      />
      <details className="mt-2">
        <summary className="cursor-pointer text-act">The same as a table</summary>
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Lanes as a table">
          <table className="mt-1 whitespace-nowrap">
            <thead>
              <tr className="border-b border-hair text-small text-soft">
                <th className="py-1 pr-4 text-left">To</th>
                <th className="px-3 text-right">Promised, days</th>
                <th className="px-3 text-right">Delivered</th>
                <th className="px-3 text-right">By the day</th>
                {days.map((day) => (
                  <th key={day} className="px-2 text-right">
                    {dayWord(day)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {lanes.map(({ country, promised, delivered, onTime, came }) => (
                <tr key={country} className="border-b border-hair/60">
                  <td className="py-1 pr-4">{countryName(country)}</td>
                  <td className="px-3 text-right">{promised ?? '–'}</td>
                  <td className="px-3 text-right">{count(delivered)}</td>
                  <td className="px-3 text-right">{percent(onTime / delivered)}</td>
                  {days.map((day) => (
                    <td key={day} className="px-2 text-right text-soft">
                      {count(within(came, day, days))}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </section>
  )
}

/** Parcels that came on a day; the first and the last day have what came before and after. */
const within = (came: readonly (readonly [number, number])[], day: number, days: readonly number[]): number =>
  came.reduce((sum, [at, parcels]) => sum + (Math.min(days.at(-1)!, Math.max(days[0]!, at)) === day ? parcels : 0), 0)

function dayWord(day: number): string {
  if (day === 0) return 'on the day'
  return day < 0 ? `${-day} early` : `${day} late`
}
