import { randomUUID } from 'node:crypto'
import { createWriteStream, existsSync, statSync } from 'node:fs'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { fileFields, missingFields, previewOrderFile, readOrderFile, type FileMapping, type FilePreview, type FileProblem } from '@/adapters'
import type { RawOrder } from '@/core/order'
import { firstZone } from '@/core/rulebook'
import { addImport, addProblems, changeImport, channelById, clearProblems, countUp, fromJson, importById, keepLease, toJson, type ImportRow } from '@/data'
import { refuse, type Answer, type Gharry } from './gharry'
import { rulebookInForce } from './rulebookInForce'
import { storeOrders } from './storeOrders'

/** The fields that a column can give. */
export const fileFieldIds = fileFields.map((field) => field.id)

const largestFile = 500_000_000

const pathOf = (gharry: Gharry, file: string): string => join(gharry.settings.dataDir, 'files', file)

/** Keeps an uploaded file and says what its columns seem to mean; nothing is imported yet. */
export async function receiveFile(gharry: Gharry, body: Readable): Promise<Answer<{ file: string; preview: FilePreview }>> {
  const file = `${randomUUID()}.csv`
  let size = 0
  await pipeline(body, async function* (source: AsyncIterable<Buffer>) {
    for await (const chunk of source) {
      size += chunk.length
      if (size > largestFile) throw new Error('The file is larger than 500 MB: split it.')
      yield chunk
    }
  }, createWriteStream(pathOf(gharry, file)))
  if (size === 0) return refuse('empty-file', 'The file is empty.')
  try {
    const preview = await previewOrderFile(pathOf(gharry, file))
    if (preview.headers.length < 2) return refuse('no-columns', 'The file has no columns that can be told apart: it must be a CSV file with a header row.')
    return { ok: true, file, preview }
  } catch (error) {
    return refuse('unreadable-file', `The file cannot be read as CSV (${error instanceof Error ? error.message.split('\n')[0] : 'unknown'}).`)
  }
}

/** Queues the import of a received file with the columns that a person confirmed. */
export async function requestFileImport(gharry: Gharry, request: { channel: string; file: string; fileName: string; mapping: FileMapping }): Promise<Answer<{ id: number }>> {
  const channel = await channelById(gharry.db, request.channel)
  if (!channel) return refuse('unknown-channel', `There is no channel "${request.channel}".`)
  if (!/^[0-9a-f-]{36}\.csv$/.test(request.file) || !existsSync(pathOf(gharry, request.file))) return refuse('unknown-file', 'The file is not there any more: drop it again.')
  const missing = missingFields(request.mapping)
  if (missing.length > 0) return refuse('missing-columns', `Say which column holds: ${missing.join(', ')}.`)
  const id = await addImport(gharry.db, { channel_id: channel.id, kind: 'file', file: request.file, file_name: request.fileName.slice(0, 200), mapping: toJson(request.mapping), bytes_total: statSync(pathOf(gharry, request.file)).size }, gharry.now().toISOString())
  return { ok: true, id }
}

/** Reads a file in a stream, a portion of orders at a time. After an interruption it begins again: what is in already counts as unchanged. */
export async function importFile(gharry: Gharry, row: ImportRow): Promise<void> {
  const { db, now } = gharry
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return changeImport(db, row.id, { state: 'failed', problem: 'No rulebook is published yet.', finished_at: now().toISOString(), lease_until: null })
  await clearProblems(db, row.id)
  await changeImport(db, row.id, { fetched: 0, created: 0, updated: 0, unchanged: 0, flagged: 0, cancelled: 0, bad: 0 })
  let bytes = 0
  let orders: RawOrder[] = []
  let problems: FileProblem[] = []
  const store = async (): Promise<boolean> => {
    const [portion, bad] = [orders, problems]
    orders = []
    problems = []
    await db.transaction(async (trx) => {
      const counts = await storeOrders(trx, row.channel_id, portion, inForce, now())
      await countUp(trx, row.id, { ...counts, bad: bad.length })
      await addProblems(trx, row.id, bad)
      await changeImport(trx, row.id, { bytes_done: bytes })
      await keepLease(trx, 'imports', row.id, now(), gharry.settings.leaseSeconds)
    })
    return (await importById(db, row.id))?.state !== 'cancelled'
  }
  try {
    const file = readOrderFile(pathOf(gharry, row.file), fromJson<FileMapping>(row.mapping ?? '{}'), { currency: inForce.ready.world.rates.home, now: row.requested_at, zone: firstZone(inForce.ready.world) }, (problem) => void problems.push(problem), (n) => void (bytes = n))
    for await (const { order } of file) {
      orders.push(order)
      if (orders.length >= 500 && !(await store())) return
    }
    bytes = row.bytes_total
    if (!(await store())) return
    await changeImport(db, row.id, { state: 'done', finished_at: now().toISOString(), lease_until: null, problem: null })
  } catch (error) {
    gharry.log.error({ import: row.id, err: error }, 'file import failed')
    await changeImport(db, row.id, { state: 'failed', problem: `The file cannot be read to its end (${error instanceof Error ? error.message.split('\n')[0] : 'unknown'}); the rows before are in.`, finished_at: now().toISOString(), lease_until: null })
  }
}
