import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { parse } from 'csv-parse/sync'

/** One record of a CSV file with the line on which it begins; or a line that begins none, and why. */
export type CsvRecord =
  | { readonly line: number; readonly bytes: number; readonly cells: readonly string[] }
  | { readonly line: number; readonly bytes: number; readonly wrong: string }

export interface CsvShape {
  readonly delimiter: string
  readonly encoding: 'utf8' | 'latin1'
}

/**
 * Most characters and lines of one record, and columns and characters of a cell: what is more is a fault of the file.
 */
const maxRecordLength = 1_000_000
const maxLines = 2000
export const maxColumns = 300
const maxCellLength = 20_000

/** How a CSV file is written: UTF-8 or Latin-1, and what parts its columns. */
export async function shapeOf(file: string): Promise<CsvShape> {
  const handle = await open(file)
  try {
    const buffer = Buffer.alloc(65_536)
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, 0)
    const head = buffer.subarray(0, bytesRead)
    let encoding: CsvShape['encoding'] = 'utf8'
    try {
      // The last bytes may be half a character.
      new TextDecoder('utf-8', { fatal: true }).decode(head.subarray(0, Math.max(0, bytesRead - 4)), { stream: true })
    } catch {
      encoding = 'latin1'
    }
    const firstLine = head.toString(encoding).split(/\r?\n/, 1)[0] ?? ''
    const counts = [',', ';', '\t', '|'].map((delimiter) => ({ delimiter, count: firstLine.split(delimiter).length }))
    return { delimiter: counts.reduce((a, b) => (b.count > a.count ? b : a)).delimiter, encoding }
  } finally {
    await handle.close()
  }
}

/**
 * The records of a CSV file, in a stream. Where a quotation mark is opened and never closed, or a record is longer than
 * any can be, that line alone is named, and reading goes on with the next line: one bad row loses no other.
 */
export async function* csvRecords(file: string, { delimiter, encoding }: CsvShape): AsyncGenerator<CsvRecord> {
  const lines = new LineReader(file, encoding)
  for (let first = await lines.next(); first !== null; first = await lines.next()) {
    const { line } = first
    let text = first.text
    let quotes = quotesOf(text, delimiter, false)
    const held: Line[] = []
    let size = text.length
    while (quotes === 'open' && size <= maxRecordLength && held.length < maxLines) {
      const more = await lines.next()
      if (more === null) break
      held.push(more)
      size += more.text.length
      quotes = quotesOf(more.text, delimiter, true)
    }
    if (quotes !== 'closed' || size > maxRecordLength) {
      lines.putBack(held)
      yield {
        line,
        bytes: lines.bytes,
        wrong: whatIsWrong(text, quotes === 'broken' && held.length === 0),
      }
      continue
    }
    if (held.length > 0) text = [text, ...held.map((more) => more.text)].join('\n')
    if (text.trim() === '') continue
    const cells = cellsOf(text, delimiter)
    if (typeof cells === 'string') {
      lines.putBack(held)
      yield { line, bytes: lines.bytes, wrong: cells }
    } else yield { line, bytes: lines.bytes, cells }
  }
}

const firstRow = (text: string, delimiter: string): string[] | undefined => {
  const rows: string[][] = parse(text, { delimiter, relax_quotes: true, relax_column_count: true })
  return rows[0]
}

function cellsOf(text: string, delimiter: string): string[] | string {
  let cells: string[] | undefined
  try {
    cells = text.includes('"') ? firstRow(text, delimiter) : text.split(delimiter)
  } catch (error) {
    return `The row cannot be read (${error instanceof Error ? (error.message.split('\n')[0] ?? '').slice(0, 160) : 'unknown reason'}).`
  }
  if (!cells) return 'The row cannot be read.'
  if (cells.length > maxColumns) return `The row has more than ${maxColumns} columns.`
  return cells.some((cell) => cell.length > maxCellLength)
    ? `A cell is longer than ${maxCellLength.toLocaleString('en')} characters.`
    : cells
}

/**
 * Whether a quoted cell is still open at the end of a line; `broken` when one is closed where no cell ends. A mark
 * within a cell that does not begin with one is a plain character.
 */
function quotesOf(line: string, delimiter: string, open: boolean): 'open' | 'closed' | 'broken' {
  if (!line.includes('"')) return open ? 'open' : 'closed'
  let quoted = open
  let atStart = !open
  for (let i = 0; i < line.length; i++) {
    const letter = line[i]
    if (quoted) {
      if (letter !== '"') continue
      if (line[i + 1] === '"') i++
      else if (endsCell(line, i + 1, delimiter)) quoted = false
      else return 'broken'
    } else if (letter === delimiter) atStart = true
    else if (letter === '"' && atStart) {
      quoted = true
      atStart = false
    } else if (letter !== ' ') atStart = false
  }
  return quoted ? 'open' : 'closed'
}

/** Whether nothing but blanks stands between a place and the end of its cell. */
function endsCell(line: string, from: number, delimiter: string): boolean {
  let at = from
  while (line[at] === ' ' && line[at] !== delimiter) at++
  return at >= line.length || line[at] === delimiter
}

interface Line {
  readonly line: number
  readonly text: string
}

/**
 * Lines of a file, which can be put back. A line that is longer than a record can be is cut there: the record is
 * refused anyway.
 */
class LineReader {
  private readonly chunks: AsyncIterator<string>
  private readonly source
  private readonly back: Line[] = []
  private rest = ''
  private ended = false
  private line = 0

  constructor(file: string, encoding: CsvShape['encoding']) {
    this.source = createReadStream(file, { encoding, highWaterMark: 262_144 })
    this.chunks = this.source[Symbol.asyncIterator]() as AsyncIterator<string>
  }

  get bytes(): number {
    return this.source.bytesRead
  }

  putBack(lines: readonly Line[]): void {
    for (let i = lines.length - 1; i >= 0; i--) this.back.push(lines[i]!)
  }

  async next(): Promise<Line | null> {
    const before = this.back.pop()
    if (before) return before
    let at = this.rest.indexOf('\n')
    while (at < 0 && !this.ended) {
      const { value, done } = (await this.chunks.next()) as IteratorResult<string, undefined>
      if (done) this.ended = true
      else {
        const from = this.rest.length
        if (this.line === 0 && from === 0) this.rest = value.replace(/^\uFEFF/, '')
        // Of a line that never ends no more is kept than it takes to say so.
        else if (this.rest.length > maxRecordLength * 2)
          this.rest = this.rest.slice(0, maxRecordLength * 2) + value.slice(Math.max(0, value.indexOf('\n')))
        else this.rest += value
        at = this.rest.indexOf('\n', Math.min(from, maxRecordLength * 2))
      }
    }
    if (at < 0 && this.rest === '') return null
    const text = at < 0 ? this.rest : this.rest.slice(0, at)
    this.rest = at < 0 ? '' : this.rest.slice(at + 1)
    return { line: ++this.line, text: text.endsWith('\r') ? text.slice(0, -1) : text }
  }
}

function whatIsWrong(text: string, loneQuote: boolean): string {
  if (text.length > maxRecordLength) return 'A row is longer than 1 MB: probably a quotation mark is missing.'
  return loneQuote
    ? 'There is a single quotation mark within a cell: write it twice.'
    : 'A quotation mark is opened and never closed.'
}
