import { nextCutOff } from '@/core/rating'
import {
  batchSummaries,
  countBatches,
  labelsOfBatch,
  namesInBatch,
  parcelsOfLabels,
  waysOfBatches,
  type BatchSummary,
} from '@/data'
import type { Application } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'

/** A batch as the list shows it. */
export interface BatchLine extends BatchSummary {
  readonly locations: readonly string[]
  readonly carriers: readonly string[]
  /**
   * The earliest moment (UTC) by which what is not handed over must be; null when nothing is left, or nothing collects.
   */
  readonly cutOff: string | null
}

export interface BatchView {
  readonly summary: BatchSummary
  readonly labels: readonly {
    readonly id: number
    readonly orderId: number
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

/** Batches, the newest first: so many of how many there are. */
export interface BatchesView {
  readonly batches: readonly BatchLine[]
  readonly pageSize: number
  readonly total: number
}

const pageSize = 50

/** The newest batches behind the first `skip`, with where they leave from, by whom, and until when. */
export async function showBatches(gharry: Application, skip = 0): Promise<BatchesView> {
  const batches = await batchSummaries(gharry.db, { most: pageSize, skip })
  const ways = await waysOfBatches(
    gharry.db,
    batches.map(({ id }) => id),
  )
  const ready = (await rulebookInForce(gharry))?.ready
  const now = gharry.now().getTime()
  const lines = batches.map((batch): BatchLine => {
    const own = ways.filter((way) => way.batch === batch.id)
    const cutOffs = own.flatMap(({ location, service, waiting }) => {
      const from = ready?.world.locations.find(({ id }) => id === location)
      return (waiting && ready && from && nextCutOff(ready.rateBook, service, from, now)) || []
    })
    return {
      ...batch,
      locations: [...new Set(own.map(({ location }) => location))],
      carriers: [...new Set(own.map(({ carrier }) => carrier))],
      cutOff: cutOffs.length > 0 ? new Date(Math.min(...cutOffs)).toISOString() : null,
    }
  })
  return { batches: lines, pageSize, total: await countBatches(gharry.db) }
}

/** One batch with its labels, in print order. */
export async function showBatch(gharry: Application, id: number): Promise<BatchView | null> {
  const [summary] = await batchSummaries(gharry.db, { id })
  if (!summary) return null
  const names = new Map((await namesInBatch(gharry.db, id)).map((row) => [row.id, row]))
  const rows = await labelsOfBatch(gharry.db, id)
  const parcels = await parcelsOfLabels(
    gharry.db,
    rows.map((label) => label.id),
  )
  const labels = rows.map(({ id: labelId, orderId, state, service, quoted, charged, problem, status }) => ({
    id: labelId,
    orderId,
    number: names.get(orderId)?.number ?? '',
    buyer: names.get(orderId)?.buyer ?? '',
    state,
    service,
    quoted,
    charged,
    numbers: (parcels.get(labelId) ?? []).flatMap(({ trackingNumber }) => trackingNumber ?? []),
    problem,
    status,
  }))
  return { summary, labels }
}
