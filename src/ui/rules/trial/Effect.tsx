import type { TrialSummary } from '@/core/rulebook/change'
import { count, does, homeMoney, orderCount, toneOfCost } from '../../kit/format'

/** What changes for real orders, in parts that stand side by side; `scope` says which orders. */
export function Effect({ summary, scope = orderCount(summary.orders) }: { summary: TrialSummary; scope?: string }) {
  const { changed, serviceChanges, costDifference, newlyLate, noLongerLate, newlyStuck, noLongerStuck } = summary
  return (
    <>
      <span>
        <b>{count(changed)}</b> of {scope} {does(changed, 'change')}
      </span>
      {serviceChanges > 0 && (
        <span>
          <b>{count(serviceChanges)}</b> {does(serviceChanges, 'change')} service
        </span>
      )}
      {costDifference !== 0 && (
        <span className={toneOfCost(costDifference)}>
          <b>{homeMoney(Math.abs(costDifference))}</b> {costDifference > 0 ? 'dearer' : 'saved'}
        </span>
      )}
      {newlyLate > 0 && (
        <span className="text-lost">
          <b>{count(newlyLate)}</b> {does(newlyLate, 'arrive')} late
        </span>
      )}
      {noLongerLate > 0 && (
        <span className="text-done">
          <b>{count(noLongerLate)}</b> no longer late
        </span>
      )}
      {newlyStuck > 0 && (
        <span className="text-wait">
          <b>{count(newlyStuck)}</b> {does(newlyStuck, 'need')} attention
        </span>
      )}
      {noLongerStuck > 0 && (
        <span className="text-done">
          <b>{count(noLongerStuck)}</b> no longer {does(noLongerStuck, 'need')} attention
        </span>
      )}
    </>
  )
}

/** The same for a change that is not made yet, in one line. */
export function EffectOf({
  what,
  summary,
  failed,
}: {
  what: string
  summary: TrialSummary | null
  failed: string | null
}) {
  if (failed) return <span className="text-lost">{failed}</span>
  if (!summary) return <span className="text-soft">Trying {what} …</span>
  if (summary.changed === 0)
    return (
      <span>
        {what.charAt(0).toUpperCase() + what.slice(1)} changes none of {orderCount(summary.orders)}.
      </span>
    )
  return (
    <span className="inline-flex flex-wrap gap-x-3">
      <Effect summary={summary} />
    </span>
  )
}
