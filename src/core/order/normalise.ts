import {
  type Grams,
  grams,
  millimetres,
  minorDigits,
  money,
  type Money,
  parseAmount,
  toGrams,
  toMillimetres,
  usualHome,
  type Size,
} from '@/core/units'
import { isDay, readMoment } from '@/core/calendar'
import { countryCode } from './country'
import type { Address, Handling, Item, Order, OrderProblem } from './order'
import { cleanText, cutText, plainText } from './text'

/**
 * An order as a channel's adapter hands it over: names already ours, values still the channel's text.
 * Every field but the two identifiers may be missing.
 */
export interface RawOrder {
  readonly id: string
  readonly number: string
  readonly status?: string
  /** Where the channel itself would send it from, in its own words. */
  readonly place?: string
  readonly placedAt?: string
  readonly paidAt?: string
  readonly changedAt?: string
  readonly promisedBy?: string
  readonly paymentMethod?: string
  readonly wording?: string
  readonly currency?: string
  readonly shippingPaid?: string | number
  readonly value?: string | number
  readonly discount?: string | number
  readonly buyer?: { name?: string; email?: string; phone?: string; returning?: boolean }
  readonly shipTo?: {
    name?: string
    company?: string
    lines?: readonly string[]
    city?: string
    postcode?: string
    region?: string
    country?: string
  }
  readonly items?: readonly RawItem[]
  readonly message?: string
  readonly wishes?: Wishes
}

/** What a sender decides for one order alone, as people do by hand. */
export interface Wishes {
  /** A package preset, by its identifier or its name. */
  readonly preset?: string
  /** Of the whole parcel, with its package. */
  readonly weight?: Grams
  readonly size?: Size
  readonly insurance?: 'none' | 'order value' | Money
}

export interface RawItem {
  readonly line?: string
  readonly sku?: string
  readonly title?: string
  readonly quantity?: number | string
  readonly weight?: number
  readonly weightUnit?: string
  readonly price?: string | number
  readonly size?: readonly number[]
  readonly sizeUnit?: string
  readonly tags?: readonly string[]
  readonly dangerousGoods?: string
  readonly hsCode?: string
  readonly origin?: string
}

/** What the seller's own item list knows about a SKU; fills what the channel left out. */
export interface ItemCard {
  readonly sku: string
  readonly title: string
  readonly weight: Grams
  readonly size: Size
  readonly tags: readonly string[]
  readonly dangerousGoods: string
  readonly hsCode: string
  readonly origin: string
  readonly handling?: readonly Handling[]
  /** Its GTINs with 8, 12, 13 or 14 digits: what stands on it as a bar code. */
  readonly gtins?: readonly string[]
  /** Where it lies, by location; under the empty name, everywhere else. */
  readonly places?: Readonly<Record<string, string>>
  /** Measured by ourselves: weight and size go before what a channel says. */
  readonly measured?: boolean
}

const maxTextLength = 500
// Far more lines than any order has.
const maxItems = 10_000

/**
 * Makes the facts of one order from a channel's data: NFKC and trimmed text, country codes, grams, minor units. The
 * checkout's wording stays verbatim. It never throws; what cannot be read becomes a problem on the order. Times that
 * name no zone are told by the clocks of `zone`, that of the first location; an order that names no currency is in that
 * of `home`.
 */
