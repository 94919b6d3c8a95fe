'use client'
import { count, euros } from '../../kit/format'
import type { LiveTrial } from './useTrial'

/** One line that follows the typing: what the draft would change, against the edition in force. */
export function TrialStrip({ trial, edition, open, onOpen }: { trial: LiveTrial; edition: number; open: boolean; onOpen: () => void }) {
  const { material, result, running, failed } = trial
  if (failed) return <p className="border-b border-hair px-5 pb-2 text-lost" role="alert">{failed}</p>
  if (!material || !result) return <p className="border-b border-hair px-5 pb-2 text-soft" role="status">{material ? 'Trying the draft on real orders …' : 'Fetching orders to try the draft on …'}</p>
  const { summary } = result
  const scope = `${count(summary.orders)} orders of the last ${material.days} days${material.available > summary.orders ? ` (the youngest of ${count(material.available)})` : ''}`
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 border-b border-hair px-5 pb-2" role="status" aria-label="Trial of the draft">
      {summary.changed === 0 ? <span className="text-soft">The draft decides as edition {edition} does on {scope}.</span> : (
        <>
          <span><b>{count(summary.changed)}</b> of {scope} change</span>
          {summary.serviceChanges > 0 && <span><b>{count(summary.serviceChanges)}</b> change service</span>}
          {summary.costDifference !== 0 && <span className={summary.costDifference > 0 ? 'text-lost' : 'text-done'}><b>{euros(Math.abs(summary.costDifference))}</b> {summary.costDifference > 0 ? 'dearer' : 'saved'}</span>}
          {summary.newlyLate > 0 && <span className="text-lost"><b>{count(summary.newlyLate)}</b> arrive late</span>}
          {summary.noLongerLate > 0 && <span className="text-done"><b>{count(summary.noLongerLate)}</b> no longer late</span>}
          {summary.newlyStuck > 0 && <span className="text-wait"><b>{count(summary.newlyStuck)}</b> need attention</span>}
          {summary.noLongerStuck > 0 && <span className="text-done"><b>{count(summary.noLongerStuck)}</b> no longer need attention</span>}
        </>
      )}
      <button className="text-act underline decoration-hair underline-offset-4" aria-expanded={open} onClick={onOpen}>{open ? 'Close the trial' : summary.changed > 0 ? 'See them' : 'Try a range of orders'}</button>
      <span className="ml-auto text-small text-soft">{running === null ? `${Math.round(result.ms)} ms` : 'trying …'}</span>
    </div>
  )
}
