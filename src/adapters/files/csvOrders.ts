import { createReadStream } from 'node:fs'
import { open } from 'node:fs/promises'
import { parse, type CsvError } from 'csv-parse'
import type { RawItem, RawOrder } from '@/core/order'
import { cleanText, foldText } from '@/core/order'
import { parseAmount, parseWeight } from '@/core/units'

/** What a column of an order file can mean. One row is one order line; rows of one order stand together. */
export const fileFields = [
  { id: 'number', name: 'Order number', needed: true, aliases: ['order number', 'order', 'order no', 'order id', 'number', 'reference', 'bestellnummer', 'ordernummer'] },
  { id: 'sku', name: 'SKU', needed: true, aliases: ['sku', 'item', 'article', 'product code', 'item number', 'artikel'] },
  { id: 'quantity', name: 'Quantity', needed: true, aliases: ['quantity', 'qty', 'pieces', 'menge', 'aantal'] },
  { id: 'name', name: 'Recipient', needed: true, aliases: ['name', 'recipient', 'ship to name', 'customer', 'buyer', 'empfänger'] },
  { id: 'street', name: 'Street', needed: true, aliases: ['street', 'address', 'address 1', 'address line 1', 'street 1', 'straße', 'straat'] },
  { id: 'city', name: 'City', needed: true, aliases: ['city', 'town', 'place', 'ort', 'stad'] },
  { id: 'country', name: 'Country', needed: true, aliases: ['country', 'country code', 'land'] },
  { id: 'postcode', name: 'Postcode', needed: false, aliases: ['postcode', 'postal code', 'zip', 'plz'] },
  { id: 'company', name: 'Company', needed: false, aliases: ['company', 'firm', 'firma', 'bedrijf'] },
  { id: 'street2', name: 'Street, second line', needed: false, aliases: ['street 2', 'address 2', 'address line 2'] },
  { id: 'region', name: 'Region', needed: false, aliases: ['region', 'state', 'county', 'province'] },
  { id: 'email', name: 'E-mail', needed: false, aliases: ['email', 'e-mail', 'e mail', 'mail'] },
  { id: 'phone', name: 'Phone', needed: false, aliases: ['phone', 'telephone', 'mobile', 'telefon'] },
  { id: 'title', name: 'Item title', needed: false, aliases: ['title', 'description', 'item name', 'bezeichnung'] },
  { id: 'price', name: 'Unit price', needed: false, aliases: ['price', 'unit price', 'preis', 'prijs'] },
  { id: 'currency', name: 'Currency', needed: false, aliases: ['currency', 'währung', 'valuta'] },
  { id: 'weight', name: 'Unit weight', needed: false, aliases: ['weight', 'unit weight', 'weight g', 'gewicht'] },
  { id: 'wording', name: 'Shipping method', needed: false, aliases: ['shipping method', 'shipping', 'delivery', 'service', 'versandart'] },
  { id: 'placedAt', name: 'Order time', needed: false, aliases: ['placed', 'placed at', 'order date', 'date', 'ordered', 'datum'] },
  { id: 'promisedBy', name: 'Promised by', needed: false, aliases: ['promised by', 'deliver by', 'due date', 'due', 'required by'] },
] as const
export type FileField = (typeof fileFields)[number]['id']

/** Which column (by its header) gives which field. */
export type FileMapping = Readonly<Partial<Record<FileField, string>>>

