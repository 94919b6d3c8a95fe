import type { Database } from './database'
import type { OutboxRow } from './outbox'

/** Papers of a label that go to the printer of a bench. */
export interface PrintJobRow extends OutboxRow {
  readonly key: string
  readonly bench: string
  readonly labelId: number
  readonly state: 'queued' | 'sent' | 'failed'
}

/** Queues papers for a bench; the same key is one job. */
export async function addPrintJob(
  db: Database,
  job: Pick<PrintJobRow, 'key' | 'bench' | 'labelId'>,
  now: string,
): Promise<void> {
  await db('print_jobs')
    .insert({ ...job, state: 'queued', madeAt: now, nextAt: now })
    .onConflict('key')
    .ignore()
}

/** The newest jobs of a bench, with their orders. */
export const newestPrintJobs = (
  db: Database,
  bench: string,
  most: number,
): Promise<(Pick<PrintJobRow, 'id' | 'state' | 'problem' | 'madeAt'> & { number: string })[]> =>
  db('print_jobs')
    .join('labels', 'labels.id', 'print_jobs.label_id')
    .join('orders', 'orders.id', 'labels.order_id')
    .where('print_jobs.bench', bench)
    .orderBy('print_jobs.id', 'desc')
    .limit(most)
    .select('print_jobs.id', 'print_jobs.state', 'print_jobs.problem', 'print_jobs.made_at', 'orders.number')
