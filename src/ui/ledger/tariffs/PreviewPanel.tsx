'use client'
import type { TariffPreview } from '@/usecases/ledger/tariffs'
import { useState } from 'react'
import { Button } from '../../kit/Button'
import { count, homeMoney, signOf, toneOfCost } from '../../kit/format'
import { TrialBody } from '../../rules/trial/TrialBody'
import { LedgerHead } from '../LedgerHead'

/** What taking a file of tariffs would change, before it counts. */
export function PreviewPanel({
  file,
  preview,
  services,
  onTake,
  onCancel,
}: {
  file: File
  preview: TariffPreview
  services: Readonly<Record<string, string>>
  onTake: () => Promise<unknown>
  onCancel: () => void
}) {
  const { problems, findings, differences, effect } = preview
  const [busy, setBusy] = useState(false)
  const blocked = problems.length > 0 || findings.some(({ severity }) => severity === 'error')
  const name = (service: string): string => services[service] ?? service
  const cost = effect?.summary.costDifference ?? 0
  return (
    <div className="flex h-full flex-col">
      <LedgerHead
        at="tariffs"
        about={
          <>
            <b className="text-ink">{file.name}</b>, not taken yet
          </>
        }
      >
        <Button onClick={onCancel}>Put it away</Button>
        {!blocked && differences.length > 0 && (
          <Button
            kind="filled"
            calls="PUT /api/ledger/tariffs/file"
            disabled={busy}
            onClick={() => {
              setBusy(true)
              void onTake().finally(() => setBusy(false))
            }}
          >
            {busy
              ? 'Taking it …'
              : `Take ${count(differences.length)} ${differences.length === 1 ? 'change' : 'changes'}`}
          </Button>
        )}
      </LedgerHead>
      {problems.length > 0 && (
        <section
          className="mx-5 mb-3 max-h-[45%] overflow-auto bg-lost-soft"
          tabIndex={0}
          aria-label="What cannot be read"
          role="region"
        >
          <p className="px-3 py-2 font-semibold text-lost">
            {count(problems.length)} {problems.length === 1 ? 'cell' : 'cells'} cannot be read. Correct the file and
            choose it again; nothing is changed.
          </p>
          <table className="w-full">
            <thead>
              <tr className="border-b border-hair text-small text-soft">
                <th className="px-3">Line</th>
                <th>Column</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              {problems.map((problem, i) => (
                <tr key={i} className="border-b border-hair/60">
                  <td className="px-3 py-1">{problem.line}</td>
                  <td>{problem.column}</td>
                  <td>{problem.sentence}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {findings.length > 0 && (
        <ul className="mx-5 mb-3 max-h-32 overflow-auto" tabIndex={0} aria-label="What is doubtful">
          {findings.map((finding, i) => (
            <li key={i} className={finding.severity === 'error' ? 'text-lost' : 'text-wait'}>
              {finding.severity === 'error' ? '✕' : '△'} {name(finding.service)} from {finding.from}
              {finding.zone && `, zone ${finding.zone}`}: {finding.sentence}
            </li>
          ))}
        </ul>
      )}
      {!blocked && (
        <div className="panes max-h-[40%] min-h-40 [--panes:1fr_250px] gap-5 overflow-hidden px-5 pb-3">
          <div className="overflow-auto" tabIndex={0} role="region" aria-label="What differs">
            {differences.length === 0 ? (
              <p className="text-soft">The file says what holds already: there is nothing to take.</p>
            ) : (
              <table className="w-full bg-sheet">
                <thead className="sticky top-0 bg-sheet">
                  <tr className="border-y border-hair text-small text-soft">
                    <th className="px-3 py-1">Service</th>
                    <th>from</th>
                    <th>What</th>
                    <th className="text-right">Before</th>
                    <th className="pl-4 text-right">After</th>
                    <th className="pl-4 pr-3 text-right">by</th>
                  </tr>
                </thead>
                <tbody>
                  {differences.slice(0, 400).map((difference, i) => (
                    <tr key={i} className="border-b border-hair/60">
                      <td className="px-3 py-1">{name(difference.service)}</td>
                      <td>{difference.from}</td>
                      <td>{difference.what}</td>
                      <td className="text-right text-soft">{difference.before || 'new'}</td>
                      <td className="pl-4 text-right font-semibold">{difference.after || 'gone'}</td>
                      <td className="pl-4 pr-3 text-right">{share(difference.before, difference.after)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {differences.length > 400 && <p className="p-2 text-soft">and {count(differences.length - 400)} more</p>}
          </div>
          {effect && (
            <dl className="self-start border-l border-hair pl-5">
              <dt className="text-small text-soft">
                {count(effect.summary.orders)} orders of the last 30 days would cost
              </dt>
              <dd className={`text-title ${toneOfCost(cost)}`}>
                {signOf(cost)}
                {homeMoney(Math.abs(cost))}
              </dd>
              <dt className="mt-1 text-small text-soft">change service</dt>
              <dd className="font-semibold">{count(effect.summary.serviceChanges)}</dd>
              <dt className="mt-1 text-small text-soft">by line of cost</dt>
              <dd>
                {Object.entries(effect.summary.lines)
                  .filter(([, minor]) => minor !== 0)
                  .map(([what, minor]) => (
                    <span key={what} className="flex justify-between">
                      <span>{what}</span>
                      <span>
                        {minor > 0 ? '+' : '−'}
                        {homeMoney(Math.abs(minor))}
                      </span>
                    </span>
                  ))}
              </dd>
            </dl>
          )}
        </div>
      )}
      {effect && effect.changes.length > 0 && (
        <div className="flex min-h-0 flex-1 flex-col border-t border-hair bg-sheet">
          <TrialBody
            summary={effect.summary}
            changes={effect.changes}
            services={services}
            trial={null}
            note=""
            looks={false}
          />
        </div>
      )}
    </div>
  )
}

/** By how many per cent an amount moves; empty where it is no amount. */
function share(before: string, after: string): string {
  const [a, b] = [Number(before), Number(after)]
  return before === '' || after === '' || Number.isNaN(a) || Number.isNaN(b) || a === 0
    ? ''
    : `${b >= a ? '+' : '−'}${Math.abs(((b - a) / a) * 100).toFixed(1)} %`
}
