'use client'
import { useState } from 'react'
import { stringify } from 'csv-stringify/browser/esm/sync'
import { type TrialChange, trialColumns, trialRow } from '@/core/rulebook/change'
import { Button } from '../../kit/Button'
import { count } from '../../kit/format'
import { RangeTrial } from './RangeTrial'
import { TrialBody } from './TrialBody'
import type { TrialResult } from './useTrial'

/** The trial in full: as it is typed, over the youngest orders; or over any range, on the server. */
export function TrialPanel({
  result,
  channels,
  services,
  onClose,
}: {
  result: TrialResult
  channels: readonly { readonly id: string; readonly name: string }[]
  services: Readonly<Record<string, string>>
  onClose: () => void
}) {
  const [range, setRange] = useState(false)
  const tab = (on: boolean, label: string, go: () => void) => (
    <button
      role="tab"
      aria-selected={on}
      onClick={go}
      className={`px-2 py-1 ${on ? 'border-b-2 border-act font-semibold' : 'text-soft hover:text-act'}`}
    >
      {label}
    </button>
  )
  return (
    <section
      aria-label="Trial"
      className="relative z-20 flex min-h-0 flex-1 flex-col overflow-hidden border-b border-hair bg-sheet"
    >
      <header className="flex items-center gap-3 border-b border-hair px-5 py-1.5">
        <h2 className="text-lead">Trial</h2>
        <div role="tablist" aria-label="Which orders" className="flex gap-1">
          {tab(!range, 'Youngest orders, as you type', () => setRange(false))}
          {tab(range, 'A range of orders', () => setRange(true))}
        </div>
        <span className="ml-auto" />
        {!range && <Button onClick={() => download(result.changes)}>Save as CSV</Button>}
        <Button kind="quiet" onClick={onClose}>
          Close the trial
        </Button>
      </header>
      {range ? (
        <RangeTrial channels={channels} services={services} />
      ) : (
        <TrialBody
          summary={result.summary}
          changes={result.changes}
          services={services}
          trial={null}
          note={
            result.changes.length > 400
              ? `The first 400 of ${count(result.changes.length)}; all of them are in the file.`
              : ''
          }
        />
      )}
    </section>
  )
}

function download(changes: readonly TrialChange[]): void {
  const text = stringify(changes.map(trialRow), {
    header: true,
    columns: [...trialColumns],
    escape_formulas: true,
    record_delimiter: 'windows',
  })
  const url = URL.createObjectURL(new Blob([text], { type: 'text/csv' }))
  const link = document.createElement('a')
  link.href = url
  link.download = 'trial.csv'
  link.click()
  URL.revokeObjectURL(url)
}
