import { createHash } from 'node:crypto'
import { buffer } from 'node:stream/consumers'
import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import type { Order } from '@/core/order'
import type { PastOrder } from '@/core/rulebook/bulk'
import type { Routed } from '@/core/rulebook/language'
import {
  decisionOf,
  eventsOf,
  fromJson,
  logOf,
  oldFileOf,
  oldFilesOfDay,
  type OldFile,
  type OldOrder,
  ordersById,
  readOldOrder,
  type TrackingEventRow,
} from '@/data'
import type { Application } from './application'

const unzip = promisify(gunzip)

/** A file of old orders is not there, or not as it was written: what to do is in its sentence. */
export class OldFileProblem extends Error {}

/** An order with what is told of it in full, from the books or from the file of its old month. */
export interface FullOrder {
  readonly order: Order
  readonly decided:
    | { readonly edition: number; readonly world: number; readonly decidedAt: string; readonly outcome: Routed }
    | undefined
  readonly log: readonly { readonly at: string; readonly author: string; readonly sentence: string }[]
  /** News of the parcels of a label. */
  readonly eventsOf: (label: number) => Promise<readonly TrackingEventRow[]>
}

type Reader = Pick<Application, 'db' | 'files'>

/** The lines of a file of old orders. */
export async function readOldFile({ files }: Pick<Application, 'files'>, file: OldFile): Promise<OldOrder[]> {
  const kept = await files.read(file.name)
  if (!kept)
    throw new OldFileProblem(
      `Orders of ${file.month} are in the file ${file.name}, which is not where files are kept: bring it back there (GHARRY_FILES, or the data folder; backups hold it).`,
    )
  const content = await buffer(kept)
  if (hashOf(content) !== file.hash)
    throw new OldFileProblem(
      `The file ${file.name}, with orders of ${file.month}, is not as it was written: bring it back from a backup.`,
    )
  return (await unzip(content))
    .toString('utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => fromJson<OldOrder>(line))
}

/** SHA-256 of a file's content, in hexadecimal. */
export const hashOf = (content: Buffer): string => createHash('sha256').update(content).digest('hex')

/** An order in full; null when there is none. */
export async function orderInFull(gharry: Reader, id: number): Promise<FullOrder | null> {
  const { db } = gharry
  const [stored] = await ordersById(db, [id])
  const file = await oldFileOf(db, id)
  const line =
    file && (file.takenOutAt !== null || !stored)
      ? (await readOldFile(gharry, file)).find((one) => one.id === id)
      : undefined
  if (!stored && !line) return null
  const old = line && readOldOrder(line)
  const log = await logOf(db, id)
  return {
    // What the books say is younger.
    order: stored?.order ?? old!.order,
    decided: (await decisionOf(db, id)) ?? old?.decided,
    log: [...(line?.log ?? []), ...log],
    eventsOf: async (label) => {
      const before = line?.events.filter(({ labelId }) => labelId === label) ?? []
      const known = new Set(before.map(({ remoteId }) => remoteId))
      return [...before, ...(await eventsOf(db, label)).filter(({ remoteId }) => !known.has(remoteId))]
    },
  }
}

/** Orders of a day that are in files alone, as trials decide them. Nobody decided them by hand for a trial: pins are kept in the books. */
export async function oldOrdersOfDay(gharry: Reader, day: string): Promise<Omit<PastOrder, 'pins' | 'state'>[]> {
  const found: Omit<PastOrder, 'pins' | 'state'>[] = []
  for (const { file, orders } of await oldFilesOfDay(gharry.db, day))
    for (const line of await readOldFile(gharry, file))
      if (orders.has(line.id)) found.push({ id: line.id, order: fromJson<Order>(line.facts) })
  return found
}
