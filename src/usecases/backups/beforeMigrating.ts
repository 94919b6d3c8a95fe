import { existsSync, mkdirSync, rmdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { formOfBooks } from '@/data'
import { restoreMark } from '../shared/restoredBooks'
import type { BackupHouse } from './house'
import { momentOfName, nameOfMoment } from './kept'
import { makeBackup } from './oneBackup'

/** So many copies from before an upgrade are kept. */
const mostKept = 3
/** A process that died while it copied holds nobody up for longer. */
const longestMs = 15 * 60_000

/**
 * Before the form of the books is changed, a sealed copy of them is made on this machine. Where that cannot be done,
 * the books are not opened, and so not changed. Of processes that start at once, one does it and the others wait.
 */
export async function beforeMigrating(house: BackupHouse, now: Date): Promise<void> {
  if (existsSync(join(house.dataDir, restoreMark)))
    throw new Error('A restore was cut off at its last step: run gharry restore --finish.')
  if (!house.place) return
  for (;;) {
    const form = formOfBooks(house.books)
    if (!form?.due) return
    const lock = join(house.dataDir, 'backup-before-upgrade')
    try {
      mkdirSync(lock)
    } catch {
      // Another process is at it.
      if (Date.now() - (statSync(lock, { throwIfNoEntry: false })?.mtimeMs ?? Date.now()) > longestMs) rmdirSync(lock)
      await new Promise((resolve) => setTimeout(resolve, 250))
      continue
    }
    try {
      const made = (await house.local.list()).filter((name) => name.startsWith(`before-after-${form.newest}-`))
      if (!made.some((name) => now.getTime() - momentOfName(name) < longestMs)) await copied(house, form.newest, now)
      return
    } finally {
      rmdirSync(lock)
    }
  }
}

async function copied(house: BackupHouse, newest: string, now: Date): Promise<void> {
  await makeBackup(house, {
    ...{ backup: `before-after-${newest}-${nameOfMoment(now)}`, place: house.local, made: now },
  })
  const all = (await house.local.list()).filter((name) => name.startsWith('before-'))
  all.sort((a, b) => momentOfName(b) - momentOfName(a))
  for (const name of all.slice(mostKept)) await house.local.remove(name)
}
