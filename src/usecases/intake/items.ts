import { csvFile, readSheet, xlsxFile } from '@/adapters'
import {
  emptyCard,
  type ItemCard,
  itemColumns,
  type ItemProblem,
  type ItemRow,
  type LearnedWeight,
  learnWeights,
  readItemTable,
  waitingStates,
  writeItemTable,
} from '@/core/order'
import type { World } from '@/core/world'
import { itemUses, newestWorld, orderRows, removePin, weightCorrections, type ItemUse } from '@/data'
import { changeWorld, currentWorld } from '../shared/changeWorld'
import { pictureAddresses } from './itemPictures'
import { refuse, type Answer, type Application } from '../shared/application'

export interface ItemView {
  readonly row: ItemRow
  readonly use: ItemUse
  /** What is not known of it, in words. */
  readonly missing: readonly string[]
  /** It is in orders, but not in the list yet. */
  readonly unlisted: boolean
  readonly measured: boolean
  /** Where its picture is. */
  readonly picture: string | null
}

export interface ItemsView {
  readonly version: number
  readonly items: readonly ItemView[]
  readonly total: number
  /** Waiting orders with an item of which something is missing. */
  readonly harmed: number
  readonly learned: readonly LearnedWeight[]
}

const maxShown = 300
const days = (n: number): number => n * 86_400_000

/** The item list: what harms the most waiting orders first. */
export async function showItems(gharry: Application, search: string): Promise<ItemsView | null> {
  const newest = await newestWorld(gharry.db)
  if (!newest) return null
  const uses = await usesNow(gharry)
  const listed = new Set(newest.world.items.map(({ sku }) => sku))
  const cards = [
    ...newest.world.items,
    ...[...uses.keys()].filter((sku) => sku !== '' && !listed.has(sku)).map(emptyCard),
  ]
  const words = search.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const items = cards.map((card): ItemView => ({
    row: writeItemTable([card])[0]!,
    use: uses.get(card.sku) ?? { sku: card.sku, waiting: 0, recent: 0 },
    missing: missingOf(card),
    unlisted: !listed.has(card.sku),
    measured: card.measured ?? false,
    picture: null,
  }))
  const found = items.filter(({ row }) =>
    words.every((word) => `${row.sku} ${row.title} ${row.tags}`.toLowerCase().includes(word)),
  )
  const harm = (item: ItemView): number => (item.missing.length > 0 ? item.use.waiting : 0)
  found.sort((a, b) => harm(b) - harm(a) || b.use.recent - a.use.recent || (a.row.sku! < b.row.sku! ? -1 : 1))
  const shown = found.slice(0, maxShown)
  const pictures = await pictureAddresses(
    gharry.db,
    shown.map(({ row }) => row.sku!),
  )
  return {
    version: newest.version,
    items: shown.map((item) => ({ ...item, picture: pictures[item.row.sku!] ?? null })),
    total: found.length,
    harmed: items.filter(({ missing }) => missing.length > 0).reduce((sum, { use }) => sum + use.waiting, 0),
    learned: await learnedNow(gharry, newest.world),
  }
}

const keptFor = 10_000
const kept = new WeakMap<object, { readonly at: number; readonly uses: ReadonlyMap<string, ItemUse> }>()

/**
 * How often each SKU is used. The orders of the day are read for it, so it is kept for some seconds: a search asks at
 * every key.
 */
async function usesNow({ db, now }: Application): Promise<ReadonlyMap<string, ItemUse>> {
  const at = now().getTime()
  const before = kept.get(db)
  if (before && at - before.at < keptFor) return before.uses
  const uses = new Map(
    (await itemUses(db, new Date(at - days(90)).toISOString().slice(0, 10))).map((use) => [use.sku, use]),
  )
  kept.set(db, { at, uses })
  return uses
}

/** What corrections say beyond what the list knows already. */
async function learnedNow({ db }: Application, { items }: World): Promise<LearnedWeight[]> {
  const known = new Map(items.map((card) => [card.sku, card.weight]))
  return learnWeights(await weightCorrections(db))
    .filter(({ sku, after }) => known.get(sku) !== after)
    .map((learned) => ({ ...learned, before: known.get(learned.sku) ?? learned.before }))
}

function missingOf(card: ItemCard): string[] {
  return [
    ...(card.weight > 0 ? [] : ['weight']),
    ...(Math.max(...card.size) > 1 ? [] : ['size']),
    ...(card.hsCode === '' ? ['HS code'] : []),
    ...(card.origin === '' ? ['origin'] : []),
  ]
}

