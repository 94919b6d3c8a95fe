import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, normalize } from 'node:path'
import { type BackupPlace, openBytes, openFile, PlaceProblem, Unsealable } from '@/adapters'
import { applyPages, booksAreOpen, knowsForm } from '@/data'
import { forgottenFile } from '../privacy/forget'
import { restoredMark, restoreMark } from '../shared/restoredBooks'
import type { BackupHouse } from './house'
import type { Inspect } from './inspectCopy'
import { momentOfName, nameOfMoment } from './kept'
import { logPartsOf } from './logParts'
import { backupNote, type BackupNote, BackupProblem, booksPart, forgottenPart, notePart, sealedAs } from './oneBackup'

/** A backup that can be restored. */
export interface StoredBackup {
  readonly name: string
  readonly note: BackupNote
  /** The last moment that its log reaches. */
  readonly until: Date
  readonly bytes: number
}

/** What was restored. */
export interface Restored {
  readonly backup: string
  /** The moment of the newest thing in the books that could be told. */
  readonly until: Date
  readonly tables: Readonly<Record<string, number>>
  /** Where the books from before are now; null where there were none. */
  readonly before: string | null
}

/** The whole backups of a place, the oldest first. Those that cannot be opened are told to `odd`. */
export async function storedBackups(
  house: BackupHouse,
  place: BackupPlace,
  keys: readonly Buffer[],
  odd: (sentence: string) => void,
): Promise<StoredBackup[]> {
  const found: StoredBackup[] = []
  const stage = fresh(join(house.dataDir, 'restoring-note'))
  try {
    for (const name of [...(await place.list())].sort((a, b) => momentOfName(a) - momentOfName(b))) {
      const parts = await place.parts(name)
      if (!parts.some((part) => part.name === notePart)) continue
      try {
        await place.fetch(name, notePart, join(stage, notePart))
        const note = backupNote.parse(
          JSON.parse((await openBytes(join(stage, notePart), keys, sealedAs(name, notePart))).toString('utf8')),
        )
        const last = Math.max(
          Date.parse(note.made),
          ...logPartsOf(parts.map((part) => part.name)).map(({ moment }) => moment),
        )
        found.push({ name, note, until: new Date(last), bytes: parts.reduce((sum, { bytes }) => sum + bytes, 0) })
      } catch (error) {
        if (!(error instanceof Unsealable)) throw error
        odd(`${name}: ${error.message}`)
      }
    }
    return found
  } finally {
    rmSync(stage, { recursive: true, force: true })
  }
}

/** A backup that was named, or the one that reaches furthest, or up to a moment. */
export function chosenBackup(
  found: readonly StoredBackup[],
  wanted: { readonly name?: string; readonly at?: Date },
): StoredBackup {
  const fitting = found.filter(
    ({ name, note }) =>
      (wanted.name === undefined || name === wanted.name) &&
      (wanted.at === undefined || Date.parse(note.made) <= wanted.at.getTime()),
  )
  // The one that reaches furthest; of those that reach as far, the newest.
  const reach = ({ until }: StoredBackup): number => Math.min(until.getTime(), wanted.at?.getTime() ?? Infinity)
  const chosen = [...fitting].sort((a, b) => reach(a) - reach(b) || a.note.made.localeCompare(b.note.made)).at(-1)
  if (chosen) return chosen
  if (wanted.name !== undefined && !wanted.at)
    throw new BackupProblem(`There is no whole backup "${wanted.name}": see gharry backups.`)
  throw new BackupProblem(
    found.length === 0
      ? 'There is no backup that can be restored there.'
      : `No backup reaches back to then: the oldest one is of ${found[0]!.note.made}.`,
  )
}

/**
 * Puts the books back as they were, at the end of a backup or at a moment. All is fetched, opened and looked through
 * beside the books before anything of them is touched; what was there before is kept. A run that is cut off is run
 * again.
 */
