import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { stringify } from 'csv-stringify/sync'
import writeXlsx from 'write-excel-file/node'
import { escaped, unescaped } from './formulas'

/**
 * A table of texts as people keep it in a file, CSV or XLSX: the header's names, and each row with its line in the
 * file.
 */
export type Sheet =
  | {
      readonly ok: true
      readonly rows: readonly { readonly line: number; readonly cells: Readonly<Record<string, string>> }[]
    }
  | { readonly ok: false; readonly sentence: string }

/** The largest table that is taken, in bytes. */
export const maxTableBytes = 20 * 1024 * 1024
/** What a table may come to: bytes of one part of a spreadsheet when it is unpacked, and what is in it. */
const limits = {
  unpacked: 60_000_000,
  parts: 5000,
  columns: 200,
  rows: 200_000,
  cells: 4_000_000,
  cell: 32_767,
  record: 200_000,
}
const maxMilliseconds = 20_000
const refuse = (sentence: string): Sheet => ({ ok: false, sentence })

/**
 * Reads the first sheet of an XLSX file, or a CSV file (comma, semicolon or tab), in a thread of its own with limits.
 * Numbers and days of a spreadsheet come as text. `columns` are the names that are understood; `needed` have to be
 * there, and an unknown one is named.
 */
export async function readSheet(
  content: Buffer,
  columns: readonly string[],
  needed: readonly string[],
): Promise<Sheet> {
  if (content.length === 0) return refuse('The file is empty.')
  if (content.length > maxTableBytes) return refuse('The file is larger than 20 MB: split it.')
  const read = await inThread(content)
  if ('sentence' in read) return refuse(read.sentence)
  const { table } = read
  // In a spreadsheet a text is known to be one; in CSV it carries a mark.
  const text = isArchive(content) ? (cell: string) => cell : unescaped
  const names = (table[0] ?? []).map((name) => name.trim().toLowerCase())
  const missing = needed.filter((name) => !names.includes(name))
  if (missing.length > 0)
    return refuse(
      `The first row has no column "${missing.join('", "')}". It is the row of names; take an export as a pattern.`,
    )
  const unknown = names.find((name) => name !== '' && !columns.includes(name))
  if (unknown !== undefined)
    return refuse(`The column "${unknown.slice(0, 60)}" is not known. The columns are: ${columns.join(', ')}.`)
  const twice = names.find((name, i) => name !== '' && names.indexOf(name) !== i)
  if (twice !== undefined) return refuse(`The column "${twice}" is there twice: keep one of them.`)
  const rows = table.slice(1).map((cells, i) => ({
    line: i + 2,
    cells: Object.fromEntries(names.map((name, k) => [name, text(cells[k] ?? '')])),
  }))
  return { ok: true, rows: rows.filter(({ cells }) => Object.values(cells).some((text) => text.trim() !== '')) }
}

/** The first sheet of a spreadsheet as CSV, for readers of order files; or why it cannot be read. */
export async function sheetAsCsv(content: Buffer): Promise<{ readonly csv: Buffer } | { readonly sentence: string }> {
  if (content.length > maxTableBytes) return { sentence: 'The file is larger than 20 MB: split it.' }
  const read = await inThread(content)
  if ('sentence' in read) return read
  return { csv: Buffer.from(stringify(read.table.map((row) => [...row]))) }
}

/** Whether a file begins as spreadsheets do (an archive, ISO/IEC 29500). */
export const isArchive = (content: Buffer): boolean => content.subarray(0, 2).toString('latin1') === 'PK'

type Read = { readonly table: readonly (readonly string[])[] } | { readonly sentence: string }

async function inThread(content: Buffer): Promise<Read> {
  const thread = new Worker(join(process.cwd(), 'src/adapters/files/spreadsheetThread.mjs'), {
    workerData: { content: new Uint8Array(content), limits },
    resourceLimits: { maxOldGenerationSizeMb: 600, maxYoungGenerationSizeMb: 64 },
    stdout: false,
    stderr: false,
  })
  let timer: NodeJS.Timeout | undefined
  try {
    return await new Promise<Read>((resolve) => {
      timer = setTimeout(
        () => resolve({ sentence: 'The file takes too long to read: split it, or save it as CSV.' }),
        maxMilliseconds,
      )
      thread.once('message', (read: Read) => resolve(read))
      thread.once('error', () =>
        resolve({ sentence: 'The file takes too much memory to read: split it, or save it as CSV.' }),
      )
      thread.once('exit', () => resolve({ sentence: 'The file cannot be read as a table.' }))
    })
  } finally {
    clearTimeout(timer)
    await thread.terminate()
  }
}

/** A table as CSV with a byte-order mark, which spreadsheets take as the sign of UTF-8. */
export const csvFile = (
  columns: readonly string[],
  rows: readonly Readonly<Record<string, string | undefined>>[],
): Buffer =>
  Buffer.from(
    `\uFEFF${stringify(
      rows.map((row) => columns.map((column) => escaped(row[column] ?? ''))),
      { header: true, columns: [...columns] },
    )}`,
  )

/** Rows as CSV without a head, to be added to a file. */
export const csvRows = (rows: readonly (readonly string[])[]): string =>
  stringify(rows.map((row) => row.map((cell) => escaped(cell))))

/** A table as a spreadsheet of one sheet; what looks like a number is kept as the text that it is. */
export async function xlsxFile(
  name: string,
  columns: readonly string[],
  rows: readonly Readonly<Record<string, string | undefined>>[],
): Promise<Buffer> {
  const head = columns.map((value) => ({ value, fontWeight: 'bold' as const }))
  return writeXlsx(
    [head, ...rows.map((row) => columns.map((column) => ({ value: row[column] ?? '', type: String })))],
    { sheet: name, stickyRowsCount: 1, columns: columns.map((column) => ({ width: Math.max(10, column.length + 2) })) },
  ).toBuffer()
}
