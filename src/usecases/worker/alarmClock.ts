import { hearWork } from '@/data'
import type { Application } from '../shared/application'

/** Where new work is told, one looks less often by oneself: for what waited for another try, and has waited long enough. */
const longerWhenTold = 4

/** Wakes the loops of a worker when there is work for them, and says whether this worker keeps the schedule. */
export interface AlarmClock {
  /** Until so much time has gone by, or new work of these tables is told. */
  readonly sleep: (ms: number, tables: readonly string[]) => Promise<void>
  readonly elected: () => Promise<boolean>
  readonly close: () => Promise<void>
}

/** Listens for the new work of all loops. */
export function alarmClock(gharry: Application): AlarmClock {
  const sleepers = new Set<{ readonly tables: readonly string[]; readonly wake: () => void }>()
  // What was told while a loop was at work: it does not go to sleep on it.
  const missed = new Set<string>()
  const bell = hearWork(gharry.db, (table) => {
    let heard = false
    for (const sleeper of sleepers)
      if (sleeper.tables.includes(table)) {
        heard = true
        sleeper.wake()
      }
    if (!heard) missed.add(table)
  })
  return {
    sleep: (ms, tables) =>
      new Promise((resolve) => {
        const wake = (): void => {
          sleepers.delete(sleeper)
          clearTimeout(timer)
          resolve()
        }
        const sleeper = { tables, wake }
        const timer = setTimeout(wake, bell.rings() && tables.length > 0 ? ms * longerWhenTold : ms)
        sleepers.add(sleeper)
        if (tables.some((table) => missed.delete(table))) wake()
      }),
    elected: bell.elected,
    close: bell.close,
  }
}
