import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client'
import { listProcesses, queues } from '@/data'
import { readBackupState } from '../backups/backupState'
import { illConnections } from '../intake/connections'
import type { Application } from '../shared/application'
import { diskOf } from '../shared/disk'
import { countWorkers } from './beat'

/*
 * Figures for Prometheus. They are asked for by a machine; people see the same under Set-up, Health.
 */
const registry = new Registry()
collectDefaultMetrics({ register: registry })
const gauge = (name: string, help: string, ...labels: string[]) =>
  new Gauge({ name: `gharry_${name}`, help, labelNames: labels, registers: [registry] })

const due = gauge('work_due', 'Pieces of work that are due and not done.', 'work')
const oldest = gauge('work_oldest_seconds', 'Since when the oldest piece of work is due.', 'work')
const held = gauge('work_held', 'Pieces of work that somebody is at.', 'work')
const failed = gauge('work_failed', 'Pieces of work that were given up in the last 24 hours.', 'work')
const workers = gauge('workers', 'Workers that run.')
const readOnly = gauge('read_only', '1 while nothing is changed.')
const ill = gauge('connections_ill', 'Connections that are ill.')
const free = gauge('disk_free_bytes', 'Free bytes on the disk of the data folder.')
const backup = gauge('backup_age_seconds', 'Seconds since all that was written is in the place of the backups.')
const answers = new Histogram({
  name: 'gharry_answer_seconds',
  help: 'How long calls of the interface took.',
  labelNames: ['call', 'status'],
  buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 1, 5],
  registers: [registry],
})

/** Notes how long a call took, and the kind of its status. */
export const noteAnswer = (call: string, status: number, ms: number): void =>
  answers.observe({ call, status: `${Math.floor(status / 100)}xx` }, ms / 1000)

/** All figures as they are now, in the text form of Prometheus. */
export async function metricsText(gharry: Application): Promise<{ readonly type: string; readonly text: string }> {
  const now = gharry.now()
  const dayAgo = new Date(now.getTime() - 86_400_000).toISOString()
  for (const queue of await queues(gharry.db, now.toISOString(), dayAgo)) {
    const work = { work: queue.table }
    due.set(work, queue.due)
    held.set(work, queue.held)
    failed.set(work, queue.failed)
    oldest.set(work, queue.oldest === null ? 0 : (now.getTime() - Date.parse(queue.oldest)) / 1000)
  }
  workers.set(countWorkers(await listProcesses(gharry.db), now))
  readOnly.set(gharry.readOnly() === null ? 0 : 1)
  ill.set(await illConnections(gharry))
  free.set(diskOf(gharry.settings.dataDir).free)
  const state = readBackupState(gharry.settings.dataDir)
  if (state?.until) backup.set((now.getTime() - Date.parse(state.until)) / 1000)
  return { type: registry.contentType, text: await registry.metrics() }
}
