import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { backupKeyName, type BackupPlace, PlaceProblem, sealBytes } from '@/adapters'
import { followBooks, type Following, pagesToBytes, WalBroken, type WalPlace, type WrittenPages } from '@/data'
import { type BackupState, readBackupState, writeBackupState } from './backupState'
import type { BackupHouse } from './house'
import type { Inspect } from './inspectCopy'
import { keptBackups, momentOfName, nameOfMoment } from './kept'
import { logPartName, logPartsOf } from './logParts'
import { diskOf, writeWhole } from '../shared/disk'
import { forgottenFile } from '../privacy/forget'
import { BackupProblem, forgottenPart, makeBackup, notePart, sealedAs, waitingIn } from './oneBackup'

/*
 * Backups at work: a whole copy every so often, and all that is written from then on, every few seconds. What is
 * written is sealed into the waiting folder first, and goes to the place from there; a place that is away for a while
 * misses nothing.
 */

/** A whole copy, and what is written after it. */
interface Line {
  readonly backup: string
  readonly following: Following
  /** How many parts of the log there are. */
  parts: number
  /** What was written and is in no part yet: each page once. */
  gathered: WrittenPages | null
  /** When a part was written last. */
  sealedAt: number
}
const lineOf = (backup: string, following: Following, parts = 0): Line => ({
  ...{ backup, following, parts, gathered: null, sealedAt: 0 },
})

/** More than this does not wait for a place that is away: then a new copy is made once it is back. */
const mostWaitingBytes = 2_000_000_000
/** A log this long is moved into the books. */
const longestWal = 64_000_000
/** So many pages, 32 MB of the usual ones, are a part by themselves. */
const mostGathered = 8000
/** After a copy that failed, so long until the next try; twice as long each time, up to the longest. */
const firstPauseMs = 4000
const longestPauseMs = 60_000

export interface Keeper {
  /**
   * One look, about every second: what was written is gathered and goes to the place in time, a copy is begun when one
   * is due.
   */
  readonly look: () => Promise<void>
  /** Until a copy that was begun is made. */
  readonly copied: () => Promise<void>
  readonly end: () => Promise<void>
}

