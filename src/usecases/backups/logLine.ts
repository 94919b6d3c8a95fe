import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { basename, join } from 'node:path'
import { type BackupPlace, sealBytes } from '@/adapters'
import { followBooks, pagesToBytes, type WalPlace, type WrittenPages } from '@/data'
import { forgottenFile } from '../privacy/forget'
import { writeWhole } from '../shared/disk'
import type { BackupHouse } from './house'
import { logPartName, logPartsOf } from './logParts'
import { forgottenPart, sealedAs, waitingIn } from './oneBackup'

/** A log this long is moved into the books. */
const longestWal = 64_000_000
/** So many pages, 32 MB of the usual ones, are a part by themselves. */
const mostGathered = 8000

/** The house with the place that its backups go to, the key that seals them, and a clock. */
export interface KeptHouse extends BackupHouse {
  readonly place: BackupPlace
  readonly sealedBy: Buffer
  readonly now: () => Date
}

/** A whole copy, and what is written after it: gathered, sealed into the waiting folder, taken to the place. */
export interface LogLine {
  readonly backup: string
  /** Writes the books as they are now; what is written from here on is what the line gathers. */
  readonly copyTo: (file: string) => Promise<void>
  /**
   * Takes in what was written; it is sealed in time, or when it is much, or at once. From the current line a later
   * keeper goes on.
   */
  readonly follow: (asked: { readonly atOnce: boolean; readonly current: boolean }) => Promise<void>
  /** When a part was sealed last; 0 before. */
  readonly sealedAt: () => number
  /** How many parts wait to be taken to the place, and the bytes of them. */
  readonly waitingParts: () => number
  readonly waitingBytes: () => number
  readonly deliver: () => Promise<void>
  /** What buyers asked to be forgotten is beside every backup, so that none brings it back. */
  readonly deliverForgotten: () => Promise<void>
  readonly end: () => void
  /** Ends it, and throws away what waits. */
  readonly drop: () => void
}

const resumeFile = (house: BackupHouse): string => join(waitingIn(house, ''), 'state.json')

/** The line of the keeper before, where it was; null when there is none, or somebody began the log anew meanwhile. */
export function lineGoneOn(house: KeptHouse): LogLine | null {
  try {
    const { backup, parts, place } = JSON.parse(readFileSync(resumeFile(house), 'utf8')) as {
      backup: string
      parts: number
      place: WalPlace
    }
    return logLine(house, backup, followBooks(house.books, place), parts)
  } catch {
    return null
  }
}

/** No later keeper goes on where this one is. */
export const forgetLine = (house: BackupHouse): void => rmSync(resumeFile(house), { force: true })

/** Throws away what a keeper before has left half done. */
export function clearWaiting(house: BackupHouse, line: LogLine | null): void {
  const room = waitingIn(house, '')
  mkdirSync(room, { recursive: true, mode: 0o700 })
  for (const name of readdirSync(room))
    if (name !== line?.backup && join(room, name) !== resumeFile(house))
      rmSync(join(room, name), { recursive: true, force: true })
}

/** A line that begins with a copy of this name; everything written from now on belongs to it. */
export function logLine(
  house: KeptHouse,
  backup: string,
  following = followBooks(house.books),
  partsBefore = 0,
): LogLine {
  const { place, sealedBy, now } = house
  const folder = waitingIn(house, backup)
  let parts = partsBefore
  /** What was written and is in no part yet: each page once. */
  let gathered: WrittenPages | null = null
  let sealedAt = 0
  let forgottenBytes = 0

  function gather(written: WrittenPages): void {
    gathered = gathered ? { ...written, pages: new Map([...gathered.pages, ...written.pages]) } : written
  }
  async function write(part: string, content: Buffer): Promise<string> {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const file = join(folder, part)
    writeWhole(file, await sealBytes(content, sealedBy, sealedAs(backup, part)))
    return file
  }
  /** What was gathered becomes a part of the log; from there on a later keeper goes on. */
  async function seal(current: boolean): Promise<void> {
    const moment = now()
    sealedAt = moment.getTime()
    if (gathered) {
      await write(logPartName(parts + 1, moment), pagesToBytes(gathered))
      parts++
      gathered = null
    }
    if (current) writeWhole(resumeFile(house), JSON.stringify({ backup, parts, place: following.place() }))
  }
  const waitingFiles = (): string[] =>
    existsSync(folder) ? logPartsOf(readdirSync(folder)).map(({ part }) => join(folder, part)) : []

  return {
    ...{ backup, copyTo: following.copyTo, end: following.end, sealedAt: () => sealedAt },
    follow: async ({ atOnce, current }) => {
      if (following.walBytes() > longestWal) following.shorten(gather)
      const written = following.next()
      if (written) gather(written)
      const old = now().getTime() - sealedAt >= house.everySeconds * 1000
      if (atOnce || old || (gathered?.pages.size ?? 0) > mostGathered) await seal(current)
    },
    waitingParts: () => waitingFiles().length,
    waitingBytes: () => waitingFiles().reduce((sum, file) => sum + statSync(file).size, 0),
    deliver: async () => {
      for (const file of waitingFiles()) await place.take(backup, basename(file), file)
    },
    deliverForgotten: async () => {
      const file = join(house.dataDir, forgottenFile)
      const size = statSync(file, { throwIfNoEntry: false })?.size ?? 0
      if (size === 0 || size === forgottenBytes) return
      await place.take(backup, forgottenPart, await write(forgottenPart, readFileSync(file)))
      forgottenBytes = size
    },
    drop: () => {
      following.end()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
