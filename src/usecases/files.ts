import { createReadStream } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { createInterface } from 'node:readline'
import { previewOrderFile, readOrderFile } from '@/adapters'
import { normaliseOrder, orderSchema, type Order } from '@/core/order'
import { readRulebook, readyWorld, worldSchema, type ReadyWorld, type Rulebook } from '@/core/rulebook'

/** A file that cannot be used: where, and why. */
export class FileProblem extends Error {
  constructor(readonly file: string, readonly line: number, sentence: string) {
    super(`${file}${line > 0 ? `:${line}` : ''}: ${sentence}`)
  }
}

async function textOf(file: string): Promise<string> {
  try {
    return await readFile(file, 'utf8')
  } catch (error) {
    throw new FileProblem(file, 0, (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'There is no such file.' : 'The file cannot be read.')
  }
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
  if (!parsed.success) throw new AggregateError(parsed.error.issues.slice(0, 20).map((issue) => new FileProblem(file, 0, `${issue.path.join(' › ')}: ${issue.message}`)))
  return readyWorld(parsed.data)
}

/** Reads orders in a stream, from JSON lines or CSV by the file's ending; `onProblem` hears of every line that cannot be used. */
export async function* ordersFromFile(file: string, world: ReadyWorld, onProblem: (problem: FileProblem) => void): AsyncGenerator<Order> {
  if (/\.csv$/i.test(file)) {
    const preview = await previewOrderFile(file).catch(() => { throw new FileProblem(file, 0, 'The file cannot be read as CSV.') })
    if (preview.missing.length > 0) throw new FileProblem(file, 1, `No column holds: ${preview.missing.join(', ')}.`)
    const now = new Date().toISOString()
    for await (const { order } of readOrderFile(file, preview.mapping, { currency: world.world.rates.home, now }, (problem) => onProblem(new FileProblem(file, problem.line, problem.reason)), () => undefined)) yield normaliseOrder(order, 'file', world.cards)
    return
  }
  const source = createReadStream(file)
  const opened = new Promise<void>((resolve, reject) => {
    source.once('open', () => resolve())
    source.once('error', () => reject(new FileProblem(file, 0, 'There is no such file.')))
  })
  await opened
  let line = 0
  for await (const text of createInterface({ input: source, crlfDelay: Infinity })) {
    line++
    if (text.trim() === '') continue
    let plain: unknown
    try {
      plain = JSON.parse(text)
    } catch {
      onProblem(new FileProblem(file, line, 'This line is no JSON.'))
      continue
    }
    const parsed = orderSchema.safeParse(plain)
    if (parsed.success) yield parsed.data
    else onProblem(new FileProblem(file, line, `${parsed.error.issues[0]!.path.join(' › ') || 'order'}: ${parsed.error.issues[0]!.message}`))
  }
}
