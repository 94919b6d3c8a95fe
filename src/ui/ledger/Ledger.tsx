'use client'
import { homeSign } from '../kit/locale'
import { useQuery } from '@tanstack/react-query'
import dynamic from 'next/dynamic'
import { parseAsString, useQueryStates } from 'nuqs'
import Link from 'next/link'
import { useMemo } from 'react'
import type { LedgerView } from '@/usecases/ledger/showLedger'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call } from '../kit/api'
import { amount, count, homeMoney, shortDay } from '../kit/format'
import { Plain } from '../kit/Screen'
import { LedgerHead } from './LedgerHead'
import { countryName } from '../kit/countryName'
import { aStep } from '../kit/step'

const Chart = dynamic(() => import('../kit/Chart').then((module) => module.Chart), {
  ssr: false,
  loading: () => <div style={{ height: 220 }} />,
})

const SpendMap = dynamic(() => import('./SpendMap').then((module) => module.SpendMap), {
  ssr: false,
  loading: () => <div style={{ height: 348 }} />,
})

/** What labels cost, by carrier, service, zone and day; net of pending refunds. */
export function Ledger({ initial, names }: { initial: LedgerView; names: DeskNames }) {
  const [asked, setRange] = useQueryStates({ from: parseAsString, until: parseAsString }, aStep)
  const range = { from: asked.from ?? initial.from, until: asked.until ?? initial.until }
  const { data } = useQuery({
    queryKey: ['ledger', range],
    queryFn: () => call('GET /api/ledger', { query: { from: range.from, until: range.until } }),
    initialData: range.from === initial.from && range.until === initial.until ? initial : undefined,
    placeholderData: (before) => before,
    refetchInterval: 10_000,
  })
  const view = data ?? initial
  const days = useMemo(() => [...new Set(view.byDay.map((row) => row.day))], [view.byDay])
  const option = useMemo(() => {
    const carriers = [...new Set(view.byDay.map((row) => row.carrier))].sort()
    const at = new Map(view.byDay.map((row) => [`${row.day} ${row.carrier}`, Number(row.amount)]))
    return {
      tooltip: { trigger: 'axis', valueFormatter: (value: unknown) => homeMoney(Math.round(Number(value) * 100)) },
      xAxis: { data: days.map(shortDay) },
      yAxis: { axisLabel: { formatter: `{value} ${homeSign()}` } },
      series: carriers.map((carrier) => ({
        type: 'bar',
        stack: 'spend',
        name: names.carriers[carrier] ?? carrier,
        data: days.map((day) => (at.get(`${day} ${carrier}`) ?? 0) / 100),
      })),
    }
  }, [view.byDay, days, names])
  return (
    <div className="flex h-full flex-col">
      <LedgerHead
        at="spend"
        about={
          <>
            <b className="text-ink">{homeMoney(view.spend)}</b> for {count(view.labels)} labels
            {view.pending > 0 && (
              <>
                ,{' '}
                <Link className="text-act underline decoration-hair underline-offset-4" href="/ledger/refunds">
                  {homeMoney(view.pending)} refunds pending
                </Link>
              </>
            )}
          </>
        }
      >
        {(['from', 'until'] as const).map((key) => (
          <label key={key} className="flex items-center gap-1.5 text-soft">
            {key}{' '}
            <input
              type="date"
              value={range[key]}
              max={key === 'from' ? range.until : undefined}
              min={key === 'until' ? range.from : undefined}
              onChange={(event) => {
                if (event.target.value) void setRange({ ...range, [key]: event.target.value })
              }}
              className="rounded-[3px] border border-hair bg-sheet px-2 py-0.5 text-ink"
            />
          </label>
        ))}
      </LedgerHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Spend">
        {view.labels === 0 ? (
          <Plain title="No labels in these days">
            Choose other days, or buy labels on{' '}
            <a className="text-act underline" href="/dispatch">
              Dispatch
            </a>
            .
          </Plain>
        ) : (
          <>
            <div className="border border-hair bg-sheet p-3">
              <h2 className="text-small text-soft">Spend by day and carrier</h2>
              <Chart
                option={option}
                height={220}
                label={`Spend by day and carrier from ${view.from} until ${view.until}; the numbers stand in the table of days`}
              />
            </div>
            <div className="mt-4 grid items-start gap-5 min-[900px]:grid-cols-3">
              <div className="grid items-start gap-5 min-[900px]:col-span-2 min-[900px]:grid-cols-2">
                <Spend title="Carrier" rows={view.byCarrier} name={(key) => names.carriers[key] ?? key} />
                <Spend title="Service" rows={view.byService} name={(key) => names.services[key] ?? key} />
                <div className="min-w-0 border border-hair bg-sheet p-3 min-[900px]:col-span-2">
                  <SpendMap rows={view.byCountry} />
                </div>
              </div>
              <div className="grid gap-5">
                <Spend title="Country" rows={view.byCountry} name={countryName} />
                <Spend title="Zone" rows={view.byZone} name={(key) => key} />
              </div>
            </div>
            <details className="mt-4">
              <summary className="cursor-pointer text-act">The days as a table</summary>
              <div className="mt-2 w-96">
                <Spend
                  title="Day"
                  rows={days.map((day) => ({
                    key: day,
                    labels: NaN,
                    amount: view.byDay
                      .filter((row) => row.day === day)
                      .reduce((sum, row) => sum + Number(row.amount), 0),
                  }))}
                  name={(key) => key}
                />
              </div>
            </details>
          </>
        )}
      </div>
    </div>
  )
}

function Spend({ title, rows, name }: { title: string; rows: LedgerView['byCarrier']; name: (key: string) => string }) {
  const most = Math.max(1, ...rows.map((row) => Number(row.amount)))
  const counted = rows.some((row) => !Number.isNaN(Number(row.labels)))
  return (
    <table className="w-full self-start bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-2 py-1">{title}</th>
          {counted && <th className="text-right">Labels</th>}
          {counted && <th className="text-right">{homeSign()} each</th>}
          <th className="pr-2 text-right">{homeSign()}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.key} className="border-b border-hair/60">
            <td className="relative px-2 py-1">
              <span
                aria-hidden
                className="absolute inset-y-1 left-0 bg-act-soft"
                style={{ width: `${(100 * Number(row.amount)) / most}%` }}
              />
              <span className="relative">{name(row.key)}</span>
            </td>
            {counted && <td className="text-right">{count(Number(row.labels))}</td>}
            {counted && (
              <td className="text-right text-soft">
                {amount(Math.round(Number(row.amount) / Math.max(1, Number(row.labels))))}
              </td>
            )}
            <td className="pr-2 text-right">{amount(Number(row.amount))}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
