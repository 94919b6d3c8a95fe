import { createHash } from 'node:crypto'
import Sftp, { type FileInfo } from 'ssh2-sftp-client'
import { z } from 'zod'
import { asked } from './connections/kind'
import { failure, forbidden, lookedUp, type CallFailure, type CallResult, type Outside } from './http'

/** A folder at an SFTP server, and who may open it. */
export interface SftpPlace {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string
  readonly hostKey: string
  readonly folder: string
}

/** The settings of any kind that speaks SFTP; the port is a text, and empty for the usual one. */
export const sftpSettings = {
  host: asked(
    z
      .string()
      .trim()
      .regex(/^[a-z0-9.:-]{1,250}$/i, 'Enter the name of the server, such as sftp.example.'),
    { label: 'Server' },
  ),
  port: asked(
    z
      .string()
      .trim()
      .refine((text) => /^\d{0,5}$/.test(text) && Number(text) < 65_536, 'A port is a number up to 65,535.'),
    { label: 'Port', help: 'Empty: 22.' },
  ),
  user: asked(z.string().trim().min(1, 'Enter the user that was given to you.').max(100), { label: 'User' }),
  password: asked(z.string().min(1, 'Enter the password of the user.').max(500), { label: 'Password', secret: true }),
  hostKey: asked(
    z
      .string()
      .trim()
      .regex(/^SHA256:[A-Za-z0-9+/]{43}$/, 'Enter the fingerprint of its host key: SHA256: and 43 signs.'),
    { label: 'Fingerprint of its host key', help: 'Ask whoever runs it. Gharry calls no server with another key.' },
  ),
}

/** The setting of the folder, with what is said about it. */
export const folderSetting = (help: string) =>
  asked(
    z
      .string()
      .trim()
      .max(300)
      .regex(/^[^\0]*$/, 'This is no name of a folder.'),
    { label: 'Folder', help },
  )

export const portOf = (text: string): number => Number(text) || 22

/** Larger files are not fetched. */
export const largestFile = 20_000_000
/** A file that was changed within this time may still be written. */
const restMs = 3000

class Said extends Error {
  constructor(readonly failed: CallFailure) {
    super(failed.sentence)
  }
}

/** Work in a folder at an SFTP server; its paths are those of the folder. */
export interface SftpFolder {
  /** The files of a room that are complete as far as can be seen, the oldest first. */
  readonly files: (room: string, wanted: RegExp) => Promise<readonly FileInfo[]>
  /** Null when it is too large. A file that is cut short while it is fetched fails, and is fetched again. */
  readonly content: (room: string, file: FileInfo) => Promise<Buffer | null>
  /** A file is there whole, or not at all: written under another name, and named when it is complete. */
  readonly put: (room: string, name: string, content: string | Buffer) => Promise<void>
  /** Moves a file into another room; one of the same name that is there keeps it, this one is named by the moment. */
  readonly move: (room: string, name: string, to: string) => Promise<void>
}

/** Each call is a connection of its own. The server must have the host key that it had when it was set up. */
export const sftpCaller =
  (place: SftpPlace, outside: Outside, missing: string) =>
  <T>(work: (folder: SftpFolder) => Promise<T>): Promise<CallResult<T>> =>
    connectedSftp(place, outside, missing, outside.timeoutMs * 4, (sftp, path) => work(folderOf(sftp, path)))

/**
 * Work at an SFTP server within so much time, on a connection of its own. `path` names what is in the folder. `missing`
 * says what to do where the folder is not there.
 */
export async function connectedSftp<T>(
  place: SftpPlace,
  outside: Outside,
  missing: string,
  withinMs: number,
  work: (sftp: Sftp, path: (...parts: string[]) => string) => Promise<T>,
): Promise<CallResult<T>> {
  const folder = place.folder.endsWith('/') ? place.folder.slice(0, -1) : place.folder
  // Without a folder it is where the user lands.
  const path = (...parts: string[]): string => [folder, ...parts].filter(Boolean).join('/')
  const sftp = new Sftp()
  let otherKey: string | undefined
  try {
    const host = await lookedUp(place.host, outside)
    if (host === null) throw new Said(failure('not allowed', forbidden))
    await sftp.connect({
      host,
      port: place.port,
      username: place.user,
      password: place.password,
      readyTimeout: outside.timeoutMs,
      retries: 0,
      hostVerifier: (key: Buffer) => {
        const seen = fingerprintOf(key)
        if (seen === place.hostKey) return true
        otherKey = seen
        return false
      },
    })
    return { ok: true, body: await within(withinMs, work(sftp, path)) }
  } catch (error) {
    return otherKey === undefined ? failed(error, missing) : failure('not allowed', keySentence(otherKey))
  } finally {
    await sftp.end().catch(() => undefined)
  }
}

function folderOf(sftp: Sftp, path: (...parts: string[]) => string): SftpFolder {
  return {
    files: async (room, wanted) =>
      (await sftp.list(path(room)))
        .filter(({ type, name }) => type === '-' && wanted.test(name) && !name.startsWith('.'))
        .filter(({ modifyTime }) => Date.now() - modifyTime > restMs)
        .sort((a, b) => a.modifyTime - b.modifyTime || a.name.localeCompare(b.name)),
    content: async (room, { name, size }) => {
      if (size > largestFile) return null
      const content = (await sftp.get(path(room, name))) as Buffer
      if (content.length !== size)
        throw new Said(failure('garbled answer', 'A file came only in part: it is fetched again.'))
      return content
    },
    put: async (room, name, content) => {
      await sftp.mkdir(path(room), true)
      if (await sftp.exists(path(room, name))) return
      const half = path(room, `.${name}.part`)
      await sftp.put(Buffer.from(content), half)
      await sftp.rename(half, path(room, name))
    },
    move: async (room, name, to) => {
      const from = path(room, name)
      if (!(await sftp.exists(from))) return
      await sftp.mkdir(path(to), true)
      const there = await sftp.exists(path(to, name))
      await sftp.rename(from, path(to, there ? `${new Date().toISOString().replace(/[:.]/g, '-')} ${name}` : name))
    },
  }
}

/** As OpenSSH writes it: `SHA256:` and 43 signs of base64. */
export const fingerprintOf = (key: Buffer): string =>
  `SHA256:${createHash('sha256').update(key).digest('base64').slice(0, 43)}`

const keySentence = (seen: string): string =>
  `The server has another host key than was entered (${seen}): ask whose server it is. If its key was changed there, enter the new one.`

async function within<T>(ms: number, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Said(failure('time-out', 'It did not answer in time.'))), ms)
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}

function failed(error: unknown, missing: string): CallFailure {
  if (error instanceof Said) return error.failed
  const { code, message = '' } = error as { code?: string; message?: string }
  if (/authentication/i.test(message)) return failure('not allowed', 'It refuses user or password: enter them again.')
  if (code === 'ERR_TIMED_OUT' || /timed? ?out/i.test(message)) return failure('time-out', 'It did not answer in time.')
  if (code === 'ENOENT' || /no such file/i.test(message)) return failure('refused', missing)
  if (code === 'EACCES' || /permission denied/i.test(message))
    return failure('not allowed', 'The user may not read or write there: give it the right at the server.')
  if (/no space|quota|failure/i.test(message))
    return failure('server error', 'The server could not write: its disk may be full.')
  if (code && /^E(?:CONN|NOTFOUND|HOST|NET|AI)/.test(code)) return failure('unreachable', 'It cannot be reached.')
  return failure('unreachable', 'The connection ended before it was done.')
}
