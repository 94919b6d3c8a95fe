import { availableParallelism } from 'node:os'
import { openGharry } from '@/usecases/gharry'
import { workBySchedule, workLong, workOnce } from '@/usecases/work'

const mostThreads = 4

/** The worker: everything that must not be lost is done here, apart from the pages. Any number of restarts is fine. `script` begins a thread for a trial. */
export async function work(script: URL): Promise<void> {
  const gharry = { ...(await openGharry()), trialThreads: { script, count: Math.min(mostThreads, availableParallelism()) } }
  let stopping = false
  const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))

  async function loop(name: string, idleMs: number, round: () => Promise<boolean>): Promise<void> {
    while (!stopping) {
      let worked = false
      try {
        worked = await round()
      } catch (error) {
        gharry.log.error({ loop: name, err: error }, 'round failed')
      }
      if (!worked) await pause(idleMs)
    }
  }

  const loops = [
    loop('labels, posts, notices', 300, () => workOnce(gharry)),
    loop('imports, jobs', 500, () => workLong(gharry)),
    loop('schedule', 2000, () => workBySchedule(gharry).then(() => false)),
  ]

  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => {
      stopping = true
      gharry.log.info({ signal }, 'stopping after the work at hand')
    })

  gharry.log.info('worker started')
  await Promise.all(loops)
  await gharry.close()
  gharry.log.info('worker stopped')
}