export async function restoreBooks(
  house: BackupHouse,
  {
    place,
    chosen,
    at,
    keys,
    inspect,
    say,
  }: {
    readonly place: BackupPlace
    readonly chosen: StoredBackup
    readonly at?: Date
    readonly keys: readonly Buffer[]
    readonly inspect: Inspect
    readonly say: (sentence: string) => void
  },
): Promise<Restored> {
  refuseNow(house, chosen)
  const { name, note } = chosen
  const stage = fresh(join(house.dataDir, 'restoring'))
  const sealed = join(stage, 'part')
  const fetched = async (part: string): Promise<string> => {
    await place.fetch(name, part, sealed)
    return sealedAs(name, part)
  }
  const wanted = wantedParts(
    (await place.parts(name)).map((part) => part.name),
    note.made,
    at,
  )
  const books = join(stage, 'gharry.db')
  await openFile(sealed, books, keys, await fetched(booksPart))
  for (const { part, path } of note.files) {
    const to = inside(stage, path)
    mkdirSync(dirname(to), { recursive: true, mode: 0o700 })
    await openFile(sealed, to, keys, await fetched(part))
  }
  say(
    `${name}: the books of ${note.made} are here${wanted.length > 0 ? `, ${wanted.length} parts of what was written since follow` : ''}.`,
  )
  for (const { part } of wanted) {
    const bound = await fetched(part)
    applyPages(books, await openBytes(sealed, keys, bound))
  }
  rmSync(sealed, { force: true })
  await forgottenSince(house, place, keys, stage)
  const until = new Date(wanted.at(-1)?.moment ?? Date.parse(note.made))
  const seen = await inspect(books)
  check(seen, note, wanted.length)
  writeFileSync(
    join(stage, restoredMark),
    JSON.stringify({ backup: name, until: until.toISOString(), restoredAt: new Date().toISOString() }),
    { mode: 0o600 },
  )
  const before = swapIn(house)
  return { backup: name, until, tables: seen.tables, before }
}

/** Why nothing can be restored now. */
function refuseNow(house: BackupHouse, chosen: StoredBackup): void {
  if (unfinishedSwap(house))
    throw new BackupProblem('A restore was cut off at its last step: run gharry restore --finish.')
  if (booksAreOpen(house.books)) throw new BackupProblem('Gharry runs on this data folder: stop it first.')
  if (!knowsForm(chosen.note.migration))
    throw new BackupProblem(
      `This backup is of a newer Gharry (${chosen.note.migration}): install that version, or a later one, and restore with it.`,
    )
}

/** The parts of what was written after the copy, until a moment; none of them may be missing. */
function wantedParts(parts: readonly string[], made: string, at: Date | undefined): ReturnType<typeof logPartsOf> {
  const wanted = logPartsOf(parts).filter(({ moment }) => !at || moment <= at.getTime())
  const missing = wanted.findIndex(({ number }, i) => number !== i + 1)
  if (missing !== -1)
    throw new BackupProblem(
      `Part ${missing + 1} of what was written after the copy is missing: it can be restored until ${new Date(wanted[missing - 1]?.moment ?? Date.parse(made)).toISOString()} with --at.`,
    )
  return wanted
}

/**
 * The newest list of what was forgotten, whichever backup it is beside: with it, nothing that was forgotten comes back.
 */
async function forgottenSince(
  house: BackupHouse,
  place: BackupPlace,
  keys: readonly Buffer[],
  stage: string,
): Promise<void> {
  const lists = existsSync(join(house.dataDir, forgottenFile))
    ? [readFileSync(join(house.dataDir, forgottenFile), 'utf8')]
    : []
  const names = [...(await place.list())].sort((a, b) => momentOfName(b) - momentOfName(a))
  for (const name of names) {
    if (!(await place.parts(name)).some((part) => part.name === forgottenPart)) continue
    const sealed = join(stage, 'forgotten')
    await place.fetch(name, forgottenPart, sealed)
    lists.push((await openBytes(sealed, keys, sealedAs(name, forgottenPart))).toString('utf8'))
    rmSync(sealed)
    break
  }
  const lines = new Set(lists.flatMap((list) => list.split('\n')).filter(Boolean))
  if (lines.size > 0) writeFileSync(join(stage, forgottenFile), [...lines, ''].join('\n'), { mode: 0o600 })
}

