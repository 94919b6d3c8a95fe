'use client'
import { useState } from 'react'
import Link from 'next/link'
import { decisionById, type TrialChange } from '@/core/rulebook'
import { Button } from '../../kit/Button'
import { amount, count, euros, shortDay } from '../../kit/format'
import { Select } from '../../kit/Field'
import type { TrialResult } from './useTrial'

type Sort = 'difference' | 'late' | 'number'

/** The trial in full: where orders move, and each order that changes, the dearest difference first. */
export function TrialPanel({ result, services, onClose }: { result: TrialResult; services: Readonly<Record<string, string>>; onClose: () => void }) {
  const [sort, setSort] = useState<Sort>('difference')
  const { summary, changes } = result
  const name = (service: string | null): string => (service === null ? 'no service' : (services[service] ?? service))
  const sorted = [...changes].sort((a, b) => (sort === 'difference' ? Math.abs(difference(b)) - Math.abs(difference(a)) : sort === 'late' ? Number(b.after.late) - Number(a.after.late) || difference(b) - difference(a) : a.number.localeCompare(b.number)))
  return (
    <section aria-label="Trial" className="relative z-20 flex min-h-0 flex-1 flex-col overflow-hidden border-b border-hair bg-sheet">
      <header className="flex items-center gap-3 border-b border-hair px-5 py-2">
        <h2 className="text-lead">Trial: {count(changes.length)} orders change</h2>
        <label className="ml-auto flex items-center gap-2 text-soft">sorted by <Select value={sort} onChange={(event) => setSort(event.target.value as Sort)}><option value="difference">difference in cost</option><option value="late">late first</option><option value="number">order number</option></Select></label>
        <Button onClick={() => download(sorted)}>Save as CSV</Button>
        <Button kind="quiet" onClick={onClose}>Close the trial</Button>
      </header>
      <div className="grid min-h-0 flex-1 grid-cols-[320px_1fr] grid-rows-[minmax(0,1fr)]">
        <div className="overflow-auto border-r border-hair px-5 py-2" tabIndex={0} role="region" aria-label="Summary of the trial">
          <h3 className="text-small text-soft">Service, from and to</h3>
          <table className="w-full"><tbody>{summary.moves.slice(0, 12).map((move) => <tr key={`${move.from} ${move.to}`} className="border-b border-hair/60"><td className="py-1">{name(move.from)} → {name(move.to)}</td><td className="text-right font-semibold">{count(move.count)}</td><td className={`w-20 text-right ${move.cost > 0 ? 'text-lost' : 'text-done'}`}>{signed(move.cost)}</td></tr>)}</tbody></table>
          <h3 className="mt-3 text-small text-soft">Decisions that differ</h3>
          <table className="w-full"><tbody>{Object.entries(summary.byDecision).sort((a, b) => b[1] - a[1]).map(([decision, n]) => <tr key={decision} className="border-b border-hair/60"><td className="py-1">{decision === 'quote' ? 'service, cost or arrival' : decision === 'parcel' ? 'parcel' : (decisionById.get(decision)?.name ?? decision)}</td><td className="text-right font-semibold">{count(n)}</td></tr>)}</tbody></table>
          <h3 className="mt-3 text-small text-soft">Country</h3>
          <table className="w-full"><tbody>{Object.entries(summary.byCountry).sort((a, b) => b[1].count - a[1].count).slice(0, 10).map(([country, { count: n, cost }]) => <tr key={country} className="border-b border-hair/60"><td className="py-1">{country || 'unknown'}</td><td className="text-right font-semibold">{count(n)}</td><td className={`w-20 text-right ${cost > 0 ? 'text-lost' : 'text-done'}`}>{signed(cost)}</td></tr>)}</tbody></table>
        </div>
        <div className="overflow-auto" tabIndex={0} role="region" aria-label="Orders that change">
          <table className="w-full">
            <thead className="sticky top-0 bg-sheet"><tr className="border-b border-hair text-small text-soft"><th className="px-3 py-1">Order</th><th>To</th><th>Service before</th><th>after</th><th className="text-right">€ before</th><th className="text-right">after</th><th className="px-3 text-right">difference</th><th>Arrives before</th><th>after</th><th>What differs</th></tr></thead>
            <tbody>
              {sorted.slice(0, 400).map((change) => (
                <tr key={change.id} className="border-b border-hair/60">
                  <td className="px-3 py-1"><Link href={`/desk?order=${change.id}&q=${encodeURIComponent(change.number)}`} className="font-mono text-small text-act underline decoration-hair underline-offset-4">{change.number}</Link></td>
                  <td>{change.country}</td><td>{name(change.before.service)}</td><td className={change.before.service === change.after.service ? '' : 'font-semibold'}>{name(change.after.service)}</td>
                  <td className="text-right">{amount(change.before.cost)}</td><td className="text-right">{amount(change.after.cost)}</td><td className={`px-3 text-right ${difference(change) > 0 ? 'text-lost' : difference(change) < 0 ? 'text-done' : 'text-soft'}`}>{signed(difference(change))}</td>
                  <td>{shortDay(change.before.arrivesOn)}</td><td>{shortDay(change.after.arrivesOn)}{change.after.late && <b className="ml-1 text-lost">late</b>}</td>
                  <td className="text-small text-soft">{change.after.state !== change.before.state && <span className="text-wait">{change.after.state === 'attention' ? 'needs attention ' : `${change.after.state} `}</span>}{change.decisions.filter((decision) => decision !== 'quote').map((decision) => decisionById.get(decision)?.name ?? decision).join(', ')}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {sorted.length > 400 && <p className="p-3 text-soft">The first 400; all of them are in the file.</p>}
        </div>
      </div>
    </section>
  )
}

const difference = ({ before, after }: TrialChange): number => (before.cost === null || after.cost === null ? 0 : after.cost - before.cost)
const signed = (minor: number): string => (minor === 0 ? '0.00' : `${minor > 0 ? '+' : '−'}${euros(Math.abs(minor)).replace(' €', '')}`)

function download(changes: readonly TrialChange[]): void {
  const head = ['order', 'channel', 'country', 'service before', 'service after', 'cost before', 'cost after', 'arrives before', 'arrives after', 'late after', 'state before', 'state after', 'differs']
  // A cell that begins like a formula is kept as text by the apostrophe that spreadsheets understand.
  const cell = (value: unknown): string => { const text = String(value ?? ''); return `"${(/^[=+\-@]/.test(text) ? `'${text}` : text).replace(/"/g, '""')}"` }
  const money = (minor: number | null): string => (minor === null ? '' : (minor / 100).toFixed(2))
  const rows = changes.map(({ number, channel, country, before, after, decisions }) => [number, channel, country, before.service, after.service, money(before.cost), money(after.cost), before.arrivesOn, after.arrivesOn, after.late ? 'yes' : 'no', before.state, after.state, decisions.join(' ')])
  const url = URL.createObjectURL(new Blob([[head, ...rows].map((row) => row.map(cell).join(',')).join('\r\n')], { type: 'text/csv' }))
  const link = document.createElement('a')
  link.href = url
  link.download = 'trial.csv'
  link.click()
  URL.revokeObjectURL(url)
}
