import { closeSync, fstatSync, openSync, readSync } from 'node:fs'
import { endianness } from 'node:os'

/** A place in a write-ahead log: after how many bytes, with the running checksum there. */
export interface WalPlace {
  /** The two salts of the log's header; null where there is no log yet. */
  readonly salts: readonly [number, number] | null
  readonly offset: number
  readonly checksum: readonly [number, number]
}

/** What was committed between two places: each page once, as it is at the end, and how many pages the file has then. */
export interface WrittenPages {
  readonly pageSize: number
  readonly pages: ReadonlyMap<number, Buffer>
  readonly fileAtPages: number
}

/** Where a log begins that is not there yet. */
export const noWal: WalPlace = { salts: null, offset: 0, checksum: [0, 0] }

/** What was written can no longer be told: the log was begun anew more than once. */
export class WalBroken extends Error {}

const headerBytes = 32
const frameHeaderBytes = 24
const littleHere = endianness() === 'LE'
/** So much is read at once. */
const chunkBytes = 4_000_000

/**
 * Reads all that was committed to a SQLite database in WAL mode since a place, up to the last commit. The caller holds
 * a read transaction that began no later than `from`, so that the log was begun anew at most once meanwhile.
 *
 * `frames` is how many of the log count, as its index says: a commit whose process died before it said so never
 * happened, though it stands in the file, and the next one is written over it.
 *
 * The format is the one that sqlite.org/fileformat2.html describes under “The Write-Ahead Log”.
 * @throws WalBroken where the log is neither the one of `from` nor the one right after it, or does not go on from there
 */
export function readWal(
  file: string,
  from: WalPlace,
  frames: number,
): { readonly place: WalPlace; readonly written: WrittenPages | null } {
  let fd: number
  try {
    fd = openSync(`${file}-wal`, 'r')
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT' && from.salts === null) return { place: from, written: null }
    throw (error as NodeJS.ErrnoException).code === 'ENOENT' ? new WalBroken('The log is gone.') : error
  }
  try {
    return readOpen(fd, from, frames)
  } finally {
    closeSync(fd)
  }
}

function readOpen(
  fd: number,
  from: WalPlace,
  frames: number,
): { readonly place: WalPlace; readonly written: WrittenPages | null } {
  const size = fstatSync(fd).size
  const header = Buffer.alloc(headerBytes)
  if (size < headerBytes || readSync(fd, header, 0, headerBytes, 0) < headerBytes) {
    if (from.salts === null) return { place: from, written: null }
    throw new WalBroken('The log is gone.')
  }
  const magic = header.readUInt32BE(0)
  const little = magic === 0x377f0682
  if (!little && magic !== 0x377f0683) throw new WalBroken('The log cannot be read.')
  const pageSize = header.readUInt32BE(8)
  const salts = [header.readUInt32BE(16), header.readUInt32BE(20)] as const
  const atHeader = summed(header.subarray(0, 24), [0, 0], little)
  if (atHeader[0] !== header.readUInt32BE(24) || atHeader[1] !== header.readUInt32BE(28))
    return { place: from, written: null }
  const start = startIn(salts, atHeader, from)
  const end = Math.min(size, headerBytes + frames * (frameHeaderBytes + pageSize))
  const reading = framesFrom(fd, end, start, { pageSize, little })
  if (start === from && start.offset < end && reading.place.offset === from.offset)
    throw new WalBroken('What comes next does not go on from what was read.')
  return {
    place: reading.place,
    written: reading.pages.size === 0 ? null : { pageSize, pages: reading.pages, fileAtPages: reading.fileAtPages },
  }
}

function startIn(salts: readonly [number, number], atHeader: readonly [number, number], from: WalPlace): WalPlace {
  if (from.salts?.[0] === salts[0] && from.salts[1] === salts[1]) return from
  // SQLite adds one to the first salt each time that it begins the log anew.
  if (from.salts !== null && (from.salts[0] + 1) >>> 0 !== salts[0])
    throw new WalBroken('The log was begun anew more than once.')
  return { salts, offset: headerBytes, checksum: atHeader }
}

function framesFrom(
  fd: number,
  size: number,
  start: WalPlace,
  { pageSize, little }: { readonly pageSize: number; readonly little: boolean },
): { place: WalPlace; pages: Map<number, Buffer>; fileAtPages: number } {
  const frameBytes = frameHeaderBytes + pageSize
  const pages = new Map<number, Buffer>()
  // What a transaction wrote counts once its commit is read.
  let open = new Map<number, Buffer>()
  let [place, fileAtPages] = [start, 0]
  let { offset, checksum } = start
  const perChunk = Math.max(1, Math.floor(chunkBytes / frameBytes))
  for (;;) {
    const most = Math.min(perChunk, Math.floor((size - offset) / frameBytes))
    if (most <= 0) return { place, pages, fileAtPages }
    const chunk = Buffer.alloc(most * frameBytes)
    const frames = Math.floor(readSync(fd, chunk, 0, chunk.length, offset) / frameBytes)
    for (let i = 0; i < frames; i++) {
      const frame = chunk.subarray(i * frameBytes, (i + 1) * frameBytes)
      const next = summed(frame.subarray(frameHeaderBytes), summed(frame.subarray(0, 8), checksum, little), little)
      const valid =
        frame.readUInt32BE(8) === start.salts![0] &&
        frame.readUInt32BE(12) === start.salts![1] &&
        frame.readUInt32BE(16) === next[0] &&
        frame.readUInt32BE(20) === next[1]
      // The end: what comes after is of an earlier log, or still being written.
      if (!valid) return { place, pages, fileAtPages }
      checksum = next
      offset += frameBytes
      open.set(frame.readUInt32BE(0), frame.subarray(frameHeaderBytes))
      const atCommit = frame.readUInt32BE(4)
      if (atCommit === 0) continue
      for (const [page, content] of open) pages.set(page, content)
      open = new Map()
      fileAtPages = atCommit
      place = { salts: start.salts, offset, checksum }
    }
    if (frames < most) return { place, pages, fileAtPages }
  }
}

/** The running checksum of SQLite's log over 32-bit words, two at a time. */
function summed(data: Buffer, before: readonly [number, number], little: boolean): [number, number] {
  let [a, b] = before
  const words =
    little === littleHere && data.byteOffset % 4 === 0
      ? new Uint32Array(data.buffer, data.byteOffset, data.length / 4)
      : null
  const word = (i: number): number => {
    if (words) return words[i]!
    return little ? data.readUInt32LE(4 * i) : data.readUInt32BE(4 * i)
  }
  for (let i = 0; i < data.length / 4; i += 2) {
    a = (a + word(i) + b) | 0
    b = (b + word(i + 1) + a) | 0
  }
  return [a >>> 0, b >>> 0]
}