function check(seen: Awaited<ReturnType<Inspect>>, note: BackupNote, logs: number): void {
  if (seen.damage.length > 0)
    throw new BackupProblem(
      `What was restored is damaged (${seen.damage[0]}): take another backup. Nothing was changed.`,
    )
  if (seen.audit.wrong)
    throw new BackupProblem(
      `The audit in it is not as it was written, at line ${seen.audit.wrong.seq}. Nothing was changed.`,
    )
  const differs = Object.entries(note.tables).find(([table, rows]) => seen.tables[table] !== rows)
  if (logs === 0 && differs)
    throw new BackupProblem(
      `${differs[0]} has ${seen.tables[differs[0]] ?? 'no'} rows, not ${differs[1]} as the backup says. Nothing was changed.`,
    )
  if (seen.audit.lines < note.audit.lines)
    throw new BackupProblem('Lines of the audit are missing in it. Nothing was changed.')
}

/** A path within a folder, whatever a note says. */
function inside(folder: string, path: string): string {
  const clean = normalize(path)
  if (clean.startsWith('..') || clean.startsWith('/'))
    throw new BackupProblem(`A file of the backup has an odd path (${path}).`)
  return join(folder, clean)
}

function fresh(folder: string): string {
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  return folder
}

/** What takes the place of what. */
const movable = [
  'gharry.db',
  'gharry.db-wal',
  'gharry.db-shm',
  'key',
  'key.next',
  'key.before',
  'files',
  'old',
  forgottenFile,
  restoredMark,
] as const
interface Swap {
  readonly before: string
}
const unfinishedSwap = (house: BackupHouse): Swap | null =>
  existsSync(join(house.dataDir, restoreMark))
    ? (JSON.parse(readFileSync(join(house.dataDir, restoreMark), 'utf8')) as Swap)
    : null

/** The last step, by renaming: it says what it does before, so that it can be gone on with. */
function swapIn(house: BackupHouse): string | null {
  const before = join(house.dataDir, `before-restore-${nameOfMoment(new Date())}`)
  writeFileSync(join(house.dataDir, restoreMark), JSON.stringify({ before } satisfies Swap), {
    mode: 0o600,
    flush: true,
  })
  return finishRestore(house)
}

/** Goes on with the last step of a restore that was cut off; null when there is none, or nothing was there before. */
export function finishRestore(house: BackupHouse): string | null {
  const swap = unfinishedSwap(house)
  if (!swap) return null
  const stage = join(house.dataDir, 'restoring')
  const had = existsSync(house.books) || existsSync(join(swap.before, 'gharry.db'))
  mkdirSync(swap.before, { recursive: true, mode: 0o700 })
  // Away first, all of it; what is there already was moved by the run before.
  const away = join(swap.before, 'moved')
  if (!existsSync(away)) {
    for (const name of movable)
      if (existsSync(join(house.dataDir, name)) && !existsSync(join(swap.before, name)))
        renameSync(join(house.dataDir, name), join(swap.before, name))
    writeFileSync(away, '', { flush: true })
  }
  for (const name of movable)
    if (existsSync(join(stage, name))) {
      rmSync(join(house.dataDir, name), { recursive: true, force: true })
      renameSync(join(stage, name), join(house.dataDir, name))
    }
  // A key of credentials that the backup does not have comes from the environment: the folder's own stays.
  for (const name of ['key', 'key.before'])
    if (!existsSync(join(house.dataDir, name)) && existsSync(join(swap.before, name)))
      copyFileSync(join(swap.before, name), join(house.dataDir, name))
  rmSync(stage, { recursive: true, force: true })
  rmSync(join(house.dataDir, restoreMark))
  return had ? swap.before : null
}

/** What is said of an error of a place or a part; others are thrown on. */
export function problemOf(error: unknown): string {
  if (error instanceof BackupProblem || error instanceof PlaceProblem || error instanceof Unsealable)
    return error.message
  throw error
}
