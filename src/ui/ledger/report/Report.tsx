'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import dynamic from 'next/dynamic'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useMemo, useState } from 'react'
import type { ReportLine, ReportView } from '@/usecases/ledger/report'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { countryName } from '../../kit/countryName'
import { amount, count, homeMoney, percent, shortDay, toneOfCost } from '../../kit/format'
import { home, homeSign } from '../../kit/locale'
import { Plain } from '../../kit/Screen'
import { useChange } from '../../kit/useChange'
import { LedgerHead } from '../LedgerHead'
import { Accounts } from './Accounts'
import { RuleCosts } from './RuleCosts'
import { aStep } from '../../kit/step'

const Chart = dynamic(() => import('../../kit/Chart').then((module) => module.Chart), {
  ssr: false,
  loading: () => <div style={{ height: 200 }} />,
})

const dimensions = [
  ...['carrier', 'service', 'channel', 'country', 'zone', 'location', 'rule', 'week', 'month'],
] as const satisfies readonly ReportView['by'][]
const parsers = { by: parseAsStringLiteral(dimensions), from: parseAsString, until: parseAsString }

/**
 * What shipping cost, for the office: by what one likes, against list price and what buyers paid, with files for the
 * accounts.
 */
export function Report({ initial }: { initial: ReportView }) {
  const [asked, put] = useQueryStates(parsers, aStep)
  const by = asked.by ?? 'carrier'
  const { data } = useQuery({
    queryKey: ['report', by, asked.from, asked.until],
    queryFn: () =>
      call('GET /api/ledger/report', {
        query: { by, ...(asked.from ? { from: asked.from } : {}), ...(asked.until ? { until: asked.until } : {}) },
      }),
    initialData: by === 'carrier' && !asked.from && !asked.until ? initial : undefined,
    placeholderData: keepPreviousData,
  })
  const view = data ?? initial
  const [naming, setNaming] = useState(false)
  const range = new URLSearchParams({ from: view.from, until: view.until })
  return (
    <div className="relative flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <LedgerHead
          at="report"
          about={
            <>
              <b className="text-ink">{homeMoney(view.total.spend)}</b> for {count(view.total.shipments)} shipments
            </>
          }
        />
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hair px-5 pb-2">
          <label className="flex items-center gap-1.5 text-soft">
            by{' '}
            <select
              className="rounded-[3px] border border-hair bg-sheet px-2 py-0.5 text-ink"
              value={by}
              onChange={(event) => void put({ by: event.target.value as (typeof dimensions)[number] })}
            >
              {dimensions.map((one) => (
                <option key={one} value={one}>
                  {one}
                </option>
              ))}
            </select>
          </label>
          {(['from', 'until'] as const).map((side) => (
            <label key={side} className="flex items-center gap-1.5 text-soft">
              {side}{' '}
              <input
                type="date"
                value={view[side]}
                max={side === 'from' ? view.until : undefined}
                min={side === 'until' ? view.from : undefined}
                className="rounded-[3px] border border-hair bg-sheet px-2 py-0.5 text-ink"
                onChange={(event) => {
                  if (event.target.value) void put({ from: view.from, until: view.until, [side]: event.target.value })
                }}
              />
            </label>
          ))}
          <span className="ml-auto flex flex-wrap items-center gap-3">
            <Files name="This table" href={`/api/ledger/report/file?by=${by}&${range.toString()}`} />
            <Files name="Journal lines" href={`/api/ledger/report/journal/file?${range.toString()}`} />
            <Button kind="quiet" onClick={() => setNaming(true)}>
              Accounts …
            </Button>
            <Month month={view.until.slice(0, 7)} />
          </span>
        </div>
        <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Report">
          {view.lines.length === 0 ? (
            <Plain title="Nothing was shipped in these days">Choose other days.</Plain>
          ) : (
            <>
              <Bars view={view} />
              <Lines view={view} />
            </>
          )}
          {view.besides !== 0 && (
            <p className="mt-2 px-3 text-soft">
              Besides, for no shipment of these (collections outside the usual times, labels on invoices that nobody
              bought): {homeMoney(view.besides)}.
            </p>
          )}
          {by === 'rule' && <RuleCosts />}
        </div>
      </div>
      {naming && <Accounts view={view} onClose={() => setNaming(false)} />}
    </div>
  )
}

function Files({ name, href }: { name: string; href: string }) {
  return (
    <span className="flex items-center gap-1.5 text-soft">
      {name}
      {(['csv', 'xlsx'] as const).map((format) => (
        <a
          key={format}
          className="inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
          href={`${href}&format=${format}`}
          aria-label={`${name} as ${format.toUpperCase()}`}
        >
          {format.toUpperCase()}
        </a>
      ))}
    </span>
  )
}