/** Keeps the backups of one house; there is one keeper for it. */
export function backupKeeper(
  house: BackupHouse & { readonly place: BackupPlace },
  { now, log, inspect }: { readonly now: () => Date; readonly log: Logger; readonly inspect: Inspect },
): Keeper {
  const waitingRoom = waitingIn(house, '')
  const resumeFile = join(waitingRoom, 'state.json')
  const key = house.key()
  mkdirSync(waitingRoom, { recursive: true, mode: 0o700 })
  let line = goneOn()
  let coming: Promise<void> | null = null
  let comingLine: Line | null = null
  let finished: Line | null = null
  let nextTry = 0
  let failures = 0
  let forgotten = { backup: '', size: 0 }
  const known = readBackupState(house.dataDir)
  const state: { -readonly [K in keyof BackupState]: BackupState[K] } = {
    ...{
      at: now().toISOString(),
      place: house.place.words,
      key: backupKeyName(key),
      until: null,
      waiting: 0,
      problem: null,
    },
    newest: known?.place === house.place.words ? known.newest : null,
  }
  // What a keeper before has left half done is made anew.
  for (const name of readdirSync(waitingRoom))
    if (name !== line?.backup && name !== 'state.json')
      rmSync(join(waitingRoom, name), { recursive: true, force: true })

  /** Goes on where the keeper before stood, when nobody began the log anew meanwhile. */
  function goneOn(): Line | null {
    try {
      const { backup, parts, place } = JSON.parse(readFileSync(resumeFile, 'utf8')) as {
        backup: string
        parts: number
        place: WalPlace
      }
      return lineOf(backup, followBooks(house.books, place), parts)
    } catch {
      return null
    }
  }

  function gather(one: Line, written: WrittenPages): void {
    one.gathered = one.gathered ? { ...written, pages: new Map([...one.gathered.pages, ...written.pages]) } : written
  }
  /** What was gathered becomes a part of the log; from there on a later keeper goes on. */
  async function seal(one: Line): Promise<void> {
    const moment = now()
    one.sealedAt = moment.getTime()
    if (one.gathered) {
      const part = logPartName(one.parts + 1, moment)
      const folder = waitingIn(house, one.backup)
      mkdirSync(folder, { recursive: true, mode: 0o700 })
      writeWhole(join(folder, part), await sealBytes(pagesToBytes(one.gathered), key, sealedAs(one.backup, part)))
      one.parts++
      one.gathered = null
    }
    if (one !== line) return
    const place = one.following.place()
    writeWhole(resumeFile, JSON.stringify({ backup: one.backup, parts: one.parts, place }))
  }
  async function follow(one: Line, atOnce: boolean): Promise<void> {
    if (one.following.walBytes() > longestWal) one.following.shorten((written) => gather(one, written))
    const written = one.following.next()
    if (written) gather(one, written)
    const old = now().getTime() - one.sealedAt >= house.everySeconds * 1000
    if (atOnce || old || (one.gathered?.pages.size ?? 0) > mostGathered) await seal(one)
  }
  const waitingParts = (backup: string): string[] =>
    existsSync(waitingIn(house, backup))
      ? logPartsOf(readdirSync(waitingIn(house, backup))).map(({ part }) => part)
      : []

  /** What buyers asked to be forgotten is beside every backup, so that none brings it back. */
  async function deliverForgotten(): Promise<void> {
    const file = join(house.dataDir, forgottenFile)
    const size = statSync(file, { throwIfNoEntry: false })?.size ?? 0
    if (!line || size === 0 || (forgotten.size === size && forgotten.backup === line.backup)) return
    const folder = waitingIn(house, line.backup)
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const sealed = join(folder, forgottenPart)
    writeWhole(sealed, await sealBytes(readFileSync(file), key, sealedAs(line.backup, forgottenPart)))
    await house.place.take(line.backup, forgottenPart, sealed)
    forgotten = { backup: line.backup, size }
  }

  async function deliver(): Promise<void> {
    await deliverForgotten()
    const lines = [line, comingLine].filter((one) => one !== null)
    for (const { backup } of lines)
      for (const part of waitingParts(backup))
        await house.place.take(backup, part, join(waitingIn(house, backup), part))
  }

  function isDue(): boolean {
    if (coming !== null || now().getTime() < nextTry || !existsSync(house.books)) return false
    return line === null || now().getTime() - momentOfName(line.backup) >= house.everyHours * 3_600_000
  }

  async function copy(): Promise<void> {
    roomFor(house)
    const began = now()
    const backup = nameOfMoment(began)
    const one = lineOf(backup, followBooks(house.books))
    comingLine = one
    try {
      const note = await makeBackup(house, {
        ...{ backup, place: house.place, made: began, inspect },
        copy: one.following.copyTo,
      })
      finished = one
      failures = 0
      const seconds = Math.round((now().getTime() - began.getTime()) / 100) / 10
      state.newest = { name: backup, made: note.made, bytes: note.bytes, seconds }
      log.info({ backup, bytes: note.bytes, seconds }, 'backup made')
      await prune()
    } catch (error) {
      if (finished !== one) {
        comingLine = null
        drop(one)
      }
      throw error
    }
  }
  /** Once a new copy is whole, what is written goes with it. */
  function turnOver(): void {
    if (!finished) return
    if (line) drop(line)
    // Nobody goes on with the one before.
    rmSync(resumeFile, { force: true })
    ;[line, comingLine, finished] = [finished, null, null]
  }
  function drop(one: Line): void {
    one.following.end()
    rmSync(waitingIn(house, one.backup), { recursive: true, force: true })
  }

  /** Only after a good one older ones go; those that never became whole, after a day. */
  async function prune(): Promise<void> {
    const names = await house.place.list()
    const own = names.filter((name) => !name.startsWith('before-'))
    const whole: string[] = []
    for (const name of own) if ((await house.place.parts(name)).some((part) => part.name === notePart)) whole.push(name)
    const kept = keptBackups(whole, now())
    for (const name of own) {
      const unfinished = !whole.includes(name) && now().getTime() - momentOfName(name) < 86_400_000
      if (!kept.has(name) && !unfinished) await house.place.remove(name)
    }
  }

  /** What went wrong is said once, until it is another thing. */
  function failed(error: unknown): void {
    const sentence =
      error instanceof BackupProblem || error instanceof PlaceProblem
        ? error.message
        : 'The backup failed: see the log.'
    if (state.problem !== sentence) log.error({ err: error }, 'a backup failed')
    state.problem = sentence
  }

  async function look(atOnce = false): Promise<void> {
    try {
      const began = now().toISOString()
      turnOver()
      if (isDue())
        coming = copy()
          .catch((error: unknown) => {
            nextTry = now().getTime() + Math.min(longestPauseMs, firstPauseMs * 2 ** failures++)
            failed(error)
          })
          .finally(() => {
            coming = null
          })
      const sealedBefore = line?.sealedAt
      for (const one of [line, comingLine]) if (one) await follow(one, atOnce)
      await deliver()
      if (line && line.sealedAt !== sealedBefore) state.until = began
      if (now().getTime() >= nextTry) state.problem = null
    } catch (error) {
      failed(error)
      lostHold(error)
    }
    state.waiting = [line, comingLine].reduce((sum, one) => sum + (one ? waitingParts(one.backup).length : 0), 0)
    state.at = now().toISOString()
    writeBackupState(house.dataDir, state)
  }
  /** What cannot be followed any more, or waits too long, begins with a new copy. */
  function lostHold(error: unknown): void {
    if (!line) return
    const waiting = waitingParts(line.backup).reduce(
      (sum, part) => sum + statSync(join(waitingIn(house, line!.backup), part)).size,
      0,
    )
    if (!(error instanceof WalBroken) && waiting < mostWaitingBytes) return
    drop(line)
    line = null
    rmSync(resumeFile, { force: true })
  }

  return {
    look: () => look(),
    copied: async () => coming ?? undefined,
    end: async () => {
      await coming
      await look(true)
      line?.following.end()
    },
  }
}

/** A copy needs room beside the books for a moment. */
function roomFor(house: BackupHouse): void {
  const needed = statSync(house.books).size * 1.6 + 50_000_000
  if (diskOf(house.dataDir).free < needed)
    throw new BackupProblem(
      `There is no room for a backup on the disk of the data folder: it needs ${Math.ceil(needed / 1e6)} MB.`,
    )
}
