import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type LabelRow } from '@/data'
import { scanItems } from '@/usecases/dispatch/bench/checkParcel'
import { openParcel } from '@/usecases/dispatch/bench/openParcel'
import { scanAtDoor } from '@/usecases/dispatch/door/scanAtDoor'
import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import { openApplication, type Application } from '@/usecases/shared/application'
import { readyOrders, queueLabels } from './buying'

/** From scan to answer, milliseconds. */
export interface ScanFigures {
  readonly scans: number
  readonly median: number
  readonly p95: number
  readonly most: number
}

/** Many benches at once: each scans twice a second, as fast as hands are. */
export const benchBenches = (benches: number, parcels: number): Promise<ScanFigures> =>
  withLabels(parcels, async (gharry, labels, times) => {
    const lanes = Array.from({ length: benches }, (_, i) => labels.filter((_label, at) => at % benches === i))
    await Promise.all(lanes.map((lane, i) => workBench(gharry, `Bench ${i}`, lane, times)))
  })

/** One lorry after the other, loaded as fast as answers come: to the last parcel, when thousands are on it. */
export const benchDoors = (parcels: number): Promise<ScanFigures> =>
  withLabels(parcels, async (gharry, labels, times) => {
    for (const { id, carrier, location } of labels) {
      const code = `N0000${id}`
      await timed(times, () => scanAtDoor(gharry, { carrier, location, code, container: null }))
    }
  })

/** Bought labels, without a carrier, for scans that are timed. */
async function withLabels(
  parcels: number,
  work: (gharry: Application, labels: readonly LabelRow[], times: number[]) => Promise<void>,
): Promise<ScanFigures> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-benches-'))
  const gharry = await openApplication({
    ...{ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_STANDINS: 'none' },
  })
  try {
    const urls = new Map(
      ['heron', 'corvid', 'northlight', 'skua', 'bramble', 'dray'].map((id) => [id, 'http://127.0.0.1:9']),
    )
    await readyOrders(gharry, { urls, token: 't' }, 3 * parcels)
    const labels = await queueLabels(gharry, parcels)
    await gharry.db('labels').update({ state: 'bought' })
    await gharry
      .db('label_parcels')
      .where({ position: 1 })
      .update({ trackingNumber: gharry.db.raw(`'N0000' || label_id`) })
    const times: number[] = []
    await work(gharry, labels, times)
    times.sort((a, b) => a - b)
    const at = (share: number): number => Number(times[Math.floor(share * (times.length - 1))]!.toFixed(1))
    return { scans: times.length, median: at(0.5), p95: at(0.95), most: at(1) }
  } finally {
    await gharry.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

async function timed<T>(times: number[], work: () => Promise<T>): Promise<T> {
  const began = performance.now()
  const answer = await work()
  times.push(performance.now() - began)
  return answer
}

async function workBench(
  gharry: Application,
  bench: string,
  labels: readonly LabelRow[],
  times: number[],
): Promise<void> {
  const scan = async <T>(work: () => Promise<T>): Promise<T> => {
    await new Promise((resolve) => setTimeout(resolve, 300 + 400 * Math.random()))
    return timed(times, work)
  }
  let keys = 0
  for (const label of labels) {
    const [order] = await gharry.db('orders').where({ id: label.orderId }).select<{ number: string }[]>('number')
    const opened = await scan(() => openParcel(gharry, { bench, code: order!.number, take: false }))
    if (!opened.ok) continue
    for (const { sku, quantity } of (opened.view satisfies BenchView).parcel.lines)
      for (let n = 0; n < Math.min(quantity, 3); n++)
        await scan(() =>
          scanItems(gharry, {
            check: opened.view.check,
            scans: [{ key: `${bench} ${++keys}`, code: sku, typed: null, at: gharry.now().toISOString() }],
          }),
        )
  }
}
