import { parse } from 'csv-parse/sync'
import { z } from 'zod'
import type { Outside } from '../../http'
import { largestFile, sftpCaller, type SftpFolder, type SftpPlace } from '../../sftp'
import { afterAll, afterFile, nextFile } from '../../sftpInbox'
import { orderDocument, type OrderFormat } from '../orderDocuments'
import type { NewsPage, PartnerClient, PartnerNews } from '../partner'

export interface WarehouseSettings extends SftpPlace {
  readonly order: OrderFormat
}

const reference = z.string().trim().min(1).max(80)
const text = z.string().trim().max(500).default('')
const stockItem = z.object({
  sku: z.string().trim().min(1).max(120),
  quantity: z.coerce.number().int().min(0).max(1e9),
})
const answerShape = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('acknowledged'), reference, text }),
  z.object({ kind: z.literal('refused'), reference, text }),
  z.object({
    kind: z.literal('despatched'),
    reference,
    carrier: text,
    numbers: z.array(z.string().trim().min(1).max(60)).min(1).max(99),
  }),
  z.object({ kind: z.literal('stock'), items: z.array(stockItem).max(200_000) }),
])
const inbox = { room: 'answers', wanted: /\.(json|csv)$/i, done: 'answers-read', refused: 'answers-refused' }

/** Folders at a partner's SFTP server: `orders` and `papers` are written, `answers` is read and put away. */
export function sftpWarehouse(settings: WarehouseSettings, outside: Outside): PartnerClient {
  const connected = sftpCaller(
    settings,
    outside,
    'The folder is not there: make it at the server, or correct the folder.',
  )
  return {
    // The order comes last: whoever finds it finds its papers.
    handOver: (what, papers) =>
      connected(async ({ put }) => {
        for (const { name, content } of papers) await put('papers', name, content)
        const document = orderDocument(what, settings.order)
        await put('orders', document.name, document.content)
        return { receipt: `orders/${document.name}` }
      }),
    takeBack: ({ reference: name, order }) =>
      connected(async ({ put }) => {
        await put('orders', `${name}.cancelled.json`, `${JSON.stringify({ cancelled: name, order })}\n`)
        return { receipt: `orders/${name}.cancelled.json` }
      }),
    news: (cursor) => connected((folder) => readAnswers(folder, cursor)),
  }
}

/** One file a page, the oldest first; those of the page before are put away. */
async function readAnswers(folder: SftpFolder, cursor: string): Promise<NewsPage> {
  const next = await nextFile(folder, inbox, cursor)
  if (!next) return { news: [], bad: [], cursor: afterAll, more: false }
  const { file, content, more } = next
  const read =
    content === null
      ? { news: [], bad: [`It is larger than ${largestFile / 1e6} MB: split it.`] }
      : readAnswer(file.name, content.toString('utf8'))
  return {
    news: read.news,
    bad: read.bad.map((reason) => `${file.name}: ${reason}`),
    cursor: afterFile(file, read.bad.length === 0),
    more,
  }
}

/** What a file of answers says: one or a list as JSON, or stock as CSV with the columns sku and quantity. */
export function readAnswer(file: string, content: string): { news: PartnerNews[]; bad: string[] } {
  if (/\.csv$/i.test(file)) return readStock(file, content)
  let found: unknown
  try {
    found = JSON.parse(content)
  } catch {
    return { news: [], bad: ['It is no JSON.'] }
  }
  const news: PartnerNews[] = []
  const bad: string[] = []
  for (const [i, one] of (Array.isArray(found) ? (found as unknown[]) : [found]).entries()) {
    const parsed = answerShape.safeParse(one)
    if (parsed.success) news.push({ ...parsed.data, id: `${file} ${i}` })
    else bad.push(`answer ${i + 1}: ${parsed.error.issues[0]!.path.join('.')} ${parsed.error.issues[0]!.message}`)
  }
  return { news, bad }
}

function readStock(file: string, content: string): { news: PartnerNews[]; bad: string[] } {
  let table: string[][]
  try {
    table = parse(content, { bom: true, relaxColumnCount: true, skipEmptyLines: true })
  } catch {
    return { news: [], bad: ['It is no CSV.'] }
  }
  const [head = [], ...rows] = table
  const at = (name: string): number => head.findIndex((title) => title.trim().toLowerCase() === name)
  const [sku, quantity] = [at('sku'), at('quantity')]
  if (sku < 0 || quantity < 0) return { news: [], bad: ['It has no columns “sku” and “quantity”.'] }
  const parsed = rows.map((row) => stockItem.safeParse({ sku: row[sku], quantity: row[quantity] }))
  return {
    news: [{ kind: 'stock', id: file, items: parsed.flatMap(({ data }) => data ?? []) }],
    bad: parsed.flatMap(({ success }, i) => (success ? [] : [`line ${i + 2} has no SKU or no whole number of pieces`])),
  }
}
