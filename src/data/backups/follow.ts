import BetterSqlite3, { type Database as Connection } from 'better-sqlite3'
import { framesThatCount } from './walIndex'
import { noWal, readWal, WalBroken, type WalPlace, type WrittenPages } from './walFile'

/*
 * Follows what is written to the books, without any part of it getting lost, while others read and write.
 *
 * A read transaction (a pin) is held at all times. As long as it is, SQLite begins its log anew at most once, and only
 * where all that the pin does not see yet stands in the log that comes after: the pin either keeps the log from being
 * begun anew, or, where all of it is in the file already, keeps what comes after from being moved there. So a new pin
 * is set and all is read before the old one is let go.
 */
export interface Following {
  /** Copies the books as they were when following began. Others go on working meanwhile. */
  readonly copyTo: (file: string) => Promise<void>
  /** What was committed since the last call; null when nothing was. Throws `WalBroken` where it cannot be told. */
  readonly next: () => WrittenPages | null
  /** Lets the log be begun anew, so that it does not grow: what was written till then is given to `take` first. */
  readonly shorten: (take: (written: WrittenPages) => void) => void
  /** Bytes of the log that are read already. */
  readonly walBytes: () => number
  /** Where following stands: it can go on there when nobody began the log anew meanwhile. */
  readonly place: () => WalPlace
  readonly end: () => void
}

/** So many pages are copied between looks at other work. */
const pagesAtOnce = 2000

/**
 * Follows the database in this file, from now on or from where it stood before.
 * @throws WalBroken where it cannot go on there, as the log was begun anew since
 */
export function followBooks(file: string, from?: WalPlace): Following {
  const [writer, source] = [opened(file), opened(file)]
  let [pin, spare] = [pinned(opened(file)), opened(file)]
  let place: WalPlace
  try {
    place = from ? goneOnFrom(file, from) : begin()
  } catch (error) {
    end()
    throw error
  }

  /** The state that is copied, and the place in the log, are one: nobody writes in between. */
  function begin(): WalPlace {
    // The long part is read before others have to wait.
    const soFar = readWal(file, noWal, framesThatCount(file)).place
    return alone(() => {
      pinned(source)
      return readWal(file, soFar, framesThatCount(file)).place
    })
  }
  /** While nobody else may write. */
  function alone<T>(work: () => T): T {
    writer.exec('BEGIN IMMEDIATE')
    try {
      return work()
    } finally {
      writer.exec('ROLLBACK')
    }
  }
  /** Holds what is there now instead of what was there before. */
  function pinAnew(between: () => WrittenPages | null): WrittenPages | null {
    pinned(spare)
    const written = between()
    unpinned(pin)
    ;[pin, spare] = [spare, pin]
    return written
  }
  const next = (): WrittenPages | null =>
    pinAnew(() => {
      const { place: now, written } = readWal(file, place, framesThatCount(file))
      place = now
      return written
    })
  function end(): void {
    for (const connection of [writer, source, pin, spare]) connection.close()
  }
  return {
    copyTo: async (to) => {
      try {
        await source.backup(to, { progress: () => pagesAtOnce })
      } finally {
        unpinned(source)
      }
    },
    next,
    shorten: (take) => {
      const give = (written: WrittenPages | null): void => void (written && take(written))
      give(next())
      alone(() => {
        give(next())
        // All is moved into the file that nobody's older look still needs; then the next writer begins the log anew.
        moveLog(file)
        pinAnew(() => null)
      })
    },
    walBytes: () => place.offset,
    place: () => place,
    end,
  }
}

function goneOnFrom(file: string, from: WalPlace): WalPlace {
  const there = readWal(file, from, framesThatCount(file)).place
  if (from.salts === null || there.salts?.[0] !== from.salts[0])
    throw new WalBroken('The log was begun anew meanwhile.')
  return from
}

/** Moves the log into the file, as far as that can be done at once. */
function moveLog(file: string): void {
  const connection = opened(file)
  try {
    connection.pragma('wal_checkpoint(PASSIVE)')
  } finally {
    connection.close()
  }
}

function opened(file: string): Connection {
  const connection = new BetterSqlite3(file, { fileMustExist: true, timeout: 30_000 })
  // Whoever follows moves nothing by itself.
  connection.pragma('wal_autocheckpoint = 0')
  return connection
}

/** Begins a read transaction: it holds a state of the books once something is read. */
function pinned(connection: Connection): Connection {
  connection.exec('BEGIN')
  connection.prepare('SELECT COUNT(*) FROM sqlite_schema').get()
  return connection
}

function unpinned(connection: Connection): void {
  if (connection.inTransaction) connection.exec('COMMIT')
}
