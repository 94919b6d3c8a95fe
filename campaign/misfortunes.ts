import { execFileSync } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Random } from '../demo/random'
import { pause } from './figures'
import type { House } from './house'

/** Something that befalls the machine or the network for some seconds, and is over again. */
export type Misfortune =
  | 'the file is locked'
  | 'the disk is full'
  | 'the clock is wrong'
  | 'the network is cut'
  | 'all connections are cut'
  | 'the database is restarted'

const happens: Readonly<Record<Misfortune, (house: House, random: Random) => Promise<void>>> = {
  // Somebody else holds the right to write, longer than any work of Gharry does.
  'the file is locked': async ({ db }, random) => {
    await db.transaction(() => pause(2000 + random.below(4000)))
  },
  // So much that no room is left but what Gharry leaves alone.
  'the disk is full': async ({ folder, fillBytes }, random) => {
    const file = join(folder, 'somebody-elses.bin')
    execFileSync('fallocate', ['-l', String(fillBytes), file])
    await pause(6000 + random.below(4000))
    rmSync(file)
    await pause(5500)
  },
  // By half an hour, or by a year; then it is right again.
  'the clock is wrong': async ({ clockFile }, random) => {
    writeFileSync(clockFile, String(random.below(2) === 0 ? -30 * 60_000 : 366 * 86_400_000))
    await pause(6000 + random.below(3000))
    writeFileSync(clockFile, '0')
    await pause(5500)
  },
  // Outsides take connections, and say nothing.
  'the network is cut': async (house, random) => {
    const name = (['shop', 'carriers', 'mail'] as const)[random.below(3)]!
    house.signal(name, 'SIGSTOP')
    await pause(2000 + random.below(4000))
    house.signal(name, 'SIGCONT')
  },
  // As when one machine takes over from another: everybody has to connect anew.
  'all connections are cut': async ({ db }) => {
    for (let n = 0; n < 3; n++) {
      await db
        .raw('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database()')
        // The connection that asks is one of them.
        .catch(() => undefined)
      await pause(300)
    }
  },
  'the database is restarted': async ({ restartDatabase }) => {
    restartDatabase?.()
    await pause(500)
  },
}
const ofPostgres: readonly Misfortune[] = ['all connections are cut', 'the database is restarted']

/** What can befall a house. */
export const misfortunesOf = ({ restartDatabase }: House): readonly Misfortune[] =>
  (Object.keys(happens) as Misfortune[]).filter((what) => restartDatabase !== null || !ofPostgres.includes(what))

/** Lets something happen, until it is over. */
export const befall = (what: Misfortune, house: House, random: Random): Promise<void> => happens[what](house, random)
