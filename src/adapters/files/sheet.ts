import { parse } from 'csv-parse/sync'
import { stringify } from 'csv-stringify/sync'
import readXlsx from 'read-excel-file/node'
import writeXlsx from 'write-excel-file/node'

/** A table of texts as people keep it in a file, CSV or XLSX: the header's names, and each row with its line in the file. */
export type Sheet = { readonly ok: true; readonly rows: readonly { readonly line: number; readonly cells: Readonly<Record<string, string>> }[] } | { readonly ok: false; readonly sentence: string }

const mostBytes = 20 * 1024 * 1024
const refuse = (sentence: string): Sheet => ({ ok: false, sentence })

/**
 * Reads the first sheet of an XLSX file, or a CSV file (comma, semicolon or tab). Numbers and days of a spreadsheet come as
 * text. `columns` are the names that are understood; at least one of `needed` has to be there, and an unknown one is named.
 */
export async function readSheet(content: Buffer, columns: readonly string[], needed: readonly string[]): Promise<Sheet> {
  if (content.length === 0) return refuse('The file is empty.')
  if (content.length > mostBytes) return refuse('The file is larger than 20 MB: split it.')
  let table: readonly (readonly string[])[]
  try {
    table = content.subarray(0, 2).toString('latin1') === 'PK' ? await xlsxTable(content) : csvTable(content)
  } catch (error) {
    return refuse(`The file cannot be read as a table: ${error instanceof Error ? error.message.split('\n')[0] : 'unknown reason'}.`)
  }
  const names = (table[0] ?? []).map((name) => name.trim().toLowerCase())
  const missing = needed.filter((name) => !names.includes(name))
  if (missing.length > 0) return refuse(`The first row has no column "${missing.join('", "')}". It is the row of names; take an export as a pattern.`)
  const unknown = names.filter((name) => name !== '' && !columns.includes(name))
  if (unknown.length > 0) return refuse(`The column "${unknown[0]}" is not known. The columns are: ${columns.join(', ')}.`)
  const rows = table.slice(1).map((cells, i) => ({ line: i + 2, cells: Object.fromEntries(names.map((name, k) => [name, cells[k] ?? ''])) }))
  return { ok: true, rows: rows.filter(({ cells }) => Object.values(cells).some((text) => text.trim() !== '')) }
}

async function xlsxTable(content: Buffer): Promise<string[][]> {
  const [sheet] = await readXlsx(content)
  return (sheet?.data ?? []).map((row) => row.map((cell) => (cell === null ? '' : cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell))))
}

function csvTable(content: Buffer): string[][] {
  const utf8 = content.toString('utf8').replace(/^\uFEFF/, '')
  const text = utf8.includes('\uFFFD') ? content.toString('latin1') : utf8
  const head = text.slice(0, text.search(/\r?\n|$/))
  const delimiter = [';', '\t', ','].reduce((best, candidate) => (head.split(candidate).length > head.split(best).length ? candidate : best), ',')
  return parse(text, { delimiter, relax_column_count: true })
}

/** A table as CSV with a byte-order mark, which spreadsheets take as the sign of UTF-8. */
export const csvFile = (columns: readonly string[], rows: readonly Readonly<Record<string, string | undefined>>[]): Buffer => Buffer.from(`\uFEFF${stringify(rows.map((row) => columns.map((column) => row[column] ?? '')), { header: true, columns: [...columns] })}`)

/** A table as a spreadsheet of one sheet; what looks like a number is kept as the text that it is. */
export async function xlsxFile(name: string, columns: readonly string[], rows: readonly Readonly<Record<string, string | undefined>>[]): Promise<Buffer> {
  const head = columns.map((value) => ({ value, fontWeight: 'bold' as const }))
  return writeXlsx([head, ...rows.map((row) => columns.map((column) => ({ value: row[column] ?? '', type: String })))], { sheet: name, stickyRowsCount: 1, columns: columns.map((column) => ({ width: Math.max(10, column.length + 2) })) }).toBuffer()
}
