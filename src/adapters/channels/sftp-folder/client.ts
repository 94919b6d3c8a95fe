import { createHash } from 'node:crypto'
import Sftp, { type FileInfo } from 'ssh2-sftp-client'
import { z } from 'zod'
import { failure, forbidden, lookedUp, type CallFailure, type CallResult, type Outside } from '../../http'
import { csvFile } from '../../files/spreadsheet'
import type { ChannelClient, Fulfilment, OrderPage } from '../channel'
import { readable, readOrdersOf } from './files'
import { ublDespatchAdvice } from './ublDespatch'

export interface SftpSettings {
  readonly host: string
  readonly port: number
  readonly user: string
  readonly password: string
  readonly hostKey: string
  readonly folder: string
  readonly seller: string
  readonly answers: 'ubl' | 'csv'
}

/** Larger files are not fetched. */
const largest = 20_000_000
/** A file that was changed within this time may still be written. */
const restMs = 3000

/** Which files were read; they are put away once their orders are in the books. */
const cursorShape = z.object({ read: z.array(z.object({ name: z.string(), good: z.boolean() })) })

class Said extends Error {
  constructor(readonly failed: CallFailure) {
    super(failed.sentence)
  }
}

/**
 * A folder at an SFTP server: `in` holds files of orders, `done` and `refused` those that were read, `out` the despatch
 * advices. Each call is a connection of its own. The server must have the host key that it had when it was set up.
 */
export function sftpClient(settings: SftpSettings, outside: Outside): ChannelClient {
  const folder = settings.folder.endsWith('/') ? settings.folder.slice(0, -1) : settings.folder
  // Without a folder it is where the user lands.
  const path = (...parts: string[]): string => [folder, ...parts].filter(Boolean).join('/')

  async function connected<T>(work: (sftp: Sftp) => Promise<T>): Promise<CallResult<T>> {
    const sftp = new Sftp()
    let otherKey: string | undefined
    try {
      const host = await lookedUp(settings.host, outside)
      if (host === null) throw new Said(failure('not allowed', forbidden))
      await sftp.connect({
        host,
        port: settings.port,
        username: settings.user,
        password: settings.password,
        readyTimeout: outside.timeoutMs,
        retries: 0,
        hostVerifier: (key: Buffer) => {
          const seen = fingerprintOf(key)
          if (seen === settings.hostKey) return true
          otherKey = seen
          return false
        },
      })
      return { ok: true, body: await within(outside.timeoutMs * 4, work(sftp)) }
    } catch (error) {
      return otherKey === undefined ? failed(error) : failure('not allowed', keySentence(otherKey))
    } finally {
      await sftp.end().catch(() => undefined)
    }
  }

  /** A file is there whole, or not at all: written under another name, and named when it is complete. */
  async function put(sftp: Sftp, name: string, content: string | Buffer): Promise<void> {
    await sftp.mkdir(path('out'), true)
    if (await sftp.exists(path('out', name))) return
    const half = path('out', `.${name}.part`)
    await sftp.put(Buffer.from(content), half)
    await sftp.rename(half, path('out', name))
  }
  const tell = (fulfilment: Fulfilment, key: string, withdrawn: boolean): Promise<CallResult<unknown>> =>
    connected((sftp) => {
      const at = new Date()
      return settings.answers === 'ubl'
        ? put(
            sftp,
            `despatch-${key}.xml`,
            ublDespatchAdvice(fulfilment, { id: key, seller: settings.seller, at, withdrawn }),
          )
        : put(sftp, `despatch-${key}.csv`, csvAdvice(fulfilment, withdrawn))
    })

  return {
    fetchOrders: (cursor) => connected((sftp) => fetchPage(sftp, path, cursor)),
    fulfil: (fulfilment, key) => tell(fulfilment, key, false),
    withdraw: (remoteOrder, trackingNumber, key) =>
      tell(
        { remoteOrder, trackingNumber, recipient: 'withdrawn', carrier: '', carrierId: '', trackingUrl: '', lines: [] },
        key,
        true,
      ),
  }
}

