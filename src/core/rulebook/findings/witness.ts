import type { Item, Order } from '@/core/order'
import { grams, millimetres, money } from '@/core/units'
import { factById, type FactValue, itemFactById } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { firstBit } from './bits'
import type { Box } from './box'
import type { ItemDraft, Space } from './space'

/** A made-up order that shows a finding, with the moment it is decided for. */
export interface Witness {
  readonly order: Order
  /** Milliseconds since 1970, UTC. */
  readonly now: number
}

/** Ordinary values of facts, for what nothing is said about. */
export function usualValues(world: World): (fact: string) => readonly FactValue[] {
  const home = world.locations[0]?.country ?? 'BE'
  const values: Readonly<Record<string, readonly FactValue[]>> = {
    channel: [world.wordings?.[0]?.channel ?? 'shop'],
    'order number': ['W-1'],
    wording: ['Standard'],
    country: [home],
    postcode: [world.locations[0]?.address.postcode ?? '9000'],
    city: ['Gent'],
    'order value': [2000],
    quantity: [1],
    lines: [1],
    'items weight': [500],
    weight: [500],
    sku: [madeUpSku],
    title: ['Item'],
    'item quantity': [1],
    'unit weight': [500],
    'unit price': [2000],
    'item longest side': [100],
  }
  return (fact) => values[fact] ?? []
}

/** The SKU of an item in a made-up order where any would do. */
export const madeUpSku = 'any item'

const plainItem = (home: string): Item => ({
  line: '1',
  sku: madeUpSku,
  title: 'Item',
  quantity: 1,
  unitWeight: grams(500),
  unitPrice: money(2000, home),
  size: [millimetres(100), millimetres(80), millimetres(50)],
  tags: [],
  dangerousGoods: '',
  hsCode: '0602.90',
  origin: 'BE',
})

function plainOrder(world: World, now: number): Order {
  const { home } = world.rates
  const location = world.locations[0]
  return {
    channel: world.wordings?.[0]?.channel ?? 'shop',
    remoteId: 'witness',
    number: 'W-1',
    status: 'open',
    placedAt: new Date(now).toISOString(),
    changedAt: new Date(now).toISOString(),
    promisedBy: '',
    paymentMethod: 'prepaid',
    wording: 'Standard',
    shippingPaid: money(0, home),
    value: money(2000, home),
    discount: money(0, home),
    buyer: { name: 'Noor Peeters', email: 'noor@post.example', phone: '', returning: false },
    shipTo: {
      name: 'Noor Peeters',
      company: '',
      lines: ['Coupure 8'],
      city: 'Gent',
      postcode: location?.address.postcode ?? '9000',
      region: '',
      country: location?.country ?? 'BE',
    },
    items: [plainItem(home)],
    problems: [],
  }
}

/** Makes an order out of a part of a space: each source that the part limits gets the first value it leaves. */
export function witnessOf(part: Box, space: Space, world: World, today: number): Witness | null {
  const values = new Map<string, FactValue>()
  const spans = new Map<string, number>()
  const sums: { sum: string; value: number }[] = []
  for (const [index, { most }] of part) {
    const source = space.sources[index]!
    const at = firstBit(most)
    if (source.domain.open && at === source.domain.values.length - 1) return null
    const value = source.domain.values[at]
    if (source.kind === 'fact') values.set(source.fact, value)
    else if (source.kind === 'span') spans.set(source.fact, Number(value ?? 0))
    else if (source.kind === 'sum') sums.push({ sum: source.fact, value: Number(value ?? 0) })
  }
  const items = space.itemsFor(part)
  if (items === null || items === 'unknown') return null
  const now = typeof values.get('now') === 'number' ? (values.get('now') as number) : today
  let order =
    items === 'no items'
      ? { ...plainOrder(world, now), items: [] }
      : withItems(plainOrder(world, now), items, values, sums, world)
  // An address problem replaces the list of problems, so it comes before what adds to the address.
  for (const [fact, value] of values) order = writeFact(order, fact, value, now, world)
  for (const [fact, minutes] of spans) {
    const at = new Date(now - minutes * 60_000)
    if (fact === 'placed') order = { ...order, placedAt: at.toISOString() }
    if (fact === 'paid') order = { ...order, paidAt: at.toISOString() }
    if (fact === 'promised') order = { ...order, promisedBy: at.toISOString().slice(0, 10) }
  }
  return { order, now }
}

