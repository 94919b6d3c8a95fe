/*
 * Reads a table from an uploaded file, in a thread of its own: a file may be made to break who reads it, and here it
 * breaks nothing else. Sizes are known from the directory of the archive before anything is unpacked; rows, columns and
 * cells are counted in a stream before a table is built of them. `workerData`: { content, limits }. Answers { table }
 * or { sentence }.
 */
import { parentPort, workerData } from 'node:worker_threads'

/** A file that is not taken, in words for who sent it. */
class Refusal extends Error {}

const { content, limits } = workerData
const bytes = Buffer.from(content.buffer, content.byteOffset, content.byteLength)

try {
  parentPort.postMessage({
    table: bytes.subarray(0, 2).toString('latin1') === 'PK' ? await xlsxTable() : await csvTable(),
  })
} catch (error) {
  parentPort.postMessage({
    sentence:
      error instanceof Refusal
        ? error.message
        : `The file cannot be read as a table: ${String(error?.message ?? 'unknown reason')
            .split('\n')[0]
            .slice(0, 160)}.`,
  })
}

async function csvTable() {
  const { parse } = await import('csv-parse')
  const utf8 = bytes.toString('utf8').replace(/^\uFEFF/, '')
  const text = utf8.includes('\uFFFD') ? bytes.toString('latin1') : utf8
  const head = text.slice(0, 20_000).split(/\r?\n/, 1)[0]
  const count = (sign) => head.split(sign).length
  const delimiter = [';', '\t', ','].reduce((best, sign) => (count(sign) > count(best) ? sign : best), ',')
  if (count(delimiter) > limits.columns) throw tooWide()
  const parser = parse({ delimiter, relax_column_count: true, max_record_size: limits.record })
  const table = []
  parser.on('readable', () => {
    for (let row = parser.read(); row !== null; row = parser.read()) {
      if (row.length > limits.columns) return parser.destroy(tooWide())
      if (table.length >= limits.rows) return parser.destroy(tooLong())
      if (row.some((cell) => cell.length > limits.cell)) return parser.destroy(tooFull(table.length + 1))
      table.push(row)
    }
  })
  const done = new Promise((resolve, reject) => parser.once('end', resolve).once('error', reject))
  // In pieces, so that a row that is too long ends it before all is read.
  for (let at = 0; at < text.length && !parser.destroyed; at += 65_536) parser.write(text.slice(at, at + 65_536))
  parser.end()
  await done.catch((error) => {
    throw error?.code === 'CSV_MAX_RECORD_SIZE'
      ? new Refusal(
          `A row is longer than ${limits.record.toLocaleString('en')} characters: probably a quotation mark is missing.`,
        )
      : error
  })
  return table
}

async function xlsxTable() {
  const yauzl = (await import('yauzl')).default
  const archive = await new Promise((resolve, reject) =>
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, zip) => (error ? reject(error) : resolve(zip))),
  )
  if (archive.entryCount > limits.parts) throw new Refusal('The spreadsheet has too many parts: save it anew.')
  const entries = new Map()
  await new Promise((resolve, reject) => {
    archive
      .on('entry', (entry) => {
        entries.set(entry.fileName.replace(/^\//, ''), entry)
        archive.readEntry()
      })
      .once('end', resolve)
      .once('error', reject)
    archive.readEntry()
  })
  const part = async (name, look) => {
    const entry = entries.get(name)
    if (!entry) return null
    if (entry.uncompressedSize > limits.unpacked)
      throw new Refusal(
        `The spreadsheet unpacks to more than ${Math.round(limits.unpacked / 1e6)} MB: keep only the table, or save it as CSV.`,
      )
    const stream = await new Promise((resolve, reject) =>
      archive.openReadStream(entry, (error, readable) => (error ? reject(error) : resolve(readable))),
    )
    const chunks = []
    for await (const chunk of stream) {
      look?.(chunk)
      chunks.push(chunk)
    }
    return Buffer.concat(chunks)
  }
  const workbook = await part('xl/workbook.xml')
  const relations = await part('xl/_rels/workbook.xml.rels')
  if (!workbook || !relations) throw new Refusal('The file is no spreadsheet (XLSX): save it as one, or as CSV.')
  const first = /<(?:\w{1,10}:)?sheet [^>]{0,400}?r:id="([^"]{1,60})"/.exec(workbook.toString('utf8'))?.[1]
  const relation = relations
    .toString('utf8')
    .split('<')
    .find((tag) => tag.startsWith('Relationship ') && tag.includes(`Id="${first}"`))
  const target =
    /Target="([^"]{1,200})"/.exec(relation ?? '')?.[1]?.replace(/^\/?(xl\/)?/, 'xl/') ?? 'xl/worksheets/sheet1.xml'
  const sheet = await part(target, cellCounter())
  if (!sheet) throw new Refusal('The spreadsheet has no sheet.')
  const parts = { 'xl/workbook.xml': workbook, 'xl/_rels/workbook.xml.rels': relations, [target]: sheet }
  for (const name of ['[Content_Types].xml', '_rels/.rels', 'xl/sharedStrings.xml', 'xl/styles.xml']) {
    const found = await part(name, name.includes('sharedStrings') ? textCounter() : undefined)
    if (found) parts[name] = found
  }
  // Only what is needed goes on: other sheets, pictures and whatever else was in it is never unpacked.
  const [{ zipSync }, { default: readXlsx }] = await Promise.all([import('fflate'), import('read-excel-file/node')])
  const [read] = await readXlsx(Buffer.from(zipSync(parts, { level: 0 })), { sheets: [1] }).catch(() =>
    readXlsx(Buffer.from(zipSync(parts, { level: 0 }))),
  )
  const table = (read?.data ?? []).map((row) =>
    row.map((cell) => (cell === null ? '' : cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell))),
  )
  table.forEach((row, i) => {
    if (row.some((cell) => cell.length > limits.cell)) throw tooFull(i + 1)
  })
  return table
}

/** Looks at the places of cells as they come by, before anything is built of them. */
function cellCounter() {
  let rest = ''
  let [columns, rows] = [0, 0]
  return (chunk) => {
    const text = rest + chunk.toString('latin1')
    for (const [, letters, digits] of text.matchAll(/ r="([A-Z]{1,3})(\d{1,7})"/g)) {
      columns = Math.max(
        columns,
        [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0),
      )
      rows = Math.max(rows, Number(digits))
    }
    if (columns > limits.columns) throw tooWide()
    if (rows > limits.rows || rows * columns > limits.cells) throw tooLong()
    rest = text.slice(-24)
  }
}

/** Looks at the lengths of texts between tags. */
function textCounter() {
  let length = 0
  return (chunk) => {
    for (const byte of chunk) {
      if (byte === 0x3c) length = 0
      else if (++length > limits.cell * 6) throw tooFull(0)
    }
  }
}

function tooWide() {
  return new Refusal(`The table has more than ${limits.columns} columns: keep those that are needed.`)
}
function tooLong() {
  return new Refusal(
    `The table has more than ${limits.rows.toLocaleString('en')} rows, or cells far outside of it: keep the rows that are needed, and delete what stands beside or below them.`,
  )
}
function tooFull(line) {
  return new Refusal(
    `A cell${line > 0 ? ` on line ${line}` : ''} is longer than ${limits.cell.toLocaleString('en')} characters: shorten it.`,
  )
}