/** One file a page, the oldest first; those of the page before are put away. */
async function fetchPage(sftp: Sftp, path: (...parts: string[]) => string, cursor: string): Promise<OrderPage> {
  const parsed = cursorShape.safeParse(cursor === '' ? { read: [] } : JSON.parse(cursor))
  for (const { name, good } of parsed.data?.read ?? []) await putAway(sftp, path, name, good)
  const files = (await sftp.list(path('in')))
    .filter(({ type, name }) => type === '-' && readable.test(name) && !name.startsWith('.'))
    .filter(({ modifyTime }) => Date.now() - modifyTime > restMs)
    .sort((a, b) => a.modifyTime - b.modifyTime || a.name.localeCompare(b.name))
  const [file] = files
  if (!file) return { orders: [], bad: [], cursor: JSON.stringify({ read: [] }), more: false }
  const content = await contentOf(sftp, path('in', file.name), file)
  const read =
    content === null
      ? { orders: [], bad: [{ row: file.name, reason: `The file is larger than ${largest / 1e6} MB: split it.` }] }
      : await readOrdersOf(file.name, content)
  return {
    ...read,
    bad: [...read.bad],
    cursor: JSON.stringify({ read: [{ name: file.name, good: read.orders.length > 0 }] }),
    more: files.length > 1,
  }
}

/** A file of the same name that is there already keeps its name; this one is named by the moment. */
async function putAway(sftp: Sftp, path: (...parts: string[]) => string, name: string, good: boolean): Promise<void> {
  const from = path('in', name)
  if (!(await sftp.exists(from))) return
  const room = good ? 'done' : 'refused'
  await sftp.mkdir(path(room), true)
  const there = await sftp.exists(path(room, name))
  await sftp.rename(from, path(room, there ? `${new Date().toISOString().replace(/[:.]/g, '-')} ${name}` : name))
}

/** Null when it is too large. A file that is cut short while it is fetched fails, and is fetched again. */
async function contentOf(sftp: Sftp, file: string, { size }: FileInfo): Promise<Buffer | null> {
  if (size > largest) return null
  const content = (await sftp.get(file)) as Buffer
  if (content.length !== size)
    throw new Said(failure('garbled answer', 'A file came only in part: it is fetched again.'))
  return content
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

function failed(error: unknown): CallFailure {
  if (error instanceof Said) return error.failed
  const { code, message = '' } = error as { code?: string; message?: string }
  if (/authentication/i.test(message)) return failure('not allowed', 'It refuses user or password: enter them again.')
  if (code === 'ERR_TIMED_OUT' || /timed? ?out/i.test(message)) return failure('time-out', 'It did not answer in time.')
  if (code === 'ENOENT' || /no such file/i.test(message))
    return failure('refused', 'The folder “in” is not there: make it at the server, or correct the folder.')
  if (code === 'EACCES' || /permission denied/i.test(message))
    return failure('not allowed', 'The user may not read or write there: give it the right at the server.')
  if (/no space|quota|failure/i.test(message))
    return failure('server error', 'The server could not write: its disk may be full.')
  if (code && /^E(?:CONN|NOTFOUND|HOST|NET|AI)/.test(code)) return failure('unreachable', 'It cannot be reached.')
  return failure('unreachable', 'The connection ended before it was done.')
}

const adviceColumns = ['order', 'line', 'quantity', 'carrier', 'tracking number', 'link', 'state']
const csvAdvice = (
  { remoteOrder, carrier, trackingNumber, trackingUrl, lines }: Fulfilment,
  withdrawn: boolean,
): Buffer =>
  csvFile(
    adviceColumns,
    (lines.length > 0 ? lines : [{ line: '', quantity: 0 }]).map(({ line, quantity }) => ({
      ...{ order: remoteOrder, line, quantity: String(quantity), carrier, 'tracking number': trackingNumber },
      ...{ link: trackingUrl, state: withdrawn ? 'withdrawn' : 'despatched' },
    })),
  )