export interface FilePreview {
  readonly delimiter: string
  readonly headers: readonly string[]
  readonly mapping: FileMapping
  readonly missing: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

export interface FileProblem { readonly line: number; readonly reason: string; readonly row: string }
export interface FileOrder { readonly line: number; readonly order: RawOrder }

// A single record may not take more: a cell with a forgotten quote would otherwise swallow the file.
const longestRecord = 1_000_000

/** Reads the head of a file: delimiter, headers, the mapping they suggest, and some rows to look at. */
export async function previewOrderFile(file: string): Promise<FilePreview> {
  const { delimiter, encoding } = await sniff(file)
  const rows: string[][] = []
  let headers: string[] = []
  const parser = reader(file, delimiter, encoding, () => undefined)
  for await (const { record } of parser as AsyncIterable<{ record: string[] }>) {
    if (headers.length === 0) headers = record.map(cleanText)
    else rows.push(record.map((cell) => cell.slice(0, 200)))
    if (rows.length >= 8) break
  }
  const mapping = suggestMapping(headers)
  return { delimiter, headers, mapping, missing: missingFields(mapping), rows }
}

/** Names of the fields that an import needs and the mapping does not give. */
export const missingFields = (mapping: FileMapping): string[] => fileFields.filter((field) => field.needed && !mapping[field.id]).map((field) => field.name)

function suggestMapping(headers: readonly string[]): FileMapping {
  const mapping: Partial<Record<FileField, string>> = {}
  const plain = (text: string): string => foldText(text).replace(/[_./()-]+/g, ' ').replace(/\s+/g, ' ').trim()
  for (const field of fileFields) {
    const header = headers.find((candidate) => (field.aliases as readonly string[]).includes(plain(candidate)) && !Object.values(mapping).includes(candidate))
    if (header) mapping[field.id] = header
  }
  return mapping
}

/**
 * Reads the orders of a file in a stream. Each is given as soon as its rows are complete; `onProblem` hears of every
 * row that cannot be used, with its line and the reason, and `onBytes` of the progress.
 */
export async function* readOrderFile(file: string, mapping: FileMapping, defaults: { currency: string; now: string }, onProblem: (problem: FileProblem) => void, onBytes: (bytes: number) => void): AsyncGenerator<FileOrder> {
  const { delimiter, encoding } = await sniff(file)
  let columns: Partial<Record<FileField, number>> | null = null
  let open: { line: number; rows: Row[] } | null = null
  const finished = new Set<string>()
  const parser = reader(file, delimiter, encoding, (error) => onProblem({ line: Number(error.lines ?? 0), reason: readable(error), row: '' }))
  for await (const { record, info } of parser as AsyncIterable<{ record: string[]; info: { lines: number; bytes: number } }>) {
    if (!columns) {
      columns = columnsOf(record.map(cleanText), mapping)
      continue
    }
    onBytes(info.bytes)
    const line = info.lines
    const row = rowOf(record, columns)
    const reason = whyBad(row)
    if (reason) {
      onProblem({ line, reason, row: record.join(delimiter).slice(0, 300) })
      continue
    }
    if (open && open.rows[0]!.number !== row.number) {
      finished.add(open.rows[0]!.number)
      yield { line: open.line, order: orderOf(open.rows, defaults) }
      open = null
    }
    if (finished.has(row.number)) onProblem({ line, reason: `Order ${row.number} stands further up already: the rows of one order must stand together.`, row: record.join(delimiter).slice(0, 300) })
    else if (open) open.rows.push(row)
    else open = { line, rows: [row] }
  }
  if (open) yield { line: open.line, order: orderOf(open.rows, defaults) }
}

type Row = Record<FileField, string>

function columnsOf(headers: readonly string[], mapping: FileMapping): Partial<Record<FileField, number>> {
  const columns: Partial<Record<FileField, number>> = {}
  for (const field of fileFields) {
    const header = mapping[field.id]
    const at = header === undefined ? -1 : headers.indexOf(header)
    if (at >= 0) columns[field.id] = at
  }
  return columns
}

function rowOf(record: readonly string[], columns: Partial<Record<FileField, number>>): Row {
  return Object.fromEntries(fileFields.map(({ id }) => [id, columns[id] === undefined ? '' : cleanText(record[columns[id]] ?? '')])) as Row
}

function whyBad(row: Row): string | null {
  for (const field of fileFields) if (field.needed && row[field.id] === '') return `${field.name} is empty.`
  if (!/^\d{1,5}$/.test(row.quantity) || Number(row.quantity) < 1) return `The quantity "${row.quantity.slice(0, 30)}" is no whole number from 1 to 99,999.`
  if (row.weight !== '' && parseWeight(row.weight) === null) return `The weight "${row.weight.slice(0, 30)}" is no weight: write 250 g, or 1.2 kg.`
  if (row.price !== '' && parseAmount(row.price, row.currency || 'EUR') === null) return `The price "${row.price.slice(0, 30)}" is no amount.`
  if (row.placedAt !== '' && Number.isNaN(Date.parse(row.placedAt))) return `The order time "${row.placedAt.slice(0, 30)}" is no date: write YYYY-MM-DD.`
  if (row.promisedBy !== '' && !/^\d{4}-\d{2}-\d{2}$/.test(row.promisedBy)) return `The promised day "${row.promisedBy.slice(0, 30)}" is no date: write YYYY-MM-DD.`
  return null
}

function orderOf(rows: readonly Row[], defaults: { currency: string; now: string }): RawOrder {
  const head = rows[0]!
  const placedAt = head.placedAt || defaults.now
  return {
    id: head.number, number: head.number, placedAt, changedAt: placedAt, promisedBy: head.promisedBy, wording: head.wording,
    currency: head.currency || defaults.currency, buyer: { name: head.name, email: head.email, phone: head.phone },
    shipTo: { name: head.name, company: head.company, lines: [head.street, head.street2], city: head.city, postcode: head.postcode, region: head.region, country: head.country },
    items: rows.map((row, index): RawItem => ({
      line: String(index + 1), sku: row.sku, title: row.title, quantity: Number(row.quantity), price: row.price || undefined, weight: row.weight === '' ? undefined : parseWeight(row.weight)!, weightUnit: 'g',
    })),
  }
}

function reader(file: string, delimiter: string, encoding: BufferEncoding, onError: (error: CsvError) => void): AsyncIterable<unknown> {
  const parser = parse({
    delimiter, bom: true, info: true, encoding: encoding === 'latin1' ? 'latin1' : 'utf8', relax_column_count: true, skip_empty_lines: true, max_record_size: longestRecord,
    relax_quotes: false, skip_records_with_error: true, on_skip: (error) => void (error && onError(error)),
  })
  const source = createReadStream(file)
  source.on('error', (error) => parser.destroy(error))
  source.pipe(parser)
  return parser
}

const readable = (error: CsvError): string =>
  error.code === 'CSV_MAX_RECORD_SIZE' ? 'A row is longer than 1 MB: probably a quotation mark is missing.'
    : error.code === 'CSV_QUOTE_NOT_CLOSED' ? 'A quotation mark is opened and never closed.'
      : `The row cannot be read (${error.message.split('\n')[0]?.slice(0, 160)}).`

async function sniff(file: string): Promise<{ delimiter: string; encoding: BufferEncoding }> {
  const handle = await open(file)
  try {
    const buffer = Buffer.alloc(65_536)
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, 0)
    const head = buffer.subarray(0, bytesRead)
    let encoding: BufferEncoding = 'utf8'
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
