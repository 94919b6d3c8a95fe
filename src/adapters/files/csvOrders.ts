import { cleanText, foldText, type RawItem, type RawOrder, type Wishes } from '@/core/order'
import { ambiguity, type DecimalSign, money, parseAmount, parseSize, parseWeight, plainAmount } from '@/core/units'
import { unescaped } from './formulas'
import { csvRecords, maxColumns, shapeOf } from './csvRecords'
import { dayIn, decimalIn, momentIn, type DateOrder, type Proposal } from './signs'

/** What a column of an order file can mean. One row is one order line; rows of one order stand together. */
export const fileFields = [
  {
    id: 'number',
    name: 'Order number',
    needed: true,
    aliases: ['order number', 'order', 'order no', 'order id', 'number', 'reference', 'bestellnummer', 'ordernummer'],
  },
  {
    id: 'sku',
    name: 'SKU',
    needed: true,
    aliases: ['sku', 'item', 'article', 'product code', 'item number', 'artikel'],
  },
  { id: 'quantity', name: 'Quantity', needed: true, aliases: ['quantity', 'qty', 'pieces', 'menge', 'aantal'] },
  {
    id: 'name',
    name: 'Recipient',
    needed: true,
    aliases: ['name', 'recipient', 'ship to name', 'customer', 'buyer', 'empfänger'],
  },
  {
    id: 'street',
    name: 'Street',
    needed: true,
    aliases: ['street', 'address', 'address 1', 'address line 1', 'street 1', 'straße', 'straat'],
  },
  { id: 'city', name: 'City', needed: true, aliases: ['city', 'town', 'place', 'ort', 'stad'] },
  { id: 'country', name: 'Country', needed: true, aliases: ['country', 'country code', 'land'] },
  { id: 'postcode', name: 'Postcode', needed: false, aliases: ['postcode', 'postal code', 'zip', 'plz'] },
  { id: 'company', name: 'Company', needed: false, aliases: ['company', 'firm', 'firma', 'bedrijf'] },
  {
    id: 'street2',
    name: 'Street, second line',
    needed: false,
    aliases: ['street 2', 'address 2', 'address line 2', 'second line', 'street second line'],
  },
  { id: 'region', name: 'Region', needed: false, aliases: ['region', 'state', 'county', 'province'] },
  { id: 'email', name: 'E-mail', needed: false, aliases: ['email', 'e-mail', 'e mail', 'mail'] },
  { id: 'phone', name: 'Phone', needed: false, aliases: ['phone', 'telephone', 'mobile', 'telefon'] },
  {
    id: 'title',
    name: 'Item title',
    needed: false,
    aliases: ['title', 'item title', 'description', 'item name', 'bezeichnung'],
  },
  { id: 'price', name: 'Unit price', needed: false, aliases: ['price', 'unit price', 'preis', 'prijs'] },
  { id: 'currency', name: 'Currency', needed: false, aliases: ['currency', 'währung', 'valuta'] },
  { id: 'weight', name: 'Unit weight', needed: false, aliases: ['weight', 'unit weight', 'weight g', 'gewicht'] },
  {
    id: 'wording',
    name: 'Shipping method',
    needed: false,
    aliases: ['shipping method', 'shipping', 'delivery', 'service', 'versandart'],
  },
  {
    id: 'placedAt',
    name: 'Order time',
    needed: false,
    aliases: ['placed', 'placed at', 'order time', 'order date', 'date', 'ordered', 'datum'],
  },
  {
    id: 'promisedBy',
    name: 'Promised by',
    needed: false,
    aliases: ['promised by', 'deliver by', 'due date', 'due', 'required by'],
  },
  {
    id: 'preset',
    name: 'Package',
    needed: false,
    aliases: ['package', 'package preset', 'preset', 'packaging', 'box'],
  },
  {
    id: 'parcelWeight',
    name: 'Parcel weight',
    needed: false,
    aliases: ['parcel weight', 'package weight', 'gross weight', 'total weight'],
  },
  {
    id: 'parcelSize',
    name: 'Parcel size',
    needed: false,
    aliases: ['parcel size', 'package size', 'dimensions', 'parcel dimensions'],
  },
  { id: 'insurance', name: 'Insurance', needed: false, aliases: ['insurance', 'insure', 'insured value', 'cover'] },
  {
    id: 'message',
    name: 'Gift message',
    needed: false,
    aliases: ['gift message', 'message', 'gift note', 'greeting'],
  },
] as const
export type FileField = (typeof fileFields)[number]['id']

