import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Database } from '@/data'
import { openApplication } from '@/usecases/shared/application'
import { buyingDone, startBuying } from '@/usecases/worker/work'
import { demoCarriers } from '../demo/carriers'
import { queueLabels, readyOrders } from './buying'
import { carrierProcess } from './carrierProcess'
import { startCluster } from './cluster'

/** The same work on books of one database. */
export interface EngineFigures {
  readonly engine: string
  /** Orders a second: imported and decided. Labels a second: bought. */
  readonly imported: number
  readonly bought: number
  /** Labels a second that worker processes buy, by how many there are; nothing where there is one alone. */
  readonly workers: readonly number[]
}

const latency = 50

/**
 * Imports and buys on SQLite and on PostgreSQL, both as they are run in earnest (nothing is told as written before it is on
 * the disk), in turns; null where PostgreSQL is not installed.
 */
export async function benchEngines(orders: number, labels: number, rounds: number): Promise<EngineFigures[] | null> {
  const cluster = await startCluster()
  if (!cluster) return null
  const folder = mkdtempSync(join(tmpdir(), 'gharry-engines-'))
  const carriers = await carrierProcess(folder)
  const found: EngineFigures[] = []
  try {
    await carriers.faults(
      demoCarriers.map(({ id }) => id),
      { latencyMs: latency },
    )
    for (let round = 0; round < rounds; round++)
      for (const engine of ['SQLite', 'PostgreSQL']) {
        const env = {
          ...{ GHARRY_DATA: join(folder, `${engine}-${round}`), GHARRY_LOG: 'silent', GHARRY_STANDINS: 'none' },
          ...{ GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_CALL_TIMEOUT_MS: '15000', GHARRY_NOTICE_WAIT_SECONDS: '86400' },
          ...(engine === 'SQLite' ? {} : { GHARRY_DATABASE: cluster.database(`bench_${round}`) }),
        }
        const gharry = await openApplication(env)
        const began = performance.now()
        await readyOrders(gharry, carriers, orders)
        const imported = orders / ((performance.now() - began) / 1000)
        const queued = await queueLabels(gharry, labels)
        const from = performance.now()
        await startBuying(gharry)
        await buyingDone(gharry)
        const bought = queued.length / ((performance.now() - from) / 1000)
        const workers: number[] = []
        for (let n = 1; n <= 2 && engine !== 'SQLite'; n++) {
          const more = await queueLabels(gharry, labels)
          workers.push(Math.round(more.length / (await workersBuy(gharry.db, env, more[0]!.batchId!, n))))
        }
        await gharry.close()
        found.push({ engine, imported: Math.round(imported), bought: Math.round(bought), workers })
      }
    return found
  } finally {
    await carriers.close()
    cluster.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** Seconds from the first label that worker processes have bought until the last of a batch. */
async function workersBuy(
  db: Database,
  env: Readonly<Record<string, string>>,
  batchId: number,
  count: number,
): Promise<number> {
  const left = async (state: string): Promise<number> => {
    const [{ n }] = (await db('labels').where({ batchId, state }).count({ n: '*' })) as [{ n: number }]
    return Number(n)
  }
  const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
  const workers = Array.from({ length: count }, () =>
    spawn('node', ['scripts/run.mjs', 'cli/worker.ts'], {
      env: { ...process.env, ...env, GHARRY_WORK: 'buying', NODE_ENV: 'production' },
      stdio: 'ignore',
    }),
  )
  while ((await left('bought')) === 0) await pause(20)
  const began = performance.now()
  while ((await left('queued')) > 0) await pause(50)
  const seconds = (performance.now() - began) / 1000
  for (const worker of workers) {
    const gone = new Promise((resolve) => worker.once('exit', resolve))
    worker.kill('SIGTERM')
    await gone
  }
  return seconds
}
