import { csvFile, readSheet, xlsxFile } from '@/adapters'
import { ambiguity, readNumber, toNumber } from '@/core/units'
import type { World } from '@/core/world'
import { countStock, stockAt, stockPage } from '@/data'
import { type Answer, type Application, refuse, type Refused } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'

const columns = ['sku', 'location', 'on hand'] as const
const mostPieces = 1_000_000_000

interface Count {
  readonly location: string
  readonly sku: string
  readonly onHand: number
}
interface Problem {
  readonly line: number
  readonly column: string
  readonly sentence: string
}

/** What taking a file of counts would change. */
export interface StockPreview {
  readonly counts: number
  /** Those that differ from the books, and some of them; null where it was never counted. */
  readonly changes: number
  readonly some: readonly (Count & { readonly before: number | null })[]
  readonly problems: readonly Problem[]
}

const shown = 300

/** Looks at a file of counts: what it would change, and which cells cannot be read. */
export async function previewStock(gharry: Application, content: Buffer): Promise<Answer<StockPreview>> {
  const read = await countsIn(gharry, content)
  if ('code' in read) return read
  const changed: (Count & { before: number | null })[] = []
  for (const [location, counts] of byLocation(read.counts)) {
    const now = await stockAt(
      gharry.db,
      location,
      counts.map(({ sku }) => sku),
    )
    for (const one of counts) {
      const before = now.get(one.sku)?.onHand ?? null
      if (before !== one.onHand) changed.push({ ...one, before })
    }
  }
  const { counts, problems } = read
  return {
    ok: true,
    ...{ counts: counts.length, changes: changed.length },
    ...{ some: changed.slice(0, shown), problems: problems.slice(0, shown) },
  }
}

/** Takes a file of counts; with a cell that cannot be read, none of it. */
export async function takeStockFile(gharry: Application, content: Buffer): Promise<Answer<{ changes: number }>> {
  const read = await countsIn(gharry, content)
  if ('code' in read) return read
  const [wrong] = read.problems
  if (wrong) return refuse('bad-table', `Line ${wrong.line}, ${wrong.column}: ${wrong.sentence}`)
  const of = {
    at: gharry.now().toISOString(),
    kind: 'count' as const,
    note: 'from a file',
    author: gharry.settings.author,
  }
  let changes = 0
  await gharry.db.transaction(async (trx) => {
    for (const [location, counts] of byLocation(read.counts)) changes += await countStock(trx, location, counts, of)
  })
  return { ok: true, changes }
}

const byLocation = (counts: readonly Count[]): Map<string, Count[]> => {
  const map = new Map<string, Count[]>()
  for (const one of counts) map.set(one.location, [...(map.get(one.location) ?? []), one])
  return map
}

async function countsIn(
  { db }: Application,
  content: Buffer,
): Promise<Refused | { readonly counts: readonly Count[]; readonly problems: readonly Problem[] }> {
  const { world } = await currentWorld(db)
  const sheet = await readSheet(content, columns, world.locations.length === 1 ? ['sku', 'on hand'] : columns)
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  const counts: Count[] = []
  const problems: Problem[] = []
  const seen = new Map<string, number>()
  for (const { line, cells } of sheet.rows) {
    const wrong = (column: string, sentence: string): void => void problems.push({ line, column, sentence })
    const sku = (cells.sku ?? '').trim()
    const location = locationIn(world, (cells.location ?? '').trim())
    const cell = (cells['on hand'] ?? '').trim()
    const number = readNumber(cell)
    const onHand = number === null || number === 'ambiguous' ? NaN : toNumber(number)
    if (sku === '' || sku.length > 200) wrong('sku', 'The SKU is missing, or longer than 200 characters.')
    else if (location === null) wrong('location', `There is no location “${(cells.location ?? '').slice(0, 60)}”.`)
    else if (!Number.isInteger(onHand) || onHand < 0 || onHand > mostPieces)
      wrong('on hand', ambiguity(cell) ?? `“${cell.slice(0, 60)}” is no number of pieces: 0 or more, whole.`)
    else {
      const key = `${location}\n${sku}`
      const twice = seen.get(key)
      seen.set(key, line)
      if (twice === undefined) counts.push({ location, sku, onHand })
      else wrong('sku', `“${sku}” is on line ${twice} already.`)
    }
  }
  return { counts, problems }
}

/** A location by its identifier or its name; the only one where none is named. */
function locationIn({ locations }: World, name: string): string | null {
  if (name === '') return locations.length === 1 ? locations[0]!.id : null
  const plain = name.toLowerCase()
  return locations.find(({ id, name: own }) => id.toLowerCase() === plain || own.toLowerCase() === plain)?.id ?? null
}

/** The stock as a file, which can be corrected and taken again. */
export async function exportStock({ db }: Application, format: 'csv' | 'xlsx'): Promise<Buffer | null> {
  const rows = (await stockPage(db, {}, 0, 1_000_000)).map(({ sku, location, onHand }) => ({
    ...{ sku, location, 'on hand': String(onHand) },
  }))
  return format === 'csv' ? csvFile(columns, rows) : xlsxFile('Stock', columns, rows)
}
