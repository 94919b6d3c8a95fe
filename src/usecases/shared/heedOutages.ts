import { addJob, jobByKey, newestWorld } from '@/data'
import type { Application } from './application'

/** When an outage has begun or ended, the waiting orders are routed again; for the same one once. */
export async function heedOutages(gharry: Application): Promise<void> {
  const world = (await newestWorld(gharry.db))?.world
  const now = gharry.now().toISOString()
  const passed = (world?.outages ?? []).flatMap(({ id, from, until }) =>
    [
      { id, at: from, cause: 'An outage has begun' },
      { id, at: until, cause: 'An outage has ended' },
    ].filter(({ at }) => at <= now),
  )
  const last = passed.sort((a, b) => a.at.localeCompare(b.at)).at(-1)
  if (!last) return
  const key = `outage-${last.id}-${last.at}`
  // Asked for once: a job takes the place of others that wait.
  if (!(await jobByKey(gharry.db, key)))
    await addJob(gharry.db, 'route again', key, { after: 0, cause: last.cause }, now)
}
