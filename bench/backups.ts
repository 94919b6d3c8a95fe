import { copyFileSync, mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Database } from '@/data'
import { backupHouse } from '@/usecases/backups/house'
import { inspectHere } from '@/usecases/backups/inspectCopy'
import { nameOfMoment } from '@/usecases/backups/kept'
import { keysToOpen } from '@/usecases/backups/keys'
import { makeBackup } from '@/usecases/backups/oneBackup'
import { chosenBackup, restoreBooks, storedBackups } from '@/usecases/backups/restore'
import { benchIntake } from './intake'

export interface BackupFigures {
  readonly megabytes: number
  readonly sealed: number
  /**
   * Seconds of a whole backup, looked through and sealed, while somebody writes; and the longest that a write took
   * meanwhile.
   */
  readonly backup: number
  readonly longestWriteMs: number
  /** Of a restore, looked through. */
  readonly restore: number
  /** Of copying the file alone, and of what the database itself calls a copy. */
  readonly plainCopy: number
  readonly vacuumInto: number
}

/** A backup of so many orders while others write, and its restore; beside a plain copy of the file. */
export async function benchBackups(count: number): Promise<BackupFigures> {
  let figures: BackupFigures | undefined
  await benchIntake(count, async (db, folder) => {
    figures = await measured(db, folder)
  })
  return figures!
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now()
  await work()
  return Number(((performance.now() - from) / 1000).toFixed(1))
}

async function measured(db: Database, folder: string): Promise<BackupFigures> {
  await db.raw('PRAGMA wal_checkpoint(TRUNCATE)')
  const house = backupHouse({ GHARRY_DATA: folder, GHARRY_BACKUPS: join(folder, 'place') })
  const place = house.place!
  const megabytes = Math.round(statSync(house.books).size / 1e6)
  const plainCopy = await timed(() => Promise.resolve(copyFileSync(house.books, join(folder, 'plain'))))
  const vacuumInto = await timed(() => db.raw('VACUUM INTO ?', [join(folder, 'vacuumed')]))
  let [writing, longestWriteMs] = [true, 0]
  const writer = (async (): Promise<void> => {
    for (let n = 0; writing; n++) {
      const from = performance.now()
      await db('order_log').insert({
        orderId: 1 + (n % 100),
        at: new Date().toISOString(),
        author: 'bench',
        sentence: 'x',
      })
      longestWriteMs = Math.max(longestWriteMs, Math.round(performance.now() - from))
      await new Promise((resolve) => setTimeout(resolve, 2))
    }
  })()
  const made = new Date()
  const backup = nameOfMoment(made)
  const seconds = await timed(() => makeBackup(house, { backup, place, made }))
  writing = false
  await writer
  const elsewhere = join(folder, 'elsewhere')
  mkdirSync(elsewhere)
  writeFileSync(join(elsewhere, 'backup.key'), readFileSync(join(folder, 'backup.key')))
  const there = backupHouse({ GHARRY_DATA: elsewhere })
  const keys = keysToOpen(there)
  const restore = await timed(async () => {
    const chosen = chosenBackup(await storedBackups(there, place, keys, () => undefined), {})
    await restoreBooks(there, { place, chosen, keys, inspect: inspectHere, say: () => undefined })
  })
  const sealed = (await place.parts(backup)).reduce((sum, { bytes }) => sum + bytes, 0)
  return {
    ...{ megabytes, sealed: Math.round(sealed / 1e6), backup: seconds, longestWriteMs },
    ...{ restore, plainCopy, vacuumInto },
  }
}
