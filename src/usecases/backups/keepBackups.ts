import { existsSync, statSync } from 'node:fs'
import type { Logger } from 'pino'
import { backupKeyName, type BackupPlace, PlaceProblem } from '@/adapters'
import { WalBroken } from '@/data'
import { type BackupState, readBackupState, writeBackupState } from './backupState'
import type { BackupHouse } from './house'
import type { Inspect } from './inspectCopy'
import { keptBackups, momentOfName, nameOfMoment } from './kept'
import { clearWaiting, forgetLine, type KeptHouse, lineGoneOn, type LogLine, logLine } from './logLine'
import { diskOf } from '../shared/disk'
import { BackupProblem, makeBackup, notePart } from './oneBackup'

/*
 * Backups at work: a whole copy every so often, and all that is written from then on, every few seconds. What is
 * written is sealed into the waiting folder first, and goes to the place from there; a place that is away for a while
 * misses nothing.
 */

/** More than this does not wait for a place that is away: then a new copy is made once it is back. */
const mostWaitingBytes = 2_000_000_000
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
  given: BackupHouse & { readonly place: BackupPlace },
  { now, log, inspect }: { readonly now: () => Date; readonly log: Logger; readonly inspect: Inspect },
): Keeper {
  const house: KeptHouse = { ...given, sealedBy: given.key(), now }
  let line = lineGoneOn(house)
  /** The copy that is being made, its line, and that line once the copy is whole. */
  let coming: Promise<void> | null = null
  let comingLine: LogLine | null = null
  let finished: LogLine | null = null
  let nextTry = 0
  let failures = 0
  const state = stateBefore(house)
  clearWaiting(house, line)

  function isDue(): boolean {
    if (coming !== null || now().getTime() < nextTry || !existsSync(house.books)) return false
    return line === null || now().getTime() - momentOfName(line.backup) >= house.everyHours * 3_600_000
  }

  async function copy(): Promise<void> {
    roomFor(house)
    const began = now()
    const backup = nameOfMoment(began)
    const one = logLine(house, backup)
    comingLine = one
    try {
      const copied = await makeBackup(house, {
        ...{ backup, place: house.place, made: began, inspect },
        copy: one.copyTo,
      })
      finished = one
      failures = 0
      const seconds = Math.round((now().getTime() - began.getTime()) / 100) / 10
      state.newest = { name: backup, made: copied.made, bytes: copied.bytes, seconds }
      log.info({ backup, bytes: copied.bytes, seconds }, 'backup made')
      await removeOld(house)
    } catch (error) {
      if (finished !== one) {
        comingLine = null
        one.drop()
      }
      throw error
    }
  }
  /** Once a new copy is whole, what is written goes with it. */
  function turnOver(): void {
    if (!finished) return
    line?.drop()
    forgetLine(house)
    ;[line, comingLine, finished] = [finished, null, null]
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
      const sealedBefore = line?.sealedAt()
      const lines = [line, comingLine].filter((one) => one !== null)
      for (const one of lines) await one.follow({ atOnce, current: one === line })
      await line?.deliverForgotten()
      for (const one of lines) await one.deliver()
      if (line && line.sealedAt() !== sealedBefore) state.until = began
      if (now().getTime() >= nextTry) state.problem = null
    } catch (error) {
      failed(error)
      lostHold(error)
    }
    state.waiting = [line, comingLine].reduce((sum, one) => sum + (one?.waitingParts() ?? 0), 0)
    state.at = now().toISOString()
    writeBackupState(house.dataDir, state)
  }
  /** What cannot be followed any more, or waits too long, begins with a new copy. */
  function lostHold(error: unknown): void {
    if (!line || (!(error instanceof WalBroken) && line.waitingBytes() < mostWaitingBytes)) return
    line.drop()
    line = null
    forgetLine(house)
  }

  return {
    look: () => look(),
    copied: async () => coming ?? undefined,
    end: async () => {
      await coming
      await look(true)
      line?.end()
    },
  }
}

/** What is said of the backups before the first look: the newest is still there where the place is the same. */
function stateBefore({ dataDir, place, sealedBy, now }: KeptHouse): {
  -readonly [K in keyof BackupState]: BackupState[K]
} {
  const known = readBackupState(dataDir)
  return {
    ...{ at: now().toISOString(), place: place.words, key: backupKeyName(sealedBy) },
    ...{ until: null, waiting: 0, problem: null },
    newest: known?.place === place.words ? known.newest : null,
  }
}

/** Only after a good one older ones go; those that never became whole, after a day. */
async function removeOld({ place, now }: KeptHouse): Promise<void> {
  const own = (await place.list()).filter((name) => !name.startsWith('before-'))
  const whole: string[] = []
  for (const name of own) if ((await place.parts(name)).some((part) => part.name === notePart)) whole.push(name)
  const kept = keptBackups(whole, now())
  for (const name of own) {
    const unfinished = !whole.includes(name) && now().getTime() - momentOfName(name) < 86_400_000
    if (!kept.has(name) && !unfinished) await place.remove(name)
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