export function normaliseOrder(
  raw: RawOrder,
  channel: string,
  cards: ReadonlyMap<string, ItemCard>,
  zone = 'UTC',
  home = usualHome,
): Order {
  const problems: OrderProblem[] = []
  const currency = readCurrency(raw.currency ?? home, problems)
  const items = (raw.items ?? [])
    .slice(0, maxItems)
    .map((item, index) => readItem(item, index, currency, cards, problems))
  if (items.length === 0)
    problems.push({ code: 'no-items', sentence: 'The order has no items: ask the channel for it again, or cancel it.' })
  const goods = items.reduce((sum, item) => sum + item.unitPrice.minor * item.quantity, 0)
  const value =
    raw.value === undefined ? money(goods, currency) : readMoney(raw.value, currency, 'order value', problems)
  const placedAt = readInstant(raw.placedAt, zone)
  if (!placedAt)
    problems.push({ code: 'no-time', sentence: `The time of the order ("${cut(raw.placedAt)}") cannot be read.` })
  return {
    channel,
    remoteId: text(raw.id),
    number: text(raw.number),
    status: raw.status === 'cancelled' || raw.status === 'fulfilled' ? raw.status : 'open',
    placedAt: placedAt ?? '1970-01-01T00:00:00.000Z',
    ...paid(raw.paidAt, zone),
    changedAt: readInstant(raw.changedAt, zone) ?? placedAt ?? '1970-01-01T00:00:00.000Z',
    promisedBy: readDay(raw.promisedBy, problems),
    paymentMethod: /cash|cod/i.test(raw.paymentMethod ?? '') ? 'cash on delivery' : 'prepaid',
    wording: cutText(
      begin(raw.wording ?? '')
        .normalize('NFKC')
        .trim(),
      maxTextLength,
    ),
    shippingPaid: readMoney(raw.shippingPaid ?? 0, currency, 'shipping paid', problems),
    value,
    discount: readMoney(raw.discount ?? 0, currency, 'discount', problems),
    buyer: {
      name: text(raw.buyer?.name),
      email: text(raw.buyer?.email),
      phone: text(raw.buyer?.phone),
      returning: raw.buyer?.returning === true,
    },
    shipTo: readAddress(raw.shipTo, problems),
    items,
    ...(raw.message?.trim() ? { message: cutText(cleanText(begin(raw.message)), maxTextLength) } : {}),
    problems,
  }
}

function readCurrency(given: string, problems: OrderProblem[]): string {
  const currency = text(given).toUpperCase()
  if (/^[A-Z]{3}$/.test(currency)) return currency
  problems.push({
    code: 'unknown-currency',
    sentence: `"${cut(given)}" is no currency code: use three letters such as EUR.`,
  })
  return 'XXX' // ISO 4217: no currency
}

function readMoney(given: string | number, currency: string, what: string, problems: OrderProblem[]): Money {
  // Channels write a point before decimals, whatever the language of their pages.
  const minor = parseAmount(typeof given === 'number' ? given.toFixed(minorDigits(currency)) : given, currency, '.')
  if (minor !== null) return money(minor, currency)
  problems.push({ code: 'bad-amount', sentence: `The ${what} ("${cut(String(given))}") is no amount of money.` })
  return money(0, currency)
}

function readInstant(given: string | undefined, zone: string): string | null {
  const ms = given ? readMoment(given, zone) : null
  return ms === null ? null : new Date(ms).toISOString()
}

/** A promised day, however its time is written. One that is no day is said, not dropped. */
function readDay(given: string | undefined, problems: OrderProblem[]): string {
  if (!given?.trim()) return ''
  const day = given.trim().slice(0, 10)
  if (isDay(day)) return day
  problems.push({
    code: 'bad-promise',
    sentence: `The promised day ("${cut(given)}") cannot be read: look it up in the channel.`,
  })
  return ''
}

function paid(given: string | undefined, zone: string): { paidAt?: string } {
  const paidAt = readInstant(given, zone)
  return paidAt ? { paidAt } : {}
}

function readAddress(raw: RawOrder['shipTo'], problems: OrderProblem[]): Address {
  const country = countryCode(raw?.country ?? '')
  if (!country)
    problems.push({
      code: 'unknown-country',
      sentence: `The country ("${cut(raw?.country)}") is not known: correct it in the channel or by hand.`,
    })
  // No address has more lines; what a channel sends beyond them is no address.
  const lines = (raw?.lines ?? []).slice(0, 20).map(text).filter(Boolean)
  if (lines.length === 0)
    problems.push({ code: 'no-street', sentence: 'The address has no street line: ask the buyer.' })
  if (!text(raw?.city)) problems.push({ code: 'no-city', sentence: 'The address has no city: ask the buyer.' })
  return {
    name: text(raw?.name),
    company: text(raw?.company),
    lines,
    city: text(raw?.city),
    postcode: text(raw?.postcode).toUpperCase(),
    region: text(raw?.region),
    country: country ?? '',
  }
}

function readItem(
  raw: RawItem,
  index: number,
  currency: string,
  cards: ReadonlyMap<string, ItemCard>,
  problems: OrderProblem[],
): Item {
  const sku = text(raw.sku)
  const card = cards.get(sku)
  const unitWeight = weightOf(raw, card)
  if (unitWeight === null) problems.push(noWeight(sku, index))
  return {
    line: text(raw.line) || String(index + 1),
    sku,
    title: text(raw.title) || (card?.title ?? ''),
    quantity: readQuantity(raw, sku, index, problems),
    unitWeight,
    unitPrice: readMoney(raw.price ?? 0, currency, `price of ${sku}`, problems),
    size: (card?.measured ? cardSize(card) : null) ?? readSize(raw) ?? cardSize(card),
    ...goodsOf(raw, card),
  }
}