/** The whole list as a file. */
export async function exportItems(gharry: Application, format: 'csv' | 'xlsx'): Promise<Buffer | null> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world) return null
  const rows = writeItemTable(world.items)
  return format === 'csv' ? csvFile(itemColumns, rows) : xlsxFile('Items', itemColumns, rows)
}

export interface ItemPreview {
  readonly version: number
  readonly problems: readonly ItemProblem[]
  readonly added: readonly string[]
  /** Cells that differ, in the words of the table. */
  readonly changed: readonly {
    readonly sku: string
    readonly column: string
    readonly before: string
    readonly after: string
  }[]
}

/** What taking a file of items would change. */
export async function previewItems(gharry: Application, content: Buffer): Promise<Answer<ItemPreview>> {
  const newest = await currentWorld(gharry.db)
  const sheet = await readSheet(content, itemColumns, ['sku'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  const { cards, problems } = readItemTable(sheet.rows, newest.world.items)
  const known = new Map(newest.world.items.map((card) => [card.sku, writeItemTable([card])[0]!]))
  const changed = cards.flatMap((card) => {
    const [after, before] = [writeItemTable([card])[0]!, known.get(card.sku)]
    return before
      ? itemColumns
          .filter((column) => (before[column] ?? '') !== (after[column] ?? ''))
          .map((column) => ({ sku: card.sku, column, before: before[column] ?? '', after: after[column] ?? '' }))
      : []
  })
  return {
    ok: true,
    version: newest.version,
    problems: problems.slice(0, 200),
    added: cards.filter(({ sku }) => !known.has(sku)).map(({ sku }) => sku),
    changed,
  }
}

export async function takeItems(
  gharry: Application,
  content: Buffer,
  version: number,
): Promise<Answer<{ version: number }>> {
  const sheet = await readSheet(content, itemColumns, ['sku'])
  return sheet.ok ? changeItems(gharry, sheet.rows, version) : refuse('bad-file', sheet.sentence)
}

/** Takes rows into the list; the waiting orders get them at once. */
export const changeItems = (
  gharry: Application,
  rows: readonly { readonly line: number; readonly cells: ItemRow }[],
  version: number,
): Promise<Answer<{ version: number }>> =>
  changeWorld(gharry, version, 'The item list changed', (world) => {
    const { cards, problems } = readItemTable(rows, world.items)
    const [problem] = problems
    return problem
      ? refuse('bad-item', `${rows.length > 1 ? `Line ${problem.line}, ` : ''}${problem.column}: ${problem.sentence}`)
      : withItems(world, cards)
  })

/** What people enter is measured: it goes before what a channel says. */
function withItems(world: World, cards: readonly ItemCard[]): World {
  const known = new Map(world.items.map((card) => [card.sku, card]))
  for (const card of cards) {
    const before = known.get(card.sku)
    const measured =
      before === undefined ||
      before.measured === true ||
      before.weight !== card.weight ||
      before.size.some((side, i) => side !== card.size[i])
    known.set(card.sku, measured ? { ...card, measured: true } : card)
  }
  return { ...world, items: [...known.values()] }
}

/** Takes a learned weight into the list, and lets go of the corrections of waiting orders that it makes needless. */
export async function takeLearned(
  gharry: Application,
  sku: string,
  version: number,
): Promise<Answer<{ version: number }>> {
  const world = (await newestWorld(gharry.db))?.world
  const learned = world && (await learnedNow(gharry, world)).find((candidate) => candidate.sku === sku)
  if (!learned) return refuse('not-learned', 'The corrections do not agree on a weight any more.')
  const answer = await changeWorld(gharry, version, `The weight of ${sku} was learned`, (world) =>
    withItems(world, [{ ...(world.items.find((card) => card.sku === sku) ?? emptyCard(sku)), weight: learned.after }]),
  )
  if (answer.ok)
    await gharry.db.transaction(async (trx) => {
      const waiting = (await orderRows(trx, learned.orders)).filter(({ state }) => waitingStates.includes(state))
      for (const { id } of waiting) await removePin(trx, id, 'weight')
    })
  return answer
}

export const removeItem = (gharry: Application, sku: string, version: number): Promise<Answer<{ version: number }>> =>
  changeWorld(gharry, version, 'An item was taken off the list', (world) =>
    world.items.some((card) => card.sku === sku)
      ? { ...world, items: world.items.filter((card) => card.sku !== sku) }
      : refuse('unknown-item', `There is no item "${sku}" in the list any more.`),
  )
