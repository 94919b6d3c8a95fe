import {
  ambiguity,
  grams,
  millimetres,
  type Millimetres,
  parseLength,
  parseWeight,
  plainLength,
  plainWeight,
} from '@/core/units'
import { countryCode } from './country'
import { isGtin } from './gtin'
import type { ItemCard } from './normalise'
import { type Handling, handlings } from './order'
import { cleanText, cutText } from './text'

/** The item list as a table of texts, the same in CSV and in a spreadsheet. */
export const itemColumns = [
  'sku',
  'title',
  'weight',
  'length',
  'width',
  'height',
  'tags',
  'handling',
  'hs code',
  'origin',
  'dangerous goods',
  'gtin',
  'place',
] as const
type Column = (typeof itemColumns)[number]
export type ItemRow = Readonly<Partial<Record<Column, string>>>
export interface ItemProblem {
  readonly line: number
  readonly column: string
  readonly sentence: string
}

/** The item list as rows of a table, in words and with units; `readItemTable` reads them back as they are. */
export const writeItemTable = (cards: readonly ItemCard[]): ItemRow[] =>
  cards.map((card) => ({
    sku: card.sku,
    title: written(card.title),
    weight: card.weight > 0 ? plainWeight(card.weight) : '',
    length: side(card.size[0]),
    width: side(card.size[1]),
    height: side(card.size[2]),
    tags: listWritten(card.tags),
    handling: (card.handling ?? []).join('; '),
    'hs code': card.hsCode,
    origin: card.origin,
    'dangerous goods': card.dangerousGoods,
    gtin: (card.gtins ?? []).join('; '),
    place: placesWritten(card.places ?? {}),
  }))

// A lone dash empties a cell, so a text of dashes is written with one more.
const written = (text: string): string => (/^[-–]{1,200}$/.test(text) ? `${text}-` : text)
/** A list that has but one member with a comma in it ends in a semicolon, which alone parts it then. */
const listWritten = (members: readonly string[]): string =>
  members.length === 1 ? `${written(members[0]!)}${members[0]!.includes(',') ? ';' : ''}` : members.join('; ')

const side = (millimetres: number): string => (millimetres > 1 ? plainLength(millimetres) : '')

/**
 * Reads items from rows. A cell that is empty leaves what is known of that SKU as it is, so a file with SKU and weight
 * alone corrections weights; a lone dash empties it. What cannot be read is named with its line and column, and the row
 * is not taken.
 */
export function readItemTable(
  rows: readonly { readonly line: number; readonly cells: ItemRow }[],
  known: readonly ItemCard[],
): { readonly cards: readonly ItemCard[]; readonly problems: readonly ItemProblem[] } {
  const problems: ItemProblem[] = []
  const cards = new Map(known.map((card) => [card.sku, card]))
  const seen = new Map<string, number>()
  const read: ItemCard[] = []
  for (const { line, cells } of rows) {
    const before = problems.length
    const wrong = (column: Column, sentence: string): void => void problems.push({ line, column, sentence })
    const sku = text(cells.sku)
    if (sku === '') {
      wrong('sku', 'The SKU is missing.')
      continue
    }
    const twice = seen.get(sku)
    if (twice !== undefined) wrong('sku', `"${sku}" is on line ${twice} already.`)
    seen.set(sku, line)
    const card = readCard(sku, cells, cards.get(sku) ?? emptyCard(sku), wrong)
    if (problems.length === before) read.push(card)
  }
  return { cards: read, problems }
}

/** A card that knows nothing of an item but its SKU. */
export const emptyCard = (sku: string): ItemCard => ({
  sku,
  title: '',
  weight: grams(0),
  size: [millimetres(1), millimetres(1), millimetres(1)],
  tags: [],
  dangerousGoods: '',
  hsCode: '',
  origin: '',
})

