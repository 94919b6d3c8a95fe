import { existsSync, mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { z } from 'zod'
import { type BackupPlace, inFolder, sealBytes, sealFile } from '@/adapters'
import { copyBooks } from '@/data'
import type { BackupHouse } from './house'
import { type Inspect, inspectHere } from './inspectCopy'

/** What a backup says of itself; it is the last part to arrive, so that a backup that has it is whole. */
export const backupNote = z.object({
  format: z.literal(1),
  made: z.iso.datetime(),
  /** The newest step that the form of the books has. */
  migration: z.string(),
  tables: z.record(z.string(), z.number()),
  audit: z.object({ lines: z.number(), head: z.string() }),
  /** Of the books, unsealed. */
  bytes: z.number(),
  files: z.array(z.object({ part: z.string(), path: z.string() })),
})
export type BackupNote = z.output<typeof backupNote>

export const booksPart = 'books.sealed'
export const notePart = 'backup.sealed'
/** What buyers asked to be forgotten, by what channels call their orders. */
export const forgottenPart = 'forgotten.sealed'
/** The name that is bound to a part: of which backup, and which part of it. */
export const sealedAs = (backup: string, part: string): string => `${backup}/${part}`

/** A backup that cannot be made, with what to do about it. */
export class BackupProblem extends Error {}

/** Where parts are before the place has them. */
export const waitingIn = (house: BackupHouse, backup: string): string => join(house.dataDir, 'backups-waiting', backup)

interface ToMake {
  readonly backup: string
  readonly place: BackupPlace
  readonly made: Date
  /** Writes the books; as they are now without it. */
  readonly copy?: (to: string) => Promise<void>
  readonly inspect?: Inspect
}

/**
 * Makes a backup: the books are copied, looked through, sealed, and given to the place with the files of the data
 * folder. Nothing is in the place under this name, or all of it.
 */
export async function makeBackup(house: BackupHouse, toMake: ToMake): Promise<BackupNote> {
  const { backup, place, made } = toMake
  const { copy = (to: string) => copyBooks(house.books, to), inspect = inspectHere } = toMake
  const waiting = waitingIn(house, backup)
  mkdirSync(waiting, { recursive: true, mode: 0o700 })
  const key = house.key()
  const books = join(waiting, 'books.db')
  const give = async (part: string, from: string): Promise<void> => {
    const sealed = join(waiting, part)
    await sealFile(from, sealed, key, sealedAs(backup, part))
    await place.take(backup, part, sealed)
  }
  try {
    await copy(books)
    const seen = await inspect(books)
    if (seen.damage.length > 0)
      throw new BackupProblem(`The books are damaged: ${seen.damage[0]} Stop Gharry, and restore the last good backup.`)
    if (seen.audit.wrong)
      throw new BackupProblem(`The audit is not as it was written, at line ${seen.audit.wrong.seq}: see gharry audit.`)
    await give(booksPart, books)
    const files = filesOf(house).map((path, i) => ({ part: `file-${String(i + 1).padStart(4, '0')}.sealed`, path }))
    for (const { part, path } of files) await give(part, join(house.dataDir, path))
    const note: BackupNote = {
      ...{ format: 1 as const, made: made.toISOString(), migration: seen.migration, tables: { ...seen.tables } },
      audit: { lines: seen.audit.lines, head: seen.audit.head },
      ...{ bytes: statSync(books).size, files },
    }
    const sealed = join(waiting, notePart)
    writeFileSync(sealed, await sealBytes(Buffer.from(JSON.stringify(note)), key, sealedAs(backup, notePart)), {
      mode: 0o600,
    })
    await place.take(backup, notePart, sealed)
    return note
  } finally {
    for (const file of [books, `${books}-wal`, `${books}-shm`, `${books}-journal`]) rmSync(file, { force: true })
  }
}

/** The files that belong to the books: the keys of credentials, what is under way, orders of old months. */
function filesOf({ dataDir }: BackupHouse): string[] {
  const under = ['files', 'old']
    .map((name) => inFolder(dataDir, name))
    .filter((folder) => existsSync(folder))
    .flatMap((folder) =>
      readdirSync(folder, { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile())
        .map((entry) => relative(dataDir, join(entry.parentPath, entry.name))),
    )
  return [...['key', 'key.next', 'key.before'].filter((name) => existsSync(inFolder(dataDir, name))), ...under.sort()]
}