/**
 * Which column (by its header) gives which field; and, for the whole file, which sign is before decimals and in
 * which order a date is written.
 */
export type FileMapping = Readonly<Partial<Record<FileField, string>>> & {
  readonly decimal?: DecimalSign
  readonly dates?: DateOrder
}

export interface FilePreview {
  readonly delimiter: string
  readonly headers: readonly string[]
  readonly mapping: FileMapping
  readonly missing: readonly string[]
  readonly rows: readonly (readonly string[])[]
  /** What the columns of numbers and dates say of their signs; `asked` where a person has to say. */
  readonly decimal: Proposal<DecimalSign>
  readonly dates: Proposal<DateOrder>
}

export interface FileProblem {
  readonly line: number
  readonly reason: string
  readonly row: string
}
export interface FileOrder {
  readonly line: number
  readonly order: RawOrder
}

// So many rows are looked at for the signs of numbers and dates.
const rowsLookedAt = 20_000

/** Reads the head of a file: delimiter, headers, the mapping they suggest, and some rows to look at. */
export async function previewOrderFile(file: string): Promise<FilePreview> {
  const shape = await shapeOf(file)
  const rows: (readonly string[])[] = []
  let headers: readonly string[] = []
  for await (const record of csvRecords(file, shape)) {
    if ('wrong' in record) {
      if (headers.length > 0) continue
      throw new Error(record.wrong)
    }
    if (headers.length === 0) headers = record.cells.map(cleanText)
    else rows.push(record.cells)
    if (headers.length > maxColumns)
      throw new Error(`The file has more than ${maxColumns} columns: keep those that are needed.`)
    if (rows.length >= rowsLookedAt) break
  }
  const columns = suggestMapping(headers)
  const cellsOf = (...fields: FileField[]): string[] =>
    fields.flatMap((field) => {
      const at = columns[field] === undefined ? -1 : headers.indexOf(columns[field])
      return at < 0 ? [] : rows.map((row) => row[at] ?? '')
    })
  const decimal = decimalIn(cellsOf('price', 'weight', 'parcelWeight', 'parcelSize', 'insurance'))
  const dates = dayIn(cellsOf('placedAt', 'promisedBy'))
  const mapping: FileMapping = {
    ...columns,
    ...(decimal.proposed ? { decimal: decimal.proposed } : {}),
    ...(dates.proposed ? { dates: dates.proposed } : {}),
  }
  return {
    delimiter: shape.delimiter,
    headers,
    mapping,
    missing: missingFields(mapping),
    rows: rows.slice(0, 8).map((row) => row.map((cell) => cell.slice(0, 200))),
    decimal,
    dates,
  }
}

/** Names of the fields that an import needs and the mapping does not give. */
export const missingFields = (mapping: FileMapping): string[] =>
  fileFields.filter((field) => field.needed && !mapping[field.id]).map((field) => field.name)

/** Columns of a file that no field is read from. */
export const unusedColumns = ({ headers, mapping }: Pick<FilePreview, 'headers' | 'mapping'>): string[] =>
  headers.filter((header) => header !== '' && !fileFields.some(({ id }) => mapping[id] === header))

const plainHeader = (text: string): string =>
  foldText(text)
    .replace(/[_./(),-]/g, ' ')
    .split(' ')
    .filter(Boolean)
    .join(' ')

function suggestMapping(headers: readonly string[]): Partial<Record<FileField, string>> {
  const mapping: Partial<Record<FileField, string>> = {}
  const taken = new Set<string>()
  const plain = new Map(headers.map((header) => [header, plainHeader(header)]))
  for (const field of fileFields) {
    const names: readonly string[] = [plainHeader(field.name), ...field.aliases]
    const header = headers.find((candidate) => names.includes(plain.get(candidate)!) && !taken.has(candidate))
    if (header === undefined) continue
    mapping[field.id] = header
    taken.add(header)
  }
  return mapping
}

/**
 * What a file leaves unsaid: the currency of its prices, the time of its orders, and the zone that its times are told
 * in.
 */
export interface FileDefaults {
  readonly currency: string
  readonly now: string
  readonly zone: string
}

/**
 * Reads the orders of a file in a stream. Each is given as soon as its rows are complete; `onProblem` hears of every
 * row that cannot be used, with its line and the reason, and `onBytes` of the progress. An order with a row that cannot
 * be used is not given at all: half of it would be sent; `onLeft` gets all its rows, as they are in the file. Nothing
 * after a bad row is lost.
 */
