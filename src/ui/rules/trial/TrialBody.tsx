'use client'
import { homeSign } from '../../kit/locale'
import dynamic from 'next/dynamic'
import { useMemo, useState } from 'react'
import {
  movesOf,
  type Sides,
  type TrialChange,
  type TrialGroup,
  trialGroups,
  type TrialSummary,
} from '@/core/rulebook/change'
import { decisionById } from '@/core/rulebook/language'
import { Select } from '../../kit/Field'
import { amount, count, does, orderCount, shortDay, signOf, toneOfCost } from '../../kit/format'
import { TwoTrails } from './TwoTrails'

const Chart = dynamic(() => import('../../kit/Chart').then((module) => module.Chart), {
  ssr: false,
  loading: () => <div style={{ height: 190 }} />,
})

type Sort = 'difference' | 'late' | 'number'
type Names = Readonly<Record<string, string>>

/**
 * What a trial found (`looks`: each order's two trails can be looked at): sums by carrier, service, channel or country
 * as table and picture, and each order that changes.
 */
export function TrialBody({
  summary,
  changes,
  services,
  trial,
  note,
  looks = true,
}: {
  summary: TrialSummary
  changes: readonly TrialChange[]
  services: Names
  trial: number | null
  note: string
  looks?: boolean
}) {
  const [sort, setSort] = useState<Sort>('difference')
  const [order, setOrder] = useState<number | null>(null)
  const name = (service: string | null): string =>
    service === null || service === '' ? 'no service' : (services[service] ?? service)
  const sorted = useMemo(
    () =>
      [...changes].sort((a, b) => {
        if (sort === 'difference') return Math.abs(difference(b)) - Math.abs(difference(a))
        return sort === 'late'
          ? lateness(b) - lateness(a) || difference(b) - difference(a)
          : a.number.localeCompare(b.number)
      }),
    [changes, sort],
  )
  return (
    <div className="panes min-h-0 flex-1 [--panes:400px_1fr] grid-rows-[minmax(0,1fr)]">
      <Summary summary={summary} name={name} />
      <div className="flex min-h-0 flex-col">
        <p className="flex items-center gap-2 border-b border-hair px-3 py-1">
          <b className="font-semibold">
            {orderCount(summary.changed)} {does(summary.changed, 'change')}
          </b>
          <label className="ml-auto flex items-center gap-2 text-small text-soft">
            sorted by{' '}
            <Select value={sort} onChange={(event) => setSort(event.target.value as Sort)}>
              <option value="difference">difference in cost</option>
              <option value="late">late first</option>
              <option value="number">order number</option>
            </Select>
          </label>
        </p>
        <div className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label="Orders that change">
          <table className="w-full">
            <thead className="sticky top-0 bg-sheet">
              <tr className="border-b border-hair text-small text-soft">
                <th className="px-3 py-1">Order</th>
                <th>To</th>
                <th>Service before</th>
                <th>after</th>
                <th className="text-right">{homeSign()} before</th>
                <th className="text-right">after</th>
                <th className="px-3 text-right">difference</th>
                <th>Arrives before</th>
                <th>after</th>
                <th>What differs</th>
              </tr>
            </thead>
            <tbody>
              {sorted.slice(0, 400).map((change) => (
                <tr key={change.id} className="border-b border-hair/60">
                  <td className="px-3 py-1">
                    {looks ? (
                      <button
                        onClick={() => setOrder(change.id)}
                        title="Both trails side by side"
                        className="min-h-[24px] font-mono text-small text-act underline decoration-hair underline-offset-4"
                      >
                        {change.number}
                      </button>
                    ) : (
                      <span className="font-mono text-small">{change.number}</span>
                    )}
                  </td>
                  <td className="pr-2">{change.country}</td>
                  <td className="pr-2">{name(change.before.service)}</td>
                  <td className={change.before.service === change.after.service ? '' : 'font-semibold'}>
                    {name(change.after.service)}
                  </td>
                  <td className="text-right">{amount(change.before.cost)}</td>
                  <td className="text-right">{amount(change.after.cost)}</td>
                  <td className={`px-3 text-right ${toneOfCost(difference(change)) || 'text-soft'}`}>
                    {signed(difference(change))}
                  </td>
                  <td>
                    {shortDay(change.before.arrivesOn)}
                    {change.before.late && <span className="ml-1 text-soft">late</span>}
                  </td>
                  <td>
                    {shortDay(change.after.arrivesOn)}
                    {lateness(change) > 0 &&
                      (lateness(change) > 1 ? (
                        <b className="ml-1 text-lost">late</b>
                      ) : (
                        <span className="ml-1 text-soft">late</span>
                      ))}
                  </td>
                  <td className="text-small text-soft">
                    {change.after.state !== change.before.state && (
                      <span className="text-wait">
                        {change.after.state === 'attention' ? 'needs attention ' : `${change.after.state} `}
                      </span>
                    )}
                    {change.decisions
                      .filter((decision) => decision !== 'quote')
                      .map((decision) => decisionById.get(decision)?.name ?? decision)
                      .join(', ')}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {note && <p className="p-3 text-soft">{note}</p>}
        </div>
      </div>
      {order !== null && <TwoTrails order={order} trial={trial} services={services} onClose={() => setOrder(null)} />}
    </div>
  )
}

const heads: Readonly<Record<TrialGroup, string>> = {
  carrier: 'Carrier',
  service: 'Service',
  channel: 'Channel',
  country: 'Country',
}

function Summary({ summary, name }: { summary: TrialSummary; name: (service: string | null) => string }) {
  const [by, setBy] = useState<TrialGroup>('service')
  const moves = movesOf(summary)
  const rows = Object.entries(summary.groups[by])
    .sort((a, b) => b[1].ordersBefore + b[1].ordersAfter - a[1].ordersBefore - a[1].ordersAfter)
    .slice(0, 14)
  const label = (key: string): string => {
    if (by === 'service') return name(key)
    if (key === '') return by === 'carrier' ? 'none' : 'unknown'
    return key
  }
  return (
    <div
      className="overflow-auto border-r border-hair px-5 py-2"
      tabIndex={0}
      role="region"
      aria-label="Summary of the trial"
    >
      {moves.length > 0 && <MoveFlow summary={summary} name={name} />}
      <h3 className="mt-1 text-small text-soft">Service, from and to</h3>
      <table className="w-full">
        <tbody>
          {moves.slice(0, 12).map((move) => (
            <tr key={`${move.from} ${move.to}`} className="border-b border-hair/60">
              <td className="py-1">
                {name(move.from)} → {name(move.to)}
              </td>
              <td className="text-right font-semibold">{count(move.count)}</td>
              <td className={`w-20 text-right ${move.cost > 0 ? 'text-lost' : 'text-done'}`}>{signed(move.cost)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {moves.length === 0 && <p className="text-soft">No order changes its service.</p>}
      <h3 className="mt-3 flex items-center gap-2 text-small text-soft">
        All {count(summary.orders)} orders, by{' '}
        <Select aria-label="Sums by" value={by} onChange={(event) => setBy(event.target.value as TrialGroup)}>
          {trialGroups.map((group) => (
            <option key={group} value={group}>
              {heads[group].toLowerCase()}
            </option>
          ))}
        </Select>
      </h3>
      <table className="w-full">
        <thead>
          <tr className="border-b border-hair text-small text-soft">
            <th className="py-1">{heads[by]}</th>
            <th className="text-right">Orders</th>
            <th className="text-right">now</th>
            <th className="text-right">{homeSign()}</th>
            <th className="text-right">now</th>
            <th className="pl-2 text-right">Late</th>
            <th className="pl-1 text-right">now</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([key, sides]) => (
            <SideRow key={key} label={label(key)} sides={sides} />
          ))}
        </tbody>
      </table>
      {Object.values(summary.lines).some((minor) => minor !== 0) && (
        <>
          <h3 className="mt-3 text-small text-soft">Lines of cost that move</h3>
          <table className="w-full">
            <tbody>
              {Object.entries(summary.lines)
                .filter(([, minor]) => minor !== 0)
                .sort((a, b) => Math.abs(b[1]) - Math.abs(a[1]))
                .map(([what, minor]) => (
                  <tr key={what} className="border-b border-hair/60">
                    <td className="py-1">{what}</td>
                    <td className={`text-right ${minor > 0 ? 'text-lost' : 'text-done'}`}>{signed(minor)}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        </>
      )}
      <h3 className="mt-3 text-small text-soft">Decisions that differ</h3>
      <table className="w-full">
        <tbody>
          {Object.entries(summary.byDecision)
            .sort((a, b) => b[1] - a[1])
            .map(([decision, n]) => (
              <tr key={decision} className="border-b border-hair/60">
                <td className="py-1">
                  {decision === 'quote' ? 'service, cost or arrival' : (decisionById.get(decision)?.name ?? decision)}
                </td>
                <td className="text-right font-semibold">{count(n)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  )
}

function SideRow({ label, sides }: { label: string; sides: Sides }) {
  const cells: [string, string, boolean][] = [
    [count(sides.ordersBefore), count(sides.ordersAfter), sides.ordersBefore !== sides.ordersAfter],
    [amount(sides.costBefore), amount(sides.costAfter), sides.costBefore !== sides.costAfter],
    [count(sides.lateBefore), count(sides.lateAfter), sides.lateBefore !== sides.lateAfter],
  ]
  return (
    <tr className="border-b border-hair/60">
      <td className="max-w-24 truncate py-1" title={label}>
        {label}
      </td>
      {cells.map(([before, after, moved], i) => [
        <td key={`b${i}`} className="pl-2 text-right text-soft">
          {before}
        </td>,
        <td key={`a${i}`} className={`pl-1 text-right ${moved ? 'font-semibold' : 'text-soft'}`}>
          {after}
        </td>,
      ])}
    </tr>
  )
}

/** Where orders go from and to, as a picture; the table under it says the same. */
function MoveFlow({ summary, name }: { summary: TrialSummary; name: (service: string | null) => string }) {
  const option = useMemo(() => {
    const moves = movesOf(summary).slice(0, 12)
    const [left, right] = [
      [...new Set(moves.map((move) => name(move.from)))],
      [...new Set(moves.map((move) => name(move.to)))],
    ]
    return {
      tooltip: {},
      // A service may stand on both sides; a blank at the end tells the two apart.
      series: [
        {
          type: 'sankey',
          left: 4,
          right: 128,
          top: 6,
          bottom: 6,
          nodeWidth: 10,
          nodeGap: 8,
          draggable: false,
          lineStyle: { color: 'source', opacity: 0.35 },
          data: [...left.map((id) => ({ name: id, depth: 0 })), ...right.map((id) => ({ name: `${id} `, depth: 1 }))],
          links: moves.map((move) => ({ source: name(move.from), target: `${name(move.to)} `, value: move.count })),
        },
      ],
    }
  }, [summary, name])
  return (
    <Chart
      axes={false}
      option={option}
      height={170}
      label="Orders that change service, from the one before to the one after"
    />
  )
}

const difference = ({ before, after }: TrialChange): number =>
  before.cost === null || after.cost === null ? 0 : after.cost - before.cost
/** 2 when it is late now and was not before, 1 when it is late as before. */
const lateness = ({ before, after }: TrialChange): number => {
  if (after.late) return before.late ? 1 : 2
  return 0
}
const signed = (minor: number): string => `${signOf(minor)}${amount(Math.abs(minor))}`
