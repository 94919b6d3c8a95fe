import { createHash, randomUUID } from 'node:crypto'
import {
  appendFileSync,
  closeSync,
  existsSync,
  openSync,
  readFileSync,
  readSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { buffer } from 'node:stream/consumers'
import {
  csvRows,
  fileFields,
  isArchive,
  maxTableBytes,
  missingFields,
  previewOrderFile,
  readOrderFile,
  sheetAsCsv,
  type FileMapping,
  type FilePreview,
  type FileProblem,
} from '@/adapters'
import type { RawOrder } from '@/core/order'
import { firstZone } from '@/core/world'
import {
  addImport,
  addProblems,
  changeImport,
  channelById,
  clearProblems,
  countUp,
  fromJson,
  handBack,
  importById,
  isBooksFault,
  keepLease,
  LeaseLost,
  rememberedMapping,
  rememberMapping,
  toJson,
  type ImportRow,
} from '@/data'
import type { RefusalCode } from '../shared/refusals'
import { refuse, type Answer, type Application } from '../shared/application'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { makeReady } from './orderThread'
import type { Ready } from './readyOrders'
import { storeOrders } from './storeOrders'
import { writeNewFile } from '../shared/writeNewFile'

/** The fields that a column can give. */
export const fileFieldIds = fileFields.map((field) => field.id)

/** The largest file of orders, in bytes. */
export const largestFile = 500_000_000

const folder = 'files'
const nameOf = (file: string): string => `${folder}/${file}`

/**
 * Keeps an uploaded file and says what its columns seem to mean; nothing is imported yet. A file that cannot be kept
 * whole is not kept.
 */
export async function receiveFile(
  gharry: Application,
  body: AsyncIterable<Buffer>,
): Promise<Answer<{ file: string; preview: FilePreview; channel: string | null }>> {
  const file = `${randomUUID()}.csv`
  const path = gharry.working.path()
  try {
    await writeNewFile(path, body)
    if (statSync(path).size === 0) throw new NotTaken('empty-file', 'The file is empty.')
    await asCsv(path)
    const preview = await previewOrderFile(path).catch((error: unknown) => {
      throw new NotTaken(
        'unreadable-file',
        `The file cannot be read as CSV (${error instanceof Error ? error.message.split('\n')[0] : 'unknown'}).`,
      )
    })
    if (preview.headers.length < 2)
      throw new NotTaken(
        'no-columns',
        'The file has no columns that can be told apart: it must be a CSV file with a header row.',
      )
    await gharry.files.put(nameOf(file), path)
    const known = await rememberedMapping(gharry.db, fingerprintOf(preview.headers))
    return known
      ? { ok: true, file, preview: withMapping(preview, fromJson(known.mapping)), channel: known.channelId }
      : { ok: true, file, preview, channel: null }
  } catch (error) {
    rmSync(path, { force: true })
    if (error instanceof NotTaken) return refuse(error.code, error.message)
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      return refuse('disk-full', 'The disk is full: the file was not kept.')
    throw error
  }
}

/** A spreadsheet is kept as the table that it holds. */
async function asCsv(path: string): Promise<void> {
  const head = Buffer.alloc(2)
  const opened = openSync(path, 'r')
  readSync(opened, head)
  closeSync(opened)
  if (!isArchive(head)) return
  if (statSync(path).size > maxTableBytes)
    throw new NotTaken('unreadable-file', 'A spreadsheet may have 20 MB: split it, or save it as CSV.')
  const table = await sheetAsCsv(readFileSync(path))
  if ('sentence' in table) throw new NotTaken('unreadable-file', table.sentence)
  writeFileSync(path, table.csv, { mode: 0o600 })
}

/** Files with the same header row are of the same sender. */
const fingerprintOf = (headers: readonly string[]): string =>
  createHash('sha256').update(JSON.stringify(headers)).digest('base64url')

/** The columns as they were taken the last time; signs are still those of this file, where it shows them. */
function withMapping(preview: FilePreview, mapping: FileMapping): FilePreview {
  const { decimal, dates } = preview.mapping
  const taken = { ...mapping, ...(decimal ? { decimal } : {}), ...(dates ? { dates } : {}) }
  return { ...preview, mapping: taken, missing: missingFields(taken) }
}

class NotTaken extends Error {
  constructor(
    readonly code: RefusalCode,
    sentence: string,
  ) {
    super(sentence)
  }
}

/** Queues the import of a received file with the columns that a person confirmed. */
export async function requestFileImport(
  gharry: Application,
  request: { channel: string; file: string; fileName: string; mapping: FileMapping },
): Promise<Answer<{ id: number }>> {
  const channel = await channelById(gharry.db, request.channel)
  if (!channel) return refuse('unknown-channel', `There is no channel "${request.channel}".`)
  const gone = refuse('unknown-file', 'The file is not there any more: drop it again.')
  if (!/^[0-9a-f-]{36}\.csv$/.test(request.file)) return gone
  const missing = missingFields(request.mapping)
  if (missing.length > 0) return refuse('missing-columns', `Choose the column for: ${missing.join(', ')}.`)
  const read = await gharry.files.local(nameOf(request.file), async (path) => ({
    headers: (await previewOrderFile(path)).headers,
    bytesTotal: statSync(path).size,
  }))
  if (!read) return gone
  const { headers, bytesTotal } = read
  await rememberMapping(gharry.db, {
    id: fingerprintOf(headers),
    channelId: channel.id,
    mapping: toJson(request.mapping),
    usedAt: gharry.now().toISOString(),
  })
  const id = await addImport(
    gharry.db,
    {
      channelId: channel.id,
      kind: 'file',
      file: request.file,
      fileName: request.fileName.slice(0, 200),
      mapping: toJson(request.mapping),
      bytesTotal,
    },
    gharry.now().toISOString(),
  )
  return { ok: true, id }
}

/**
 * Reads a file in a stream, a portion of orders at a time. After an interruption it begins again: what is in already
 * counts as unchanged.
 */
export async function importFile(gharry: Application, row: ImportRow): Promise<void> {
  const { db, now } = gharry
  const inForce = await rulebookInForce(gharry)
  if (!inForce)
    return changeImport(db, row.id, {
      state: 'failed',
      problem: 'No rulebook is published yet.',
      finishedAt: now().toISOString(),
      leaseUntil: null,
    })
  const left = gharry.working.path()
  try {
    const there = await gharry.files.local(nameOf(row.file), (path) => readInto(gharry, row, inForce, { path, left }))
    if (there !== null) return
    await changeImport(db, row.id, {
      ...{ state: 'failed', finishedAt: now().toISOString(), leaseUntil: null },
      problem: 'The file is not there any more: drop it again.',
    })
  } finally {
    rmSync(left, { force: true })
  }
}

interface Portion {
  readonly orders: readonly RawOrder[]
  readonly problems: readonly FileProblem[]
  /** How far it is read. */
  readonly bytes: number
  readonly ready: Promise<Ready | null>
}

/** Reads a file into the books; `left` gets the rows that are not taken. */
async function readInto(
  gharry: Application,
  row: ImportRow,
  inForce: InForce,
  { path, left }: { readonly path: string; readonly left: string },
): Promise<true> {
  const { db, now } = gharry
  await clearProblems(db, row.id)
  await gharry.files.drop(leftName(row.id))
  await changeImport(db, row.id, { fetched: 0, created: 0, updated: 0, unchanged: 0, flagged: 0, cancelled: 0, bad: 0 })
  let bytes = 0
  let orders: RawOrder[] = []
  let problems: FileProblem[] = []
  /** What was read since it was last asked for, made ready while reading goes on. */
  const portion = (): Portion => {
    const read = { orders, problems, bytes, ready: makeReady(gharry, row.channelId, orders) }
    orders = []
    problems = []
    return read
  }
  const store = async (read: Portion): Promise<boolean> => {
    const ready = await read.ready
    await db.transaction(async (trx) => {
      const counts = await storeOrders(trx, row.channelId, read.orders, inForce, now(), ready)
      await countUp(trx, row.id, { ...counts, bad: read.problems.length })
      await addProblems(trx, row.id, read.problems)
      await changeImport(trx, row.id, { bytesDone: read.bytes })
      await keepLease(trx, 'imports', row, now(), gharry.settings.leaseSeconds)
    })
    if (gharry.stopping?.()) {
      await handBack(db, 'imports', row, now())
      return false
    }
    return (await importById(db, row.id))?.state !== 'cancelled'
  }
  try {
    const file = readOrderFile(
      path,
      fromJson<FileMapping>(row.mapping ?? '{}'),
      { currency: inForce.ready.world.rates.home, now: row.requestedAt, zone: firstZone(inForce.ready.world) },
      (problem) => void problems.push(problem),
      (n) => void (bytes = n),
      keepLeft(left),
    )
    let before: Portion | null = null
    for await (const { order } of file) {
      orders.push(order)
      if (orders.length < 500) continue
      const next = portion()
      if (before && !(await store(before))) return true
      before = next
    }
    if (before && !(await store(before))) return true
    bytes = row.bytesTotal
    if (!(await store(portion()))) return true
    if (existsSync(left)) await gharry.files.put(leftName(row.id), left)
    await changeImport(db, row.id, {
      state: 'done',
      finishedAt: now().toISOString(),
      leaseUntil: null,
      problem: null,
    })
    // What was in it is in the books now; addresses are not kept twice.
    await gharry.files.drop(nameOf(row.file))
  } catch (error) {
    // Somebody else works on it now; or the books could not be written, which is no fault of the file: it is tried
    // again.
    if (error instanceof LeaseLost || isBooksFault(error)) throw error
    gharry.log.error({ import: row.id, err: error }, 'file import failed')
    if (existsSync(left)) await gharry.files.put(leftName(row.id), left)
    await changeImport(db, row.id, {
      state: 'failed',
      problem: `The file cannot be read to its end (${error instanceof Error ? error.message.split('\n')[0] : 'unknown'}); the rows before are in.`,
      finishedAt: now().toISOString(),
      leaseUntil: null,
    })
  }
  return true
}

const leftName = (id: number): string => nameOf(`left-${id}.csv`)

/** Writes rows that were not taken into a file with the head of theirs: corrected, it is dropped again. */
function keepLeft(path: string): (rows: readonly (readonly string[])[], header: readonly string[]) => void {
  let isNew = true
  return (rows, header) => {
    const text = csvRows(isNew ? [header, ...rows] : rows)
    appendFileSync(path, text, { mode: 0o600 })
    isNew = false
  }
}

/** The rows of an import that were not taken, as a file; null when there are none. */
export async function leftRows(gharry: Application, id: number): Promise<Buffer | null> {
  const content = await gharry.files.read(leftName(id))
  return content && buffer(content)
}

const keptDays = 30

/** Forgets rows that nobody has corrected for long: there are addresses in them. */
export async function forgetLeft(gharry: Application): Promise<void> {
  for (const { name, changedAt } of await gharry.files.list(folder))
    if (/\/left-\d+\.csv$/.test(name) && gharry.now().getTime() - changedAt.getTime() > keptDays * 86_400_000)
      await gharry.files.drop(name)
}
