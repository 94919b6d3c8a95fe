import { batchSummaries, labelsOfBatch, namesInBatch, parcelsOfLabels, type BatchSummary } from '@/data'
import type { Application } from '../shared/application'

export interface BatchView {
  readonly summary: BatchSummary
  readonly labels: readonly {
    readonly id: number
    readonly order_id: number
    readonly number: string
    readonly buyer: string
    readonly state: string
    readonly service: string
    readonly quoted: number
    readonly charged: number | null
    readonly numbers: readonly string[]
    readonly problem: string | null
    readonly status: string | null
  }[]
}

export const showBatches = (gharry: Application): Promise<BatchSummary[]> => batchSummaries(gharry.db)

/** One batch with its labels, in print order. */
export async function showBatch(gharry: Application, id: number): Promise<BatchView | null> {
  const [summary] = await batchSummaries(gharry.db, id)
  if (!summary) return null
  const names = new Map((await namesInBatch(gharry.db, id)).map((row) => [row.id, row]))
  const rows = await labelsOfBatch(gharry.db, id)
  const parcels = await parcelsOfLabels(
    gharry.db,
    rows.map((label) => label.id),
  )
  const labels = rows.map(({ id: labelId, order_id, state, service, quoted, charged, problem, status }) => ({
    id: labelId,
    order_id,
    number: names.get(order_id)?.number ?? '',
    buyer: names.get(order_id)?.buyer ?? '',
    state,
    service,
    quoted,
    charged,
    numbers: (parcels.get(labelId) ?? []).flatMap(({ tracking_number }) => tracking_number ?? []),
    problem,
    status,
  }))
  return { summary, labels }
}
