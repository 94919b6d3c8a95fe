import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { z } from 'zod'
import type { RawOrder } from '@/core/order'
import { missingFields, previewOrderFile, readOrderFile } from '../../files/csvOrders'
import { sheetAsCsv } from '../../files/spreadsheet'
import { readUblOrder } from './ublOrder'

/** The orders of a file, what of it cannot be used, and why the whole cannot. */
export interface FileContent {
  readonly orders: readonly RawOrder[]
  readonly bad: readonly { readonly row: string; readonly reason: string }[]
}

export const readable = /\.(?:csv|xlsx|jsonl|ndjson|xml)$/i

/** Reads a file of orders by the ending of its name. */
export async function readOrdersOf(name: string, content: Buffer): Promise<FileContent> {
  const whole = (reason: string): FileContent => ({ orders: [], bad: [{ row: name, reason }] })
  if (content.length === 0) return whole('The file is empty.')
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase()
  switch (ending) {
    case 'xml': {
      const read = readUblOrder(content.toString('utf8'))
      return 'order' in read ? { orders: [read.order], bad: [] } : whole(read.bad)
    }
    case 'jsonl':
    case 'ndjson':
      return readJsonLines(content.toString('utf8'))
    case 'xlsx': {
      const table = await sheetAsCsv(content)
      return 'sentence' in table ? whole(table.sentence) : readTable(name, table.csv)
    }
    default:
      return readTable(name, content)
  }
}

/** A table whose columns are called as Gharry knows them; in a folder nobody can be asked. */
async function readTable(name: string, content: Buffer): Promise<FileContent> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-file-'))
  const file = join(folder, 'orders.csv')
  try {
    writeFileSync(file, content, { mode: 0o600 })
    const { mapping, headers } = await previewOrderFile(file)
    const missing = missingFields(mapping)
    if (missing.length > 0)
      return {
        orders: [],
        bad: [
          {
            row: `${name}: ${headers.join(', ')}`.slice(0, 300),
            reason: `No column gives ${missing.join(', ')}: name the columns as in the pattern, or drop the file on Intake and say which is which.`,
          },
        ],
      }
    const bad: { row: string; reason: string }[] = []
    const orders: RawOrder[] = []
    const defaults = { currency: '', now: new Date().toISOString(), zone: 'UTC' }
    for await (const { order } of readOrderFile(
      file,
      mapping,
      defaults,
      ({ line, reason, row }) => bad.push({ row: `${name}, line ${line}: ${row}`.slice(0, 300), reason }),
      () => undefined,
    ))
      orders.push(withoutEmptyCurrency(order))
    return { orders, bad }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** What names no currency has that of its channel. */
function withoutEmptyCurrency({ currency, ...order }: RawOrder): RawOrder {
  return currency ? { ...order, currency } : order
}

const text = z.string().max(1000)
const amount = z.union([z.string(), z.number()])
/** An order as one line of JSON: docs/formats.md has it in words. */
const jsonOrder = z.strictObject({
  number: text.min(1),
  placedAt: text.optional(),
  promisedBy: text.optional(),
  wording: text.optional(),
  currency: text.optional(),
  shippingPaid: amount.optional(),
  value: amount.optional(),
  buyer: z.strictObject({ name: text, email: text, phone: text }).partial().optional(),
  shipTo: z
    .strictObject({
      name: text,
      company: text,
      lines: z.array(text),
      city: text,
      postcode: text,
      region: text,
      country: text,
    })
    .partial(),
  items: z
    .array(
      z.strictObject({
        line: text.optional(),
        sku: text.optional(),
        title: text.optional(),
        quantity: z.number(),
        price: amount.optional(),
        weight: z.number().optional(),
        weightUnit: text.optional(),
      }),
    )
    .min(1),
})

function readJsonLines(content: string): FileContent {
  const orders: RawOrder[] = []
  const bad: { row: string; reason: string }[] = []
  content.split('\n').forEach((line, i) => {
    if (line.trim() === '') return
    const parsed = jsonOrder.safeParse(jsonOf(line))
    if (parsed.success) orders.push({ ...parsed.data, id: parsed.data.number })
    else
      bad.push({
        row: line.slice(0, 300),
        reason: `Line ${i + 1}: ${parsed.error.issues[0]?.path.join('.') || 'the line'}: ${parsed.error.issues[0]?.message ?? 'is no JSON'}`,
      })
  })
  return { orders, bad }
}

function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line)
  } catch {
    return undefined
  }
}
