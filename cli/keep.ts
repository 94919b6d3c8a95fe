import { existsSync } from 'node:fs'
import { backupHouse } from '@/usecases/backups/house'
import { inspectInThread } from '@/usecases/backups/inspectCopy'
import { backupKeeper, type Keeper } from '@/usecases/backups/keepBackups'
import { makeLog } from '@/usecases/shared/log'

/**
 * The keeper of the backups: any number of restarts is fine, and nobody waits for it. `script` begins a thread that
 * looks through a copy.
 */
export async function keep(script: URL): Promise<void> {
  const log = makeLog(process.env.GHARRY_LOG)
  const house = backupHouse()
  const { place } = house
  let stopping = false
  let wake: () => void = () => undefined
  const pause = (ms: number): Promise<void> =>
    new Promise((resolve) => {
      wake = resolve
      setTimeout(resolve, ms)
    })
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => {
      stopping = true
      wake()
    })
  if (!place) {
    log.warn('no backups are made: GHARRY_BACKUPS is none')
    // It stays, as whoever started it takes an end for a fault.
    while (!stopping) await pause(60_000)
    return
  }
  let keeper: Keeper | null = null
  while (!stopping) {
    // The server or the worker makes the books; until then there is nothing to keep.
    if (!keeper && existsSync(house.books))
      keeper = backupKeeper({ ...house, place }, { now: () => new Date(), log, inspect: inspectInThread(script) })
    await keeper?.look()
    await pause(1000)
  }
  await keeper?.end()
  log.info('keeper of the backups stopped')
}
