'use client'
import { count } from '../../kit/format'
import { useAnnounced } from '../../kit/Announcer'
import { Effect } from './Effect'
import type { LiveTrial } from './useTrial'

/** One line that follows the typing: what the draft would change, against the edition in force. */
export function TrialStrip({
  trial,
  edition,
  open,
  onOpen,
}: {
  trial: LiveTrial
  edition: number
  open: boolean
  onOpen: () => void
}) {
  const { material, result, running, failed } = trial
  const announced = useAnnounced<HTMLParagraphElement>()
  if (failed)
    return (
      <p className="border-b border-hair px-5 pb-2 text-lost" role="alert">
        {failed}
      </p>
    )
  if (!material || !result)
    return (
      <p className="border-b border-hair px-5 pb-2 text-soft">
        {material ? 'Trying the draft on real orders …' : 'Fetching orders to try the draft on …'}
      </p>
    )
  const { summary } = result
  const offer = summary.changed > 0 ? 'See them' : 'Try a range of orders'
  const scope = `${count(summary.orders)} orders of the last ${material.days} days${material.available > summary.orders ? ` (the youngest of ${count(material.available)})` : ''}`
  return (
    <div
      className="flex flex-wrap items-baseline gap-x-4 border-b border-hair px-5 pb-2"
      role="status"
      aria-live="off"
      aria-label="Trial of the draft"
    >
      <p ref={announced} className="contents">
        {summary.changed === 0 ? (
          <span className="text-soft">
            The draft decides as edition {edition} does on {scope}.
          </span>
        ) : (
          <Effect summary={summary} scope={scope} />
        )}
      </p>
      <button className="text-act underline decoration-hair underline-offset-4" aria-expanded={open} onClick={onOpen}>
        {open ? 'Close the trial' : offer}
      </button>
      {running !== null && <span className="ml-auto text-small text-soft">trying …</span>}
    </div>
  )
}
