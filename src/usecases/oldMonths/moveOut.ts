import { randomUUID } from 'node:crypto'
import { writeFile } from 'node:fs/promises'
import { buffer } from 'node:stream/consumers'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import {
  addJob,
  countNamed,
  filesToTakeOut,
  isQueued,
  type JobRow,
  keepLease,
  makePastDay,
  noteOldFile,
  type OldFile,
  ordersForFile,
  staleDaysOf,
  takeOut,
  wholeOrders,
} from '@/data'
import { readBackupState } from '../backups/backupState'
import type { Application } from '../shared/application'
import { onceFor } from '../shared/dueSteps'
import { hashOf, oldOrdersOfDay, readOldFile } from '../shared/oldOrders'

/*
 * Old months leave the books: what is long of an order that is over, and of which nobody's name is left, goes into files
 * of some hundred orders. First a file is written and read back; its orders are taken out of the books only when it is
 * where backups have it, word for word as the books had them.
 */
const zip = promisify(gzip)

/** So many orders are in a file. */
const ordersInFile = 500
/** So many files are written, and taken out, by one job. */
const mostFiles = 400

/** Orders placed before this day are of old months, where so many stay in the books. */
export const oldBefore = (now: Date, months: number): string =>
  new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() - months, 1)).toISOString().slice(0, 10)

/** What was moved. */
export interface MovedOut {
  readonly written: number
  readonly takenOut: number
  /** Files that wait until a backup has them. */
  readonly waiting: number
  /** Orders that stay, as they still say whose they were. */
  readonly named: number
}

/** Moves what is older than so many months; `goesOn` is asked before each file. */
export async function moveOut(
  gharry: Application,
  months: number,
  goesOn: () => Promise<boolean>,
  perFile = ordersInFile,
): Promise<MovedOut> {
  const { db } = gharry
  const before = oldBefore(gharry.now(), months)
  let [written, takenOut] = [0, 0]
  while (written < mostFiles && (await goesOn()) && (await writeNext(gharry, before, perFile))) written++
  for (const file of await filesToTakeOut(db, keptUntil(gharry))) {
    if (takenOut === mostFiles || !(await goesOn())) break
    await takeOutFile(gharry, file)
    takenOut++
  }
  const waiting = (await filesToTakeOut(db, '~')).length
  return { written, takenOut, waiting, named: await countNamed(db, before) }
}

/** Writes the next file; false when there is nothing for one. */
async function writeNext(gharry: Application, before: string, perFile: number): Promise<boolean> {
  const { db, files, working } = gharry
  const orders = await wholeOrders(db, await ordersForFile(db, before, perFile))
  if (orders.length === 0) return false
  const content = await zip(orders.map((one) => JSON.stringify(one)).join('\n'))
  const month = monthOf(orders[0]!.facts)
  const name = `old/${month}-${String(orders[0]!.id).padStart(9, '0')}-${randomUUID().slice(0, 8)}.gz`
  const path = working.path()
  await writeFile(path, content, { mode: 0o600 })
  await files.put(name, path)
  const back = await files.read(name)
  if (!back || hashOf(await buffer(back)) !== hashOf(content))
    throw new Error(`The file ${name} was written, and is not there as it was written: nothing is taken out.`)
  await db.transaction((trx) =>
    noteOldFile(
      trx,
      {
        ...{ month, name, orders: orders.length, bytes: content.length, hash: hashOf(content) },
        writtenAt: gharry.now().toISOString(),
      },
      orders.map(({ id }) => id),
    ),
  )
  return true
}

const monthOf = (facts: string): string => (JSON.parse(facts) as { placedAt: string }).placedAt.slice(0, 7)

/** Until when files were written that backups have: all, where none are made here, or they are kept elsewhere. */
function keptUntil({ settings }: Application): string {
  if (settings.keepsFilesOutside || !settings.keepsBackups) return '~'
  return readBackupState(settings.dataDir)?.newest?.made ?? ''
}

/** Takes the orders of a file out of the books, once trials have them in their columns. */
async function takeOutFile(gharry: Application, file: OldFile): Promise<void> {
  const { db } = gharry
  const lines = await readOldFile(gharry, file)
  for (const day of await staleDaysOf(db, file.id))
    await makePastDay(db, day, randomUUID(), gharry.now().toISOString(), {
      old: () => oldOrdersOfDay(gharry, day),
    })
  await db.transaction(async (trx) => {
    // One that changed just now waits for the next time.
    if ((await staleDaysOf(trx, file.id)).length === 0) await takeOut(trx, file, lines, gharry.now().toISOString())
  })
}

/** Once a day, old months are looked for. */
export async function askOldMonths(gharry: Application): Promise<void> {
  const now = gharry.now().toISOString()
  const day = now.slice(0, 10)
  if (gharry.settings.monthsInBooks > 0)
    await onceFor(gharry, 'old months', day, () => addJob(gharry.db, 'old months', `old-months-${day}`, {}, now))
}

/** The job; what a worker that is stopped or killed leaves, the next day's goes on with. */
export async function workOldMonths(gharry: Application, job: JobRow): Promise<void> {
  const { db, settings } = gharry
  const moved = await moveOut(gharry, settings.monthsInBooks, async () => {
    await keepLease(db, 'jobs', job, gharry.now(), settings.leaseSeconds)
    return !gharry.stopping?.() && !(await isQueued(db, 'trial'))
  })
  if (moved.written + moved.takenOut > 0) gharry.log.info({ ...moved }, 'old months moved into files')
}
