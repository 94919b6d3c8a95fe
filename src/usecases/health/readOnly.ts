import type { Logger } from 'pino'
import { diskOf } from '../shared/disk'
import { clockTrust, type Database, databaseClock, workedUntil } from '@/data'

/*
 * When Gharry changes nothing: the disk is almost full, so that what is begun could not be written down; or the
 * machine's clock is wrong, so that labels would be bought for another day and editions come into force at the wrong
 * time. All can be looked at meanwhile, and nothing that waits is lost. Machines that share a database go by its clock.
 */
export interface Guard {
  /** Why nothing is changed now, and what to do; null where all is well. */
  readonly readOnly: () => string | null
  /** What time it is: while the machine's clock is wrong, by the one that nobody can set. */
  readonly now: () => Date
  /** What the clock says that everybody goes by, also while it is wrong. */
  readonly wall: () => Date
  /** Looks at once. */
  readonly look: () => Promise<void>
  readonly end: () => void
}

/** A clock that is set back by more than this is wrong. */
const mostBackMs = 10 * 60_000
/** A machine that sleeps overnight wakes with a clock that is right. */
const mostAheadMs = 26 * 3_600_000
const everyMs = 5000

interface Clocks {
  /** What this machine's clock says. */
  readonly wall: () => number
  /** What the clock says that several machines share; null where there is none. */
  readonly shared: () => Promise<number | null>
  /** One that nobody can set. */
  readonly steady: () => number
  /** Free bytes of a disk. */
  readonly free: (folder: string) => number
}
const clocksHere = (db: Database): Clocks => ({
  wall: Date.now,
  shared: () => databaseClock(db),
  steady: () => performance.now(),
  free: (folder) => diskOf(folder).free,
})

/** Watches disk and clock. `leastFreeBytes` of 0 watches the clock alone. */
export async function openGuard(
  db: Database,
  { dataDir, leastFreeBytes, log }: { readonly dataDir: string; readonly leastFreeBytes: number; readonly log: Logger },
  clocks: Clocks = clocksHere(db),
): Promise<Guard> {
  let disk: string | null = null
  let clock: string | null = null
  /** How far the clock that all machines go by is ahead of this one's. */
  let ahead = 0
  let whose = 'this machine'
  const wallNow = (): number => clocks.wall() + ahead
  await lookAtShared()
  let base = { wall: wallNow(), steady: clocks.steady() }
  await lookAtBooks()
  await look()

  async function lookAtShared(): Promise<void> {
    const shared = await clocks.shared()
    ahead = shared === null ? 0 : shared - clocks.wall()
    if (shared !== null) whose = 'the database'
  }

  /** The books were worked on until a moment: a clock that starts well before it is behind. */
  async function lookAtBooks(): Promise<void> {
    const until = await workedUntil(db)
    if (until !== null && Date.parse(until) - base.wall > mostBackMs)
      base = { wall: Date.parse(until), steady: base.steady }
  }
  function lookAtDisk(): void {
    const free = clocks.free(dataDir)
    // Some more than the least before it goes on: not to and fro.
    const least = disk === null ? leastFreeBytes : leastFreeBytes * 1.2
    disk =
      free < least
        ? `The disk of the data folder has ${Math.floor(free / 1e6)} MB left, and Gharry changes nothing below ${Math.ceil(leastFreeBytes / 1e6)} MB: make room there. It then goes on by itself.`
        : null
  }
  /**
   * What the clock should say by the one that nobody can set, what it says, and why that cannot be; null where it can.
   */
  function clockNow(): {
    readonly wall: number
    readonly steady: number
    readonly expected: number
    readonly wrong: string | null
  } {
    const [wall, steady] = [wallNow(), clocks.steady()]
    const expected = base.wall + steady - base.steady
    const off = wall - expected
    const wrong =
      off >= -mostBackMs && off <= mostAheadMs
        ? null
        : `The clock of ${whose} says ${new Date(wall).toISOString()}, and ${off < 0 ? 'was later' : 'was much earlier'} before: set it right. If it is right now, say so under Set-up, Health.`
    return { wall, steady, expected, wrong }
  }
  async function lookAtClock(): Promise<void> {
    const { wall, steady, wrong } = clockNow()
    const trusted = wrong === null ? null : await clockTrust(db)
    const saidRight = trusted !== null && Math.abs(Date.parse(trusted) + 60_000 - wall) < 120_000
    clock = saidRight ? null : wrong
    if (clock === null) base = { wall, steady }
  }
  async function look(): Promise<void> {
    const before = disk ?? clock
    try {
      if (leastFreeBytes > 0) lookAtDisk()
      await lookAtShared()
      await lookAtClock()
    } catch (error) {
      log.error({ err: error }, 'disk and clock could not be looked at')
    }
    const now = disk ?? clock
    if ((now === null) !== (before === null))
      log.warn({ readOnly: now }, now === null ? 'Gharry changes things again' : 'Gharry changes nothing')
  }
  const timer = setInterval(() => void look(), everyMs)
  timer.unref()
  return {
    // A clock that jumps is seen at once, not at the next look only.
    readOnly: () => disk ?? clock ?? clockNow().wrong,
    now: () => {
      const { wall, expected, wrong } = clockNow()
      return new Date(wrong === null ? wall : expected)
    },
    wall: () => new Date(wallNow()),
    look,
    end: () => clearInterval(timer),
  }
}
