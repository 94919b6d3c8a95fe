import { openSync, readSync, statSync } from 'node:fs'
import { endianness } from 'node:os'

/*
 * The index of SQLite's log (`-shm`) says how many of its frames count. Its locks are those of this process: they would
 * all be dropped when any handle of the file is closed. So one that was opened once stays open as long as the process.
 */
const handles = new Map<string, number>()

/**
 * The index's head stands there twice, each 48 bytes: it is whole when both are the same (sqlite.org/walformat.html).
 */
const headBytes = 48
const framesAt = 16
const mostTries = 1000

/**
 * How many frames of a database's log count. The caller has the database open, and holds a read transaction.
 * @throws where the index cannot be read
 */
export function framesThatCount(file: string): number {
  const path = `${file}-shm`
  const name = `${path} ${statSync(path).ino}`
  const fd = handles.get(name) ?? openSync(path, 'r')
  handles.set(name, fd)
  const heads = Buffer.alloc(2 * headBytes)
  for (let tries = 0; tries < mostTries; tries++) {
    readSync(fd, heads, 0, heads.length, 0)
    if (!heads.subarray(0, headBytes).equals(heads.subarray(headBytes))) continue
    return endianness() === 'LE' ? heads.readUInt32LE(framesAt) : heads.readUInt32BE(framesAt)
  }
  throw new Error('The index of the log changes all the time.')
}