function writeFact(order: Order, fact: string, value: FactValue, now: number, world: World): Order {
  const instant = typeof value === 'number' ? new Date(value).toISOString() : ''
  switch (fact) {
    case 'placed':
      return { ...order, placedAt: instant || '1970-01-01T00:00:00.000Z' }
    case 'paid':
      return instant ? { ...order, paidAt: instant } : order
    case 'promised':
      return { ...order, promisedBy: instant.slice(0, 10) }
    case 'age':
      return typeof value === 'number'
        ? { ...order, placedAt: new Date(now - value * 3_600_000 - 60_000).toISOString() }
        : order
    case 'hours to promise':
      return typeof value === 'number'
        ? { ...order, promisedBy: new Date(now + value * 3_600_000).toISOString().slice(0, 10) }
        : { ...order, promisedBy: '' }
    case 'speed': {
      const row = world.wordings
        ?.find((table) => table.channel === order.channel)
        ?.rows.find((candidate) => candidate.gives.speed === value)
      return row
        ? {
            ...order,
            wording: row.wording.replaceAll('*', '').replaceAll('?', 'x'),
            ...(row.countries ? { shipTo: { ...order.shipTo, country: row.countries[0]! } } : {}),
          }
        : order
    }
    default:
      return factById.get(fact)?.write?.(order, value, world.rates.home) ?? order
  }
}

/** The items that are asked for, and as much of something plain as totals and sums want. */
function withItems(
  order: Order,
  drafts: readonly ItemDraft[],
  values: ReadonlyMap<string, FactValue>,
  sums: readonly { sum: string; value: number }[],
  world: World,
): Order {
  const { home } = world.rates
  const made = drafts.map((draft, i) => itemOf(draft, i, home))
  let items = made.length > 0 ? made : order.items
  const wanted = (fact: string): number | undefined =>
    typeof values.get(fact) === 'number' ? (values.get(fact) as number) : undefined
  const lines = wanted('lines')
  if (lines !== undefined && lines <= 500)
    items =
      lines < items.length && made.length === 0
        ? items.slice(0, lines)
        : [
            ...items,
            ...Array.from({ length: Math.max(0, lines - items.length) }, (_, i): Item => ({
              ...items[0]!,
              line: String(items.length + i + 1),
            })),
          ]
  items = items.map((item, i) => {
    const draft = drafts[i]
    const sumOf = (sum: string): number | undefined =>
      i === 0 ? sums.find((one) => one.sum === sum)?.value : undefined
    const quantity = draft?.has('item quantity')
      ? item.quantity
      : Math.max(
          1,
          i === 0
            ? (sumOf('quantity') ?? (wanted('quantity') === undefined ? 1 : wanted('quantity')! - items.length + 1))
            : item.quantity,
        )
    const inAll = wanted('items weight') ?? wanted('weight')
    // The first line carries what is asked of all; the others weigh nothing then.
    const ofOthers = inAll === undefined ? undefined : 0
    const weight = i === 0 ? (sumOf('weight') ?? inAll) : ofOthers
    const volume = i === 0 ? wanted('items volume') : undefined
    const value = sumOf('value')
    return {
      ...item,
      quantity,
      ...(draft?.has('unit weight') || weight === undefined ? {} : { unitWeight: grams(weight / quantity) }),
      ...(draft?.has('unit price') || value === undefined
        ? {}
        : { unitPrice: money(Math.round(value / quantity), home) }),
      ...(volume === undefined ? {} : { size: sizeOf((volume * 1e6) / quantity) }),
    }
  })
  return { ...order, items }
}

/** A cuboid of a volume in cubic millimetres, as near as whole millimetres come. */
function sizeOf(volume: number): Item['size'] {
  const side = Math.max(1, Math.floor(Math.cbrt(volume)))
  return [millimetres(Math.max(1, Math.round(volume / (side * side)))), millimetres(side), millimetres(side)]
}

function itemOf(draft: ItemDraft, index: number, home: string): Item {
  let item: Item = { ...plainItem(home), line: String(index + 1), sku: `SKU-${index + 1}` }
  for (const [fact, value] of draft) item = itemFactById.get(fact)?.write(item, value, home) ?? item
  return item
}
