import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { printBatch } from '@/usecases/dispatch/printBatch'
import { openApplication, type Application } from '@/usecases/shared/application'
import { buyingDone, startBuying, tellOnce } from '@/usecases/worker/work'
import { demoCarriers } from '../demo/carriers'
import { queueLabels, readyOrders } from './buying'
import { carrierProcess } from './carrierProcess'
import { slowOutside } from './slowOutside'

/** A morning on the floor, as one. */
export interface FloorFigures {
  readonly labels: number
  readonly posts: number
  readonly notices: number
  readonly printedMegabytes: number
  /** From the first label asked for until all is bought, printed and told. */
  readonly seconds: number
  /** … until the last label was bought, and until the last file was printed. */
  readonly boughtAfter: number
  readonly printedAfter: number
}

const latency = 50
const batchSize = 1000

/**
 * Buys, prints and tells so many orders at once, as worker and server do, against an outside that takes 50 ms for each
 * answer.
 */
export async function benchFloor(count: number): Promise<FloorFigures> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-floor-'))
  const carriers = await carrierProcess(folder)
  const outside = await slowOutside(latency)
  try {
    await carriers.faults(
      demoCarriers.map(({ id }) => id),
      { latencyMs: latency },
    )
    const gharry = await openApplication({
      ...{ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_STANDINS: 'none' },
      ...{ GHARRY_CALL_TIMEOUT_MS: '15000', GHARRY_NOTICE_WAIT_SECONDS: '0', GHARRY_SMTP_CONNECTIONS: '48' },
      GHARRY_SMTP_PORT: outside.smtpPort,
    })
    await readyOrders(gharry, { ...carriers, shop: outside.shop }, Math.ceil(1.6 * count))
    const batches: { readonly id: number; readonly labels: number }[] = []
    for (let queued = 0; queued < count; queued += batchSize) {
      const labels = await queueLabels(gharry, Math.min(batchSize, count - queued))
      batches.push({ id: labels[0]!.batchId!, labels: labels.length })
    }
    const began = performance.now()
    const since = (): number => Math.round((performance.now() - began) / 1000)
    let [bought, printed, boughtAfter, printedAfter, bytes] = [false, false, 0, 0, 0]
    const buying = async (): Promise<void> => {
      await startBuying(gharry)
      await buyingDone(gharry)
      ;[bought, boughtAfter] = [true, since()]
    }
    const printing = async (): Promise<void> => {
      for (const { id, labels } of batches) {
        while (!bought && (await boughtIn(gharry, id)) < labels) await pause(200)
        bytes += await printedBytes(gharry, id, join(folder, `batch-${id}.pdf`))
      }
      ;[printed, printedAfter] = [true, since()]
    }
    const telling = async (): Promise<void> => {
      while ((await tellOnce(gharry)) || !bought || !printed) await pause(20)
    }
    await Promise.all([buying(), printing(), telling()])
    const seconds = since()
    const [row] = (await gharry.db('labels').where({ state: 'bought' }).count({ n: '*' })) as [{ n: number }]
    const left = await gharry.db('posts').where({ state: 'queued' }).first<{ id: number } | undefined>('id')
    if (left) throw new Error('Not all posts were sent.')
    await gharry.close()
    return {
      ...{
        labels: Number(row.n),
        posts: outside.posts(),
        notices: outside.mails(),
        seconds,
        boughtAfter,
        printedAfter,
      },
      printedMegabytes: Math.round(bytes / 1e6),
    }
  } finally {
    outside.close()
    await carriers.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

async function boughtIn(gharry: Application, batchId: number): Promise<number> {
  const [row] = (await gharry.db('labels').where({ batchId, state: 'bought' }).count({ n: '*' })) as [{ n: number }]
  return Number(row.n)
}

/** Slips and labels of a batch as one file; its bytes. */
async function printedBytes(gharry: Application, batch: number, path: string): Promise<number> {
  const file = await printBatch(gharry, batch)
  if (!file || 'code' in file) throw new Error(file?.sentence ?? 'Nothing was printed.')
  await pipeline(file.content, createWriteStream(path))
  return statSync(path).size
}
