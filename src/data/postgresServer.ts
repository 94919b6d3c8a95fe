import type { Knex } from 'knex'
import { BooksProblem } from './booksProblem'

/*
 * What a PostgreSQL server must be, and how it shows that it cannot be reached. Codes are those of appendix A of its
 * documentation, and those of Node for connections.
 */

/** The oldest version that knows all that is asked of it. */
const oldest = 14

interface ServerError {
  readonly code?: string
  readonly name?: string
  readonly message?: string
}

const why: Readonly<Record<string, string>> = {
  '28P01': 'The database refuses the user or the password of its address (GHARRY_DATABASE).',
  '28000': 'The database does not let the user of its address in: see its pg_hba.conf.',
  '3D000': 'There is no database of the name that its address has: make it (createdb), with the encoding UTF8.',
  '42501': 'The user of the database may not make tables there: give it the right to CREATE in the schema.',
  '53100': 'The disk of the database is full.',
  '53300': 'The database has no connection left: raise its max_connections, or run fewer processes.',
  ECONNREFUSED: 'Nothing answers at the address of the database: start it, or correct the address.',
  ENOTFOUND: 'There is no machine of the name that the address of the database has.',
  ETIMEDOUT: 'The machine of the database does not answer.',
}

/** What an error of opening means; the error itself where it means nothing special. */
export function whyNotOpened(error: unknown): unknown {
  const { code, name } = error as ServerError
  const sentence = code === undefined ? undefined : why[code]
  if (sentence !== undefined) return new BooksProblem(sentence)
  return name === 'KnexTimeoutError'
    ? new BooksProblem('The database gives no connection: see whether it runs, and has some left.')
    : error
}

const awayCodes = /^(?:08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND|EHOSTUNREACH)$/

/** Whether an error says that the database cannot be reached now: it is no fault of what was asked. */
export function isAway(error: unknown): boolean {
  const { code = '', name = '', message = '' } = (error ?? {}) as ServerError
  return (
    awayCodes.test(code) ||
    name === 'KnexTimeoutError' ||
    /^(?:Connection terminated|timeout expired|Client has encountered a connection error)/.test(message)
  )
}

/** Whether an error says that the disk of the books is full: nothing was written. */
export const isFull = (error: unknown): boolean => {
  const { code = '' } = (error ?? {}) as ServerError
  return code === '53100' || code === 'SQLITE_FULL' || code === 'ENOSPC'
}

/**
 * Whether an error came from the books, of either database: it is no fault of what was to be written. PostgreSQL's codes
 * begin with a digit, F, H, P or X; Node's, such as EPERM, with an E.
 */
export function isBooksFault(error: unknown): boolean {
  const { code = '' } = (error ?? {}) as ServerError
  return code.startsWith('SQLITE_') || /^[0-9FHPX][0-9A-Z]{4}$/.test(code) || isAway(error)
}

/** Refuses a server that would answer other than Gharry needs. */
export async function checkServer(db: Knex): Promise<void> {
  const { rows } = (await db.raw(
    `SELECT current_setting('server_version_num') AS version, current_setting('server_version') AS name,
       current_setting('server_encoding') AS encoding`,
  )) as { rows: readonly { version: string; name: string; encoding: string }[] }
  const { version, name, encoding } = rows[0]!
  if (Math.floor(Number(version) / 10_000) < oldest)
    throw new BooksProblem(`The database is PostgreSQL ${name}: Gharry needs ${oldest} or newer.`)
  if (encoding !== 'UTF8')
    throw new BooksProblem(
      `The database has the encoding ${encoding}, which does not hold all names: make one with UTF8 (createdb --encoding=UTF8 --template=template0).`,
    )
}