export async function* readOrderFile(
  file: string,
  mapping: FileMapping,
  defaults: FileDefaults,
  onProblem: (problem: FileProblem) => void,
  onBytes: (bytes: number) => void,
  onLeft: (rows: readonly (readonly string[])[], header: readonly string[]) => void = () => undefined,
): AsyncGenerator<FileOrder> {
  const shape = await shapeOf(file)
  let columns: Partial<Record<FileField, number>> | null = null
  let header: readonly string[] = []
  let open: { line: number; rows: Row[]; cells: (readonly string[])[]; spoilt: number | null } | null = null
  const finished = new Set<string>()
  const close = (): FileOrder | null => {
    if (!open) return null
    const { line, rows, cells, spoilt } = open
    const number = rows[0]!.number
    open = null
    finished.add(number)
    if (spoilt === null) return { line, order: orderOf(rows, mapping, defaults) }
    onLeft(cells, header)
    if (rows.length > 1)
      onProblem({
        line,
        reason: `Order ${number} is not taken, as line ${spoilt} of it cannot be used: correct that line and send the file again.`,
        row: '',
      })
    return null
  }
  for await (const record of csvRecords(file, shape)) {
    onBytes(record.bytes)
    const { line } = record
    if ('wrong' in record) {
      onProblem({ line, reason: record.wrong, row: '' })
      continue
    }
    if (!columns) {
      header = record.cells
      columns = columnsOf(header.map(cleanText), mapping)
      continue
    }
    const row = rowOf(record.cells, columns)
    const shown = record.cells.join(shape.delimiter).slice(0, 300)
    if (open && row.number !== '' && open.rows[0]!.number !== row.number) {
      const done = close()
      if (done) yield done
    }
    if (finished.has(row.number)) {
      onProblem({
        line,
        reason: `Order ${row.number} is further up already: the rows of one order must follow each other.`,
        row: shown,
      })
      onLeft([record.cells], header)
      continue
    }
    const reason = whyBad(row, mapping, defaults) ?? (open ? whyOther(row, open.rows[0]!, open.line) : null)
    if (reason) onProblem({ line, reason, row: shown })
    if (row.number === '') {
      onLeft([record.cells], header)
      continue
    }
    open ??= { line, rows: [], cells: [], spoilt: null }
    open.rows.push(row)
    open.cells.push(record.cells)
    if (reason) open.spoilt ??= line
  }
  const last = close()
  if (last) yield last
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
  return Object.fromEntries(
    fileFields.map(({ id }) => [id, columns[id] === undefined ? '' : cleanText(unescaped(record[columns[id]] ?? ''))]),
  ) as Row
}

const maxFieldLength = 500

function whyBad(row: Row, { decimal, dates }: FileMapping, { currency, zone }: FileDefaults): string | null {
  for (const field of fileFields) {
    if (field.needed && row[field.id] === '') return `${field.name} is empty.`
    if (row[field.id].length > maxFieldLength) return `${field.name} is longer than ${maxFieldLength} characters.`
  }
  const said = (text: string): string => text.slice(0, 30)
  if (!/^\d{1,5}$/.test(row.quantity) || Number(row.quantity) < 1)
    return `The quantity "${said(row.quantity)}" is no whole number from 1 to 99,999.`
  const grams = row.weight === '' ? 1 : parseWeight(row.weight, 'g', decimal)
  if (grams === null || grams < 0)
    return (
      (decimal === undefined ? ambiguity(row.weight) : null) ??
      `The weight "${said(row.weight)}" is no weight: write 250 g, or 1.2 kg.`
    )
  const minor = row.price === '' ? 0 : parseAmount(row.price, row.currency || currency, decimal)
  if (minor === null || minor < 0)
    return (
      (decimal === undefined ? ambiguity(row.price) : null) ??
      `The price "${said(row.price)}" is no amount of ${row.currency || currency}.`
    )
  if (row.placedAt !== '') {
    const placed = momentIn(row.placedAt, zone, dates)
    if (typeof placed === 'string') return `The order time "${said(row.placedAt)}" ${placed}`
  }
  if (row.promisedBy !== '') {
    const promised = momentIn(row.promisedBy.slice(0, 40), 'UTC', dates)
    if (typeof promised === 'string') return `The promised day "${said(row.promisedBy)}" ${promised}`
  }
  return whyNoWishes(row, row.currency || currency, decimal)
}