/** Pieces of a line; 1, and a problem, where the channel gives no number that can be one. */
function readQuantity(raw: RawItem, sku: string, index: number, problems: OrderProblem[]): number {
  const quantity = Number(raw.quantity ?? 1)
  if (Number.isInteger(quantity) && quantity > 0 && quantity <= 100_000) return quantity
  problems.push({
    code: 'bad-quantity',
    sentence: `The quantity of ${sku || `line ${index + 1}`} ("${cut(String(raw.quantity))}") is no whole number above 0.`,
  })
  return 1
}

/** Grams of one piece: as measured, else as the channel says, else as the item list says; null when nobody knows. */
function weightOf(raw: RawItem, card: ItemCard | undefined): Grams | null {
  const own = card && card.weight > 0 ? grams(card.weight) : null
  if (card?.measured && own !== null) return own
  const given = raw.weight === undefined ? null : toGrams(raw.weight, raw.weightUnit ?? 'g')
  return given !== null && given > 0 ? given : own
}

/** What customs, carriers and rules ask of the goods: as the channel says, else as the item list does. */
function goodsOf(
  raw: RawItem,
  card: ItemCard | undefined,
): Pick<Item, 'tags' | 'dangerousGoods' | 'hsCode' | 'origin' | 'handling'> {
  return {
    tags: (raw.tags ?? card?.tags ?? []).map(text).filter(Boolean),
    dangerousGoods: text(raw.dangerousGoods) || (card?.dangerousGoods ?? ''),
    hsCode: text(raw.hsCode) || (card?.hsCode ?? ''),
    origin: countryCode(raw.origin ?? '') ?? card?.origin ?? '',
    ...(card?.handling ? { handling: card.handling } : {}),
  }
}

const noWeight = (sku: string, index: number): OrderProblem => ({
  code: 'no-weight',
  sentence: `${sku || `Line ${index + 1}`} has no weight: set the weight of the order by hand or add it to the item list.`,
})

/** Sides of one millimetre stand for an unknown size. */
const cardSize = (card: ItemCard | undefined): Item['size'] =>
  card && Math.max(...card.size) > 1
    ? [millimetres(card.size[0]), millimetres(card.size[1]), millimetres(card.size[2])]
    : null

/**
 * An order with what the item list says now: measured weights and sizes, and whatever the channel left out. The same
 * object when nothing differs.
 */
export function withCards(order: Order, cards: ReadonlyMap<string, ItemCard>): Order {
  let changed = false
  const items = order.items.map((item): Item => {
    const card = cards.get(item.sku)
    if (!card) return item
    const unitWeight =
      card.weight > 0 && (card.measured || item.unitWeight === null) ? grams(card.weight) : item.unitWeight
    const size = (card.measured || item.size === null ? cardSize(card) : null) ?? item.size
    const { handling: _handling, ...rest } = item
    const next: Item = {
      ...rest,
      unitWeight,
      size,
      title: item.title || card.title,
      tags: item.tags.length > 0 ? item.tags : card.tags,
      dangerousGoods: item.dangerousGoods || card.dangerousGoods,
      hsCode: item.hsCode || card.hsCode,
      origin: item.origin || card.origin,
      ...(card.handling ? { handling: card.handling } : {}),
    }
    if (JSON.stringify(next) === JSON.stringify(item)) return item
    changed = true
    return next
  })
  if (!changed) return order
  const problems = order.problems.filter(({ code }) => code !== 'no-weight')
  return {
    ...order,
    items,
    problems: [
      ...problems,
      ...items.flatMap((item, index) => (item.unitWeight === null ? [noWeight(item.sku, index)] : [])),
    ],
  }
}

function readSize(raw: RawItem): Item['size'] {
  if (raw.size?.length !== 3) return null
  const [a, b, c] = raw.size.map((side) => toMillimetres(side, raw.sizeUnit ?? 'mm'))
  return a && b && c && a > 0 && b > 0 && c > 0 ? [a, b, c] : null
}

// Far more than is kept is not even cleaned.
const begin = (given: string): string => given.slice(0, 20 * maxTextLength)
const text = (given: unknown): string => cutText(cleanText(begin(plainText(given))), maxTextLength)
const cut = (given: string | undefined): string => cutText(cleanText(begin(given ?? '')), 40)
