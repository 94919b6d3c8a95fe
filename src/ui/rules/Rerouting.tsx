'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { TrialSummary } from '@/core/rulebook/change'
import type { Rerouting as ReroutingAnswer } from '@/usecases/rules/showRerouting'
import { call } from '../kit/api'
import { count, does, homeMoney, toneOfCost, waitingOrders } from '../kit/format'
import { TrialBody } from './trial/TrialBody'
import { When } from '../kit/When'

/**
 * What the newest re-routing of the waiting orders changed, with the orders behind the number. Nothing when it is
 * older than `since`.
 */
export function Rerouting({ services, since }: { services: Readonly<Record<string, string>>; since: string }) {
  const [open, setOpen] = useState(false)
  const { data } = useQuery({
    queryKey: ['rerouting'],
    queryFn: () => call('GET /api/rules/rerouting').then(({ rerouting }) => rerouting),
    refetchInterval: (query) => (query.state.data?.state === 'queued' ? 500 : 3000),
  })
  if (!data || (data.state !== 'queued' && data.at < since)) return null
  const summary = data.state === 'queued' ? null : data.summary
  return (
    <section
      aria-label="Waiting orders routed again"
      className={`border-b border-hair bg-sheet ${open ? 'flex max-h-[70%] min-h-0 flex-col' : ''}`}
    >
      <p className="flex flex-wrap items-baseline gap-x-4 px-5 py-1.5" role="status">
        <span className="text-soft">{data.cause}.</span>
        <Progress of={data} />
        {summary && summary.changed > 0 && (
          <>
            <Moved summary={summary} />
            <button
              className="min-h-[24px] text-act underline decoration-hair underline-offset-4"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              {open ? 'Close' : 'See them'}
            </button>
          </>
        )}
        {data.state !== 'queued' && (
          <span className="ml-auto text-small text-soft">
            <When at={data.at} />
          </span>
        )}
      </p>
      {open && summary && (
        <TrialBody
          summary={summary}
          changes={data.changes}
          services={services}
          trial={null}
          note={summary.changed > data.changes.length ? `The biggest ${count(data.changes.length)}.` : ''}
        />
      )}
    </section>
  )
}

function Progress({
  of: { state, summary, done, total },
}: {
  of: Pick<ReroutingAnswer, 'state' | 'summary' | 'done' | 'total'>
}) {
  if (state === 'queued')
    return (
      <span className="text-wait">
        Routing the waiting orders again, {count(done)} of {count(total)} …
      </span>
    )
  if (summary && summary.changed > 0) return null
  const n = summary?.orders ?? 0
  return (
    <span>
      {waitingOrders(n)} {n === 1 ? 'was' : 'were'} routed again; none changed.
    </span>
  )
}

/** What changes, or has changed, in numbers. */
export function Moved({ summary, past = true }: { summary: TrialSummary; past?: boolean }) {
  return (
    <>
      <span>
        <b>{count(summary.changed)}</b> of {waitingOrders(summary.orders)}{' '}
        {past ? 'changed' : does(summary.changed, 'change')}
      </span>
      {summary.serviceChanges > 0 && (
        <span>
          <b>{count(summary.serviceChanges)}</b> {does(summary.serviceChanges, 'change')} service
        </span>
      )}
      {summary.costDifference !== 0 && (
        <span className={toneOfCost(summary.costDifference)}>
          <b>{homeMoney(Math.abs(summary.costDifference))}</b> {summary.costDifference > 0 ? 'dearer' : 'saved'}
        </span>
      )}
      {summary.newlyStuck > 0 && (
        <span className="text-wait">
          <b>{count(summary.newlyStuck)}</b> {does(summary.newlyStuck, 'need')} attention
        </span>
      )}
    </>
  )
}