const placesWritten = (places: Readonly<Record<string, string>>): string =>
  Object.entries(places)
    .map(([location, place]) => (location === '' ? place : `${location}: ${place}`))
    .join('; ')

/**
 * Places as they are written: one for everywhere, or one for each location. Null where a part is too long, or there are
 * two for one.
 */
function readPlaces(cell: string): Readonly<Record<string, string>> | null {
  const places = new Map<string, string>()
  for (const part of cell
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)) {
    const [first = '', ...rest] = part.split(':').map((one) => one.trim())
    const [location, place] = rest.length === 0 ? ['', first] : [first.toLowerCase(), rest.join(':')]
    if (place === '' || place.length > 40 || location.length > 60 || places.has(location)) return null
    places.set(location, place)
  }
  return Object.fromEntries(places)
}

const text = (cell: string | undefined): string => cleanText(cell ?? '')
const list = (cell: string): string[] => [
  ...new Set(
    cell
      .split(cell.includes(';') ? ';' : ',')
      .map((part) => part.trim())
      .filter(Boolean),
  ),
]

function readCard(
  sku: string,
  cells: ItemRow,
  card: ItemCard,
  wrong: (column: Column, sentence: string) => void,
): ItemCard {
  const given = <T>(column: Column, now: T, none: T, reader: (cell: string) => T | null, what: string): T => {
    const cell = text(cells[column])
    if (cell === '') return now
    if (cell === '-' || cell === '–') return none
    const value = reader(/^[-–]{1,200}-$/.test(cell) ? cell.slice(0, -1) : cell)
    if (value === null) wrong(column, ambiguity(cell) ?? `"${cell.slice(0, 60)}" is no ${what}.`)
    return value ?? now
  }
  const positive = <N extends number>(value: N | null): N | null => (value !== null && value > 0 ? value : null)
  const length = (column: 'length' | 'width' | 'height', now: Millimetres): Millimetres =>
    given(column, now, millimetres(1), (cell) => positive(parseLength(cell, 'cm')), 'length such as 20 cm')
  const handling = given(
    'handling',
    card.handling ?? [],
    [] as readonly Handling[],
    (cell) => {
      const parts = list(cell)
      return parts.every((part): part is Handling => handlings.some((known) => known === part)) ? parts : null
    },
    `handling: write ${handlings.join(', ')}, with ; between`,
  )
  const gtins = given(
    'gtin',
    card.gtins ?? [],
    [] as readonly string[],
    (cell) => {
      const parts = list(cell)
      return parts.every(isGtin) ? parts : null
    },
    'GTIN: 8, 12, 13 or 14 digits, the last of which fits the others',
  )
  const places = given('place', card.places ?? {}, {}, readPlaces, 'place such as A-03-2, or ghent: A-03; poznan: 7')
  return {
    sku,
    title: given('title', card.title, '', (cell) => cutText(cell, 200), 'title'),
    weight: given('weight', card.weight, grams(0), (cell) => positive(parseWeight(cell, 'g')), 'weight such as 250 g'),
    size: [length('length', card.size[0]), length('width', card.size[1]), length('height', card.size[2])],
    tags: given<readonly string[]>('tags', card.tags, [], list, 'list of tags'),
    hsCode: given(
      'hs code',
      card.hsCode,
      '',
      (cell) => (/^\d{4}(\.?\d{2}){0,3}$/.test(cell) ? cell : null),
      'HS code such as 0602.90',
    ),
    origin: given('origin', card.origin, '', countryCode, 'country'),
    dangerousGoods: given(
      'dangerous goods',
      card.dangerousGoods,
      '',
      (cell) => (/^UN ?\d{4}$/i.test(cell) ? `UN ${cell.slice(-4)}` : null),
      'UN number such as UN 3481',
    ),
    ...(handling.length > 0 ? { handling } : {}),
    ...(gtins.length > 0 ? { gtins } : {}),
    ...(Object.keys(places).length > 0 ? { places } : {}),
  }
}
