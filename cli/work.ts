import { availableParallelism } from 'node:os'
import { takeUpFromDead } from '@/usecases/worker/takeUpFromDead'
import { beginBeating } from '@/usecases/health/beat'
import { tracesAsWanted } from '@/usecases/health/traces'
import { openApplication, type Application, type WorkKind } from '@/usecases/shared/application'
import { receiveLetters } from '@/usecases/tracking/noticeNews'
import { workMessages } from '@/usecases/intake/messages'
import { orderThread } from '@/usecases/intake/orderThread'
import { alarmClock, type AlarmClock } from '@/usecases/worker/alarmClock'
import {
  buyingDone,
  startBuying,
  tellOnce,
  toldTables,
  workBySchedule,
  workImport,
  workOneJob,
} from '@/usecases/worker/work'

const maxThreads = 4

/**
 * The worker: everything that must not be lost is done here, apart from the pages. Any number of restarts is fine.
 * `script` begins a thread for a trial, or for orders that come in.
 */
export async function work(script: URL): Promise<void> {
  let stopping = false
  const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => {
      stopping = true
    })

  /** A full disk, or a folder that is not there yet, is no reason to end: it is tried again, and said why. */
  async function open(): Promise<Application | null> {
    while (!stopping) {
      try {
        return await openApplication()
      } catch (error) {
        console.error(
          `The books cannot be opened (${error instanceof Error ? error.message.split('\n')[0] : 'unknown reason'}); it is tried again in 5 seconds.`,
        )
        await pause(5000)
      }
    }
    return null
  }
  const opened = await open()
  if (!opened) return
  const gharry: Application = {
    ...opened,
    orderThread: orderThread(script, opened.settings.books),
    trialThreads: { script, count: Math.min(maxThreads, availableParallelism()) },
    stopping: () => stopping,
  }

  const alarm = alarmClock(gharry)
  async function loop(
    name: string,
    idleMs: number,
    round: () => Promise<boolean>,
    { kind, tables }: { readonly kind?: WorkKind; readonly tables: readonly string[] },
  ): Promise<void> {
    if (kind && !gharry.settings.work.has(kind)) return
    const sleep = alarm.sleeper(tables)
    while (!stopping) {
      let worked = false
      try {
        // What is begun could not be written down: all that waits goes on later.
        worked = gharry.readOnly() === null && (await round())
      } catch (error) {
        gharry.log.error({ loop: name, err: error }, 'round failed')
      }
      if (!worked && !stopping) await sleep(idleMs)
    }
  }

  await takeUpFromDead(gharry)
  const endTraces = await tracesAsWanted('gharry-worker')
  const loops = [
    // Lanes go on by themselves: this looks where one is to be begun.
    loop('labels', 200, () => startBuying(gharry).then(() => false), { kind: 'buying', tables: ['labels'] }),
    loop('posts, notices', 300, () => tellOnce(gharry), { kind: 'telling', tables: toldTables }),
    // Each by itself: a trial holds up neither an import nor a re-routing.
    loop('messages of channels', 200, () => workMessages(gharry), { kind: 'imports', tables: ['messages'] }),
    // What one channel is waited for is time for the others.
    ...['first', 'second', 'third', 'fourth'].map((lane) =>
      loop(`${lane} lane of imports`, 500, () => workImport(gharry), { kind: 'imports', tables: ['imports'] }),
    ),
    loop('short jobs', 500, () => workOneJob(gharry, true), { kind: 'routing', tables: ['jobs'] }),
    loop('trials', 500, () => workOneJob(gharry, false), { kind: 'trials', tables: ['jobs'] }),
    loop('schedule', 2000, () => keepSchedule(gharry, alarm), { tables: [] }),
  ]

  const bounces = await takeBounces(gharry)
  const stopBeating = await beginBeating(gharry, 'worker')

  gharry.log.info('worker started')
  await Promise.all(loops)
  await buyingDone(gharry)
  await alarm.close()
  await bounces?.close()
  await stopBeating()
  await endTraces()
  await gharry.orderThread?.end()
  await gharry.close()
  gharry.log.info('worker stopped')
}

/** What time brings about is done by one of the workers that share a database. */
async function keepSchedule(gharry: Application, alarm: AlarmClock): Promise<boolean> {
  if (await alarm.elected()) await workBySchedule(gharry)
  return false
}

/** Takes in letters that come back, where the settings say that they do. Another worker may do it already. */
async function takeBounces(gharry: Application): Promise<{ close: () => Promise<void> } | null> {
  const { bounceDomain, bouncePort } = gharry.settings
  if (bounceDomain === '' || bouncePort === 0) return null
  try {
    return await receiveLetters(gharry, bouncePort)
  } catch (error) {
    gharry.log.error({ err: error, port: bouncePort }, 'letters that come back are not taken in here')
    return null
  }
}