/** The month of the last day, as a PDF. */
function Month({ month }: { month: string }) {
  const change = useChange()
  const print = async (): Promise<boolean> => {
    // Opened while the click is fresh, as browsers want it.
    const tab = window.open('', '_blank')
    const done = await change(
      () => call('POST /api/ledger/report/print', { body: { month } }),
      ({ file }) => {
        if (tab) tab.location.href = file
        else window.location.href = file
      },
    )
    if (!done) tab?.close()
    return done
  }
  return <Button onClick={print}>{month} as PDF</Button>
}

/** How a row is called; weeks by their Monday. */
function nameOf(by: ReportView['by'], line: ReportLine): string {
  if (by === 'country') return countryName(line.key)
  if (by === 'week') return `week of ${shortDay(line.key)}`
  return line.name
}

const mostBars = 14

/** Spend beside what buyers paid, the dearest first; the numbers stand in the table under it. */
function Bars({ view }: { view: ReportView }) {
  const option = useMemo(() => {
    const lines = view.lines.slice(0, mostBars)
    const major = (minor: number): number => minor / 100
    return {
      tooltip: { trigger: 'axis', valueFormatter: (value: unknown) => homeMoney(Math.round(Number(value) * 100)) },
      xAxis: {
        data: lines.map((line) => nameOf(view.by, line)),
        axisLabel: { interval: 0, width: 110, overflow: 'truncate' },
      },
      yAxis: { axisLabel: { formatter: `{value} ${homeSign()}` } },
      series: [
        { type: 'bar', name: 'spent', data: lines.map(({ spend }) => major(spend)) },
        { type: 'bar', name: 'paid by buyers', data: lines.map(({ paid }) => major(paid)) },
      ],
    }
  }, [view])
  return (
    <div className="mt-3 border border-hair bg-sheet p-3">
      <Chart
        option={option}
        height={200}
        label={`What was spent and what buyers paid, by ${view.by}; the numbers stand in the table`}
      />
    </div>
  )
}

function Lines({ view }: { view: ReportView }) {
  const sign = homeSign()
  return (
    <table className="mt-4 w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">{view.by[0]!.toUpperCase() + view.by.slice(1)}</th>
          <th className="text-right">Shipments</th>
          <th className="text-right">kg</th>
          <th className="text-right">Spent, {sign}</th>
          <th className="text-right">{sign} each</th>
          <th className="text-right">{sign} per kg</th>
          <th className="text-right" title="Against the list price of the same">
            Saved, {sign}
          </th>
          <th className="text-right">Buyers paid, {sign}</th>
          <th className="text-right" title="What buyers paid less what it cost">
            Kept, {sign}
          </th>
          <th className="text-right" title="Of what has arrived and had a day">
            Late
          </th>
          <th className="text-right" title="Return labels that were used; part of what was spent">
            Returns, {sign}
          </th>
          <th className="text-right" title="What carriers’ invoices charged besides; not part of what was spent">
            Corrected, {sign}
          </th>
          <th className="px-3 text-right" title="Granted by carriers">
            Claims, {sign}
          </th>
        </tr>
      </thead>
      <tbody>
        {view.lines.map((line) => (
          <Row key={line.key} line={line} name={nameOf(view.by, line)} />
        ))}
      </tbody>
      <tfoot>
        <Row line={view.total} name={`All, ${home()}`} strong />
      </tfoot>
    </table>
  )
}

function Row({ line, name, strong = false }: { line: ReportLine; name: string; strong?: boolean }) {
  const kept = line.paid - line.spendOfPaid
  const cell = 'text-right whitespace-nowrap'
  return (
    <tr className={`border-b border-hair/70 ${strong ? 'font-semibold' : 'hover:bg-tint'}`}>
      <td className="max-w-72 truncate px-3 py-1" title={name}>
        {name}
      </td>
      <td className={cell}>{count(line.shipments)}</td>
      <td className={cell}>{count(Math.round(line.weight / 1000))}</td>
      <td className={cell}>{amount(line.spend)}</td>
      <td className={cell}>{line.shipments === 0 ? '–' : amount(Math.round(line.spend / line.shipments))}</td>
      <td className={cell}>{line.weight === 0 ? '–' : amount(Math.round((1000 * line.spend) / line.weight))}</td>
      <td className={cell}>{amount(line.list - line.spendOfListed)}</td>
      <td className={cell}>{amount(line.paid)}</td>
      <td className={`${cell} ${toneOfCost(-kept)}`}>{amount(kept)}</td>
      <td className={cell}>{line.arrived === 0 ? '–' : percent(line.late / line.arrived)}</td>
      <td className={cell}>{line.returns === 0 ? '–' : amount(line.returns)}</td>
      <td className={cell}>{line.corrected === 0 ? '–' : amount(line.corrected)}</td>
      <td className={`${cell} px-3`}>{line.claimed === 0 ? '–' : amount(line.claimed)}</td>
    </tr>
  )
}
