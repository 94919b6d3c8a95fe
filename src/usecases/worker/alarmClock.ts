import { hearWork } from '@/data'
import type { Application } from '../shared/application'

/** Where new work is told, one looks less often by oneself: for what waited for another try, and has waited long enough. */
const longerWhenTold = 4

/** Until so much time has gone by, or new work is told. */
export type Sleep = (ms: number) => Promise<void>

/** Wakes the loops of a worker when there is work for them, and says whether this worker keeps the schedule. */
export interface AlarmClock {
  /** For a loop that does the work of these tables. What is told while it is at work wakes it at once. */
  readonly sleeper: (tables: readonly string[]) => Sleep
  readonly elected: () => Promise<boolean>
  readonly close: () => Promise<void>
}

interface Sleeper {
  readonly tables: readonly string[]
  told: boolean
  wake: (() => void) | null
}

/** Listens for the new work of all loops. */
export function alarmClock(gharry: Application): AlarmClock {
  const sleepers: Sleeper[] = []
  const bell = hearWork(gharry.db, (table) => {
    for (const sleeper of sleepers.filter(({ tables }) => tables.includes(table))) {
      sleeper.told = true
      sleeper.wake?.()
    }
  })
  return {
    sleeper: (tables) => {
      const own: Sleeper = { tables, told: false, wake: null }
      sleepers.push(own)
      return (ms) =>
        new Promise((resolve) => {
          const wake = (): void => {
            clearTimeout(timer)
            ;[own.told, own.wake] = [false, null]
            resolve()
          }
          const timer = setTimeout(wake, bell.rings() && tables.length > 0 ? ms * longerWhenTold : ms)
          own.wake = wake
          if (own.told) wake()
        })
    },
    elected: bell.elected,
    close: bell.close,
  }
}
