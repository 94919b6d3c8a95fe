import type { TrialChange, TrialSummary } from '@/core/rulebook/change'
import { changesOf, fromJson, newestJob, type JobRow } from '@/data'
import type { Application } from '../shared/application'

/** The newest re-routing of the waiting orders: how far it is, and what it changed. */
export interface Rerouting {
  readonly id: number
  readonly state: JobRow['state']
  readonly done: number
  readonly total: number
  /** What brought it about. */
  readonly cause: string
  readonly at: string
  readonly summary: TrialSummary | null
  readonly changes: readonly TrialChange[]
}

export async function showRerouting(gharry: Application): Promise<Rerouting | null> {
  const job = await newestJob(gharry.db, 'route again')
  if (!job) return null
  const { cause, edition } = fromJson<{ cause?: string; edition?: number }>(job.payload)
  return {
    id: job.id,
    state: job.state,
    done: job.done,
    total: job.total,
    at: job.sentAt ?? job.madeAt,
    cause: cause ?? (edition ? `Edition ${edition} came into force` : 'The world changed'),
    summary: job.result ? fromJson<TrialSummary>(job.result) : null,
    changes: await changesOf(gharry.db, job.id, 0, 300),
  }
}