/** Why what a row wants of its parcel cannot be read. */
function whyNoWishes(row: Row, currency: string, decimal: DecimalSign | undefined): string | null {
  const said = (text: string): string => text.slice(0, 30)
  if (row.preset !== '' && row.parcelSize !== '')
    return 'Package and parcel size are both there: a parcel has one of them.'
  if (row.parcelWeight !== '' && !((parseWeight(row.parcelWeight, 'g', decimal) ?? 0) > 0))
    return (
      (decimal === undefined ? ambiguity(row.parcelWeight) : null) ??
      `The parcel weight "${said(row.parcelWeight)}" is no weight: write 2.5 kg, or 1 lb 4 oz.`
    )
  if (row.parcelSize !== '' && parseSize(row.parcelSize, 'cm', decimal) === null)
    return `The parcel size "${said(row.parcelSize)}" is no size: write 30 × 20 × 10 cm.`
  return row.insurance !== '' && insuranceIn(row.insurance, currency, decimal) === null
    ? `The insurance "${said(row.insurance)}" is neither yes, no nor an amount of ${currency}.`
    : null
}

/** `yes` for the value of the order, `no` for none, or an amount. */
function insuranceIn(text: string, currency: string, decimal: DecimalSign | undefined): Wishes['insurance'] | null {
  const plain = foldText(text)
  if (['yes', 'y', 'true', 'order value'].includes(plain)) return 'order value'
  if (['no', 'n', 'false', 'none', '0'].includes(plain)) return 'none'
  const minor = parseAmount(text, currency, decimal)
  return minor === null || minor <= 0 ? null : money(minor, currency)
}

/** What the first row of an order wants of its parcel; absent when it wants nothing. */
function wishesIn(row: Row, currency: string, decimal: DecimalSign | undefined): { wishes?: Wishes } {
  const wishes: Wishes = {
    ...(row.preset === '' ? {} : { preset: row.preset }),
    ...(row.parcelWeight === '' ? {} : { weight: parseWeight(row.parcelWeight, 'g', decimal)! }),
    ...(row.parcelSize === '' ? {} : { size: parseSize(row.parcelSize, 'cm', decimal)! }),
    ...(row.insurance === '' ? {} : { insurance: insuranceIn(row.insurance, currency, decimal)! }),
  }
  return Object.keys(wishes).length > 0 ? { wishes } : {}
}

/**
 * Why a row cannot be one of an order that another row began: they must name one buyer, place, currency and promise.
 */
function whyOther(row: Row, first: Row, line: number): string | null {
  const same: readonly FileField[] = [
    'name',
    'company',
    'street',
    'street2',
    'postcode',
    'city',
    'region',
    'country',
    'currency',
    'wording',
    'promisedBy',
    'preset',
    'parcelWeight',
    'parcelSize',
    'insurance',
    'message',
  ]
  // What the first row alone says, the others may leave out.
  const other = same.find((field) => row[field] !== '' && foldText(row[field]) !== foldText(first[field]))
  return other === undefined
    ? null
    : `${fileFields.find(({ id }) => id === other)!.name} is "${row[other].slice(0, 60)}", but "${first[other].slice(0, 60)}" on line ${line} of the same order: its rows must name the same.`
}

function orderOf(
  rows: readonly Row[],
  { decimal, dates }: FileMapping,
  { currency, now, zone }: FileDefaults,
): RawOrder {
  const head = rows[0]!
  const moment = (text: string): string => new Date(momentIn(text, zone, dates)).toISOString()
  const placedAt = head.placedAt ? moment(head.placedAt) : now
  const inCurrency = head.currency || currency
  return {
    id: head.number,
    number: head.number,
    placedAt,
    changedAt: placedAt,
    promisedBy:
      head.promisedBy === '' ? '' : new Date(momentIn(head.promisedBy, 'UTC', dates)).toISOString().slice(0, 10),
    wording: head.wording,
    currency: inCurrency,
    buyer: { name: head.name, email: head.email, phone: head.phone },
    shipTo: {
      name: head.name,
      company: head.company,
      lines: [head.street, head.street2],
      city: head.city,
      postcode: head.postcode,
      region: head.region,
      country: head.country,
    },
    items: rows.map((row, index): RawItem => ({
      line: String(index + 1),
      sku: row.sku,
      title: row.title,
      quantity: Number(row.quantity),
      ...(row.price === ''
        ? {}
        : { price: plainAmount(money(parseAmount(row.price, inCurrency, decimal)!, inCurrency)) }),
      ...(row.weight === '' ? {} : { weight: parseWeight(row.weight, 'g', decimal)! }),
      weightUnit: 'g',
    })),
    ...(head.message === '' ? {} : { message: head.message }),
    ...wishesIn(head, inCurrency, decimal),
  }
}
