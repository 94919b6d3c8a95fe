import { copyFile } from 'node:fs/promises'
import type { FileStore } from '@/adapters'
import {
  checkChain,
  comparedMove,
  type Database,
  emptyBooks,
  isPostgres,
  listProcesses,
  movedSoFar,
  moveTable,
  noteMoved,
  sampleTrails,
  sumsOf,
  type TableShape,
  tablesToMove,
  wholeMove,
} from '@/data'
import { isSilent } from '../health/beat'
import type { WorkingFolder } from '../shared/files'

/** Why books cannot be moved, and what to do. */
export class MoveProblem extends Error {}

export interface Move {
  readonly from: Database
  readonly to: Database
  /** Takes out what a move that was begun has copied, and begins anew. */
  readonly fresh: boolean
  readonly now: Date
  readonly say: (sentence: string) => void
  /** Whether to go on: a move that is stopped goes on where it was. */
  readonly goesOn: () => boolean
  /** Takes the files along, and says how many. */
  readonly files: () => Promise<number>
}

export interface MoveReport {
  readonly done: boolean
  /** Everything was there already, and nothing has changed here since. */
  readonly already: boolean
  readonly rows: number
  readonly tables: number
  readonly trails: number
  readonly audit: number
  readonly files: number
}

const nothing = { already: false, rows: 0, tables: 0, trails: 0, audit: 0, files: 0 }
const sampled = 300

/**
 * Copies all books into another database, and looks whether everything is there: rows, sums of each column, the chain of
 * the audit, and a sample of orders with their trails, word for word. The books that are left stay as they were.
 */
export async function moveBooks(move: Move): Promise<MoveReport> {
  const { from, to, say } = move
  await refuseRunning(from, move.now)
  const shapes = await tablesToMove(from)
  refuseOther(shapes, await tablesToMove(to))
  const like = await likeness(from, shapes)
  if (await begin(move, shapes, like)) return { ...nothing, done: true, already: true }
  const before = await movedSoFar(to)
  let rows = 0
  for (const shape of shapes) {
    const progress = before.get(shape.name) ?? { after: null, copied: 0, done: false }
    let copied = progress.copied
    const whole =
      progress.done ||
      (await moveTable(from, to, shape, progress, (n) => {
        if (Math.floor(n / 100_000) > Math.floor(copied / 100_000)) say(`${shape.name}: ${n} rows`)
        copied = n
        return move.goesOn()
      }))
    rows += copied
    if (!whole) return { ...nothing, done: false, rows, tables: shapes.length }
  }
  say(`${rows} rows are copied; now they are compared.`)
  // Once: the other books may keep files as rows, which are no likeness any more from the first file on.
  const found = before.get(comparedMove)?.after ?? (await compare(from, to, shapes))
  if ((await likeness(from, shapes)) !== like)
    throw new MoveProblem(
      'The books changed while they were moved: stop everything that works with them, and move again with --fresh.',
    )
  await noteMoved(to, comparedMove, { after: found, copied: 0, done: true })
  const [trails, audit] = found as [number, number]
  // Before it is noted as done: whoever is killed here is not told that all is there.
  const files = await move.files()
  await noteMoved(to, wholeMove, { after: [like], copied: rows, done: true })
  return { done: true, already: false, rows, tables: shapes.length, trails, audit, files }
}

/** Files that are kept go along; print files are made anew when they are wanted. */
export async function moveFiles(from: FileStore, to: FileStore, working: WorkingFolder): Promise<number> {
  const files = [...(await from.list('files')), ...(await from.list('old'))]
  for (const { name } of files)
    await from.local(name, async (path) => {
      const copy = working.path()
      await copyFile(path, copy)
      await to.put(name, copy)
    })
  return files.length
}

async function refuseRunning(from: Database, now: Date): Promise<void> {
  const running = (await listProcesses(from)).filter((one) => !isSilent(one, now))
  if (running.length > 0)
    throw new MoveProblem(
      `Gharry runs with these books (${running.map(({ id }) => id).join(', ')}): stop it first. What ended without saying so is forgotten after a minute.`,
    )
}

function refuseOther(shapes: readonly TableShape[], there: readonly TableShape[]): void {
  const names = new Set(there.map(({ name }) => name))
  const missing = shapes.filter(({ name }) => !names.has(name))
  if (missing.length > 0)
    throw new MoveProblem(`The other books have no table ${missing.map(({ name }) => name).join(', ')}.`)
}

/** What shows that books are still as they were: how many rows each table has, and the last line of the audit. */
async function likeness(db: Database, shapes: readonly TableShape[]): Promise<string> {
  const counts: number[] = []
  for (const { name } of shapes) {
    const [{ n }] = (await db(name).count({ n: '*' })) as [{ n: number }]
    counts.push(Number(n))
  }
  const last = await db('audit').orderBy('seq', 'desc').first<{ hash: string } | undefined>('hash')
  return `${counts.join(' ')} ${last?.hash ?? ''}`
}

/** Begins a move, or goes on with one; true when all of it was done before. */
async function begin({ to, fresh, say }: Move, shapes: readonly TableShape[], like: string): Promise<boolean> {
  const before = (await movedSoFar(to)).get(wholeMove)
  if (before && !fresh) {
    if (before.after?.[0] !== like)
      throw new MoveProblem(
        before.done
          ? 'These books were moved there already, and have changed here since. Start Gharry with those; or name an empty place, and move again.'
          : 'The books changed since the move began: begin it anew with --fresh.',
      )
    if (!before.done) say('A move was begun: it goes on.')
    return before.done
  }
  if (!before)
    for (const name of ['orders', 'worlds', 'people', 'audit'])
      if (await to(name).first())
        throw new MoveProblem(
          'There are books at the other place already: name an empty database, or a file that is not there.',
        )
  if (!isPostgres(to) && (await to('audit').first()))
    throw new MoveProblem(
      'The audit is in that file already, and is never taken out: take the file away, and move again.',
    )
  await emptyBooks(to, shapes)
  await noteMoved(to, wholeMove, { after: [like], copied: 0, done: false })
  return false
}

/** Looks whether everything is the same at the other place; gives how many trails and lines of the audit were read. */
async function compare(
  from: Database,
  to: Database,
  shapes: readonly TableShape[],
): Promise<readonly [trails: number, audit: number]> {
  for (const shape of shapes) {
    const [here, other] = [await sumsOf(from, shape), await sumsOf(to, shape)]
    const odd = Object.keys(here).find((what) => here[what] !== other[what])
    if (odd !== undefined)
      throw new MoveProblem(
        `${shape.name} is not the same at the other place (${odd}: ${here[odd]} here, ${other[odd]} there): move again with --fresh.`,
      )
  }
  const [mine, theirs] = [await checkChain(from), await checkChain(to)]
  if (theirs.wrong || mine.head !== theirs.head)
    throw new MoveProblem(
      `The audit is not whole at the other place (line ${theirs.wrong?.seq ?? theirs.lines}): move again with --fresh.`,
    )
  const [trails, others] = [await sampleTrails(from, sampled), await sampleTrails(to, sampled)]
  const odd = [...trails].find(([id, text]) => others.get(id) !== text)
  if (odd) throw new MoveProblem(`Order ${odd[0]} is not the same at the other place: move again with --fresh.`)
  return [trails.size, theirs.lines]
}
