import { createReadStream } from 'node:fs'
import { readFile, stat } from 'node:fs/promises'
import {
  dateOrders,
  previewOrderFile,
  readOrderFile,
  unusedColumns,
  type DateOrder,
  type FileMapping,
} from '@/adapters'
import { normaliseOrder, type Order, orderSchema } from '@/core/order'
import { isDeeperThan, readRulebook, type Rulebook } from '@/core/rulebook/language'
import { firstZone, readyWorld, type ReadyWorld, worldSchema } from '@/core/world'

export { dateOrders, type DateOrder }

/** A file that cannot be used: where, and why. */
export class FileProblem extends Error {
  constructor(
    readonly file: string,
    readonly line: number,
    sentence: string,
  ) {
    super(`${file}${line > 0 ? `:${line}` : ''}: ${sentence}`)
  }
}

async function textOf(file: string): Promise<string> {
  await isFile(file, 200_000_000)
  try {
    // A byte-order mark is no part of the text.
    return (await readFile(file, 'utf8')).replace(/^\uFEFF/, '')
  } catch (error) {
    throw unreadable(file, error)
  }
}

async function isFile(file: string, mostBytes = Infinity): Promise<void> {
  const found = await stat(file).catch((error: unknown) => {
    throw unreadable(file, error)
  })
  if (found.isDirectory()) throw new FileProblem(file, 0, 'This is a folder: name a file in it.')
  if (found.size > mostBytes)
    throw new FileProblem(file, 0, `The file is larger than ${Math.round(mostBytes / 1e6)} MB.`)
}

const unreadable = (file: string, error: unknown): FileProblem => {
  const { code } = error as NodeJS.ErrnoException
  return new FileProblem(file, 0, whyUnreadable[code ?? ''] ?? 'The file cannot be read.')
}

/** Reads a rulebook from YAML or JSON; every problem in it is thrown at once. */
export async function rulebookFromFile(file: string): Promise<Rulebook> {
  const read = readRulebook(await textOf(file))
  if (read.ok) return read.rulebook
  throw new AggregateError(read.problems.map((problem) => new FileProblem(file, problem.line, problem.sentence)))
}

/** Reads a world from JSON. */
export async function worldFromFile(file: string): Promise<ReadyWorld> {
  let plain: unknown
  try {
    plain = JSON.parse(await textOf(file))
  } catch (error) {
    if (error instanceof FileProblem) throw error
    throw new FileProblem(file, 0, 'The file is no JSON.')
  }
  const parsed = worldSchema.safeParse(plain)
  if (!parsed.success)
    throw new AggregateError(
      parsed.error.issues
        .slice(0, 20)
        .map((issue) => new FileProblem(file, 0, `${issue.path.join(' › ')}: ${issue.message}`)),
    )
  return readyWorld(parsed.data)
}

/** How a CSV file is to be read, where it does not say so itself. */
export type FileSigns = Pick<FileMapping, 'decimal' | 'dates'>

// A line of an orders file may take no more.
const maxLineLength = 10_000_000

/**
 * Reads orders in a stream, from JSON lines or CSV by the file's ending; `onProblem` hears of every line that cannot be
 * used, and `onNote` of what is left unread.
 */
export async function* ordersFromFile(
  file: string,
  world: ReadyWorld,
  onProblem: (problem: FileProblem) => void,
  onNote: (sentence: string) => void = () => undefined,
  signs: FileSigns = {},
): AsyncGenerator<Order> {
  await isFile(file)
  if (/\.csv$/i.test(file)) {
    const preview = await previewOrderFile(file).catch((error: unknown) => {
      throw new FileProblem(
        file,
        0,
        `The file cannot be read as CSV (${error instanceof Error ? error.message.slice(0, 160) : 'unknown reason'}).`,
      )
    })
    if (preview.missing.length > 0) throw new FileProblem(file, 1, `No column holds: ${preview.missing.join(', ')}.`)
    const unused = unusedColumns(preview)
    if (unused.length > 0)
      onNote(`${file}: these columns are not read: ${unused.map((name) => name.slice(0, 60)).join(', ')}.`)
    const zone = firstZone(world.world)
    const defaults = { currency: world.world.rates.home, now: new Date().toISOString(), zone }
    for await (const { order } of readOrderFile(
      file,
      { ...preview.mapping, ...signs },
      defaults,
      (problem) => onProblem(new FileProblem(file, problem.line, problem.reason)),
      () => undefined,
    ))
      yield normaliseOrder(order, 'file', world.cards, zone, world.world.rates.home)
    return
  }
  let line = 0
  for await (const text of linesOf(file)) {
    line++
    if (text === null) {
      onProblem(new FileProblem(file, line, 'This line is longer than 10 MB.'))
      continue
    }
    if (text.trim() === '') continue
    let plain: unknown
    try {
      plain = JSON.parse(line === 1 ? text.replace(/^\uFEFF/, '') : text)
    } catch {
      onProblem(new FileProblem(file, line, 'This line is no JSON.'))
      continue
    }
    const parsed = isDeeperThan(plain, 20) ? null : orderSchema.safeParse(plain)
    if (parsed?.success) yield parsed.data
    else
      onProblem(
        new FileProblem(
          file,
          line,
          parsed
            ? `${parsed.error.issues[0]!.path.join(' › ') || 'order'}: ${parsed.error.issues[0]!.message}`
            : 'This line is no order.',
        ),
      )
  }
}

/** The lines of a file; null for one that is longer than a line can be, of which nothing is kept. */
async function* linesOf(file: string): AsyncGenerator<string | null> {
  let rest: string | null = ''
  try {
    for await (const chunk of createReadStream(file, {
      encoding: 'utf8',
      highWaterMark: 262_144,
    }) as AsyncIterable<string>) {
      const parts = chunk.split('\n')
      for (const [i, part] of parts.entries()) {
        rest = rest === null || rest.length + part.length > maxLineLength ? null : rest + part
        if (i === parts.length - 1) continue
        yield rest
        rest = ''
      }
    }
  } catch (error) {
    throw unreadable(file, error)
  }
  if (rest !== '') yield rest
}

const whyUnreadable: Readonly<Record<string, string>> = {
  ENOENT: 'There is no such file.',
  ENOTDIR: 'There is no such file.',
  EACCES: 'It may not be read.',
}
