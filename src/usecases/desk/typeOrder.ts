import { isOneAddress, withAddressChecked, withoutContacts } from '@/core/address'
import { type Address, countryCode, normaliseOrder, type RawOrder } from '@/core/order'
import type { Quote } from '@/core/rating'
import { money, plainAmount } from '@/core/units'
import { firstZone } from '@/core/world'
import {
  addChannel,
  addConnection,
  countOrders,
  findKnown,
  ordersById,
  orderRows,
  writeLog,
  type Database,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { decideFully } from '../shared/routeOrders'
import { rulebookInForce, type InForce } from '../shared/rulebookInForce'
import { storeOrders } from '../intake/storeOrders'

/** Orders that are typed belong to this channel, which is made with the first of them. */
const channel = 'by-hand'
const heaviest = 1_000_000
const most = 100

export interface TypedItem {
  /** A SKU of the item list, or what it is. */
  readonly what: string
  readonly quantity: number
  /** Grams and millimetres of one piece; null: as the item list has them. */
  readonly weight: number | null
  readonly size: readonly [number, number, number] | null
}
export interface TypedOrder {
  /** One key for one intent: the same twice is one order. */
  readonly key: string
  /** Empty: the next one of the orders that were typed. */
  readonly number: string
  readonly shipTo: Address
  readonly email: string
  readonly phone: string
  readonly items: readonly TypedItem[]
  /** What the goods are worth, in minor units of the home currency; insurance and customs go by it. */
  readonly value: number
  readonly wording: string
  readonly promisedBy: string
}

export interface TypedQuote {
  /** What is wrong with what was typed, field by field; nothing is quoted then. */
  readonly fields: Readonly<Record<string, string>>
  /** What the rules, or the carriers, have against it. */
  readonly problems: readonly string[]
  /** Where the e-mail address and the telephone number were taken out of the address. */
  readonly shipTo: Address | null
  readonly chosen: string | null
  readonly quotes: readonly Pick<Quote, 'service' | 'carrier' | 'cost' | 'arrivesOn'>[]
  readonly parcels: number
  readonly held: string | null
}

/** What is wrong with a typed order, at its fields; an empty record when nothing is. */
export function wrongFields(order: TypedOrder, known: ReadonlySet<string>): Readonly<Record<string, string>> {
  const { shipTo, items, email } = order
  const wrong: Record<string, string> = {}
  if (shipTo.name.trim() === '' && shipTo.company.trim() === '') wrong.name = 'Who is it for?'
  if (shipTo.lines.length === 0) wrong.lines = 'At least one line, with the street and the number.'
  if (shipTo.city.trim() === '') wrong.city = 'Which town?'
  if (!countryCode(shipTo.country))
    wrong.country = `“${shipTo.country}” is no country: write a code such as BE, or a name.`
  if (email !== '' && !isOneAddress(email)) wrong.email = `“${email}” is no e-mail address.`
  if (items.length === 0) wrong.items = 'Add an item, or a weight and a size.'
  if (items.length > most) wrong.items = `An order that is typed has at most ${most} lines.`
  items.forEach((item, i) => {
    if (!Number.isInteger(item.quantity) || item.quantity < 1 || item.quantity > 9999)
      wrong[`items.${i}.quantity`] = 'From 1 to 9,999 pieces.'
    if (item.weight === null && !known.has(item.what))
      wrong[`items.${i}.weight`] =
        item.what === '' ? 'What does one weigh?' : `“${item.what}” is not in the item list: what does one weigh?`
    if (item.weight !== null && item.weight <= 0) wrong[`items.${i}.weight`] = 'It weighs more than 0 g.'
    if (item.weight !== null && item.weight > heaviest)
      wrong[`items.${i}.weight`] = 'One piece weighs at most 1,000 kg.'
    if (item.size?.some((side) => side <= 0 || side > 20_000))
      wrong[`items.${i}.size`] = 'Each side is above 0 and at most 20 m.'
  })
  return wrong
}

/** What was typed as an order comes from a channel; what belongs to the buyer and not on a label is taken out. */
function rawOf(
  order: TypedOrder,
  number: string,
  { ready }: InForce,
  now: Date,
): RawOrder & { readonly shipTo: Address } {
  const { address, email, phone } = withoutContacts(order.shipTo)
  const { home } = ready.world.rates
  return {
    id: order.key,
    number,
    placedAt: now.toISOString(),
    promisedBy: order.promisedBy,
    wording: order.wording,
    currency: home,
    value: plainAmount(money(order.value, home)),
    buyer: { name: address.name || address.company, email: order.email || email, phone: order.phone || phone },
    shipTo: { ...address, lines: [...address.lines] },
    items: order.items.map((item, i) => ({
      line: String(i + 1),
      ...(ready.cards.has(item.what) ? { sku: item.what } : { title: item.what || 'Goods' }),
      quantity: item.quantity,
      ...(item.weight === null ? {} : { weight: item.weight, weightUnit: 'g' }),
      ...(item.size === null ? {} : { size: [...item.size], sizeUnit: 'mm' }),
    })),
  }
}

const cardsOf = ({ ready }: InForce): ReadonlySet<string> => new Set(ready.cards.keys())

/** What becomes of an order as it is typed, before it is one: the services with their costs, or what is in the way. */
export async function quoteTyped(gharry: Application, order: TypedOrder): Promise<TypedQuote> {
  const nothing = { fields: {}, problems: [], shipTo: null, chosen: null, quotes: [], parcels: 0, held: null }
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return { ...nothing, problems: ['No rulebook is published yet.'] }
  const fields = wrongFields(order, cardsOf(inForce))
  if (Object.keys(fields).length > 0) return { ...nothing, fields }
  const { ready } = inForce
  const now = gharry.now()
  const raw = rawOf(order, order.number || 'new', inForce, now)
  const read = withAddressChecked(
    normaliseOrder(raw, channel, ready.cards, firstZone(ready.world), ready.world.rates.home),
  )
  const { routed } = decideFully(read, inForce, now)
  return {
    fields: {},
    problems: routed.problems.map(({ sentence }) => sentence),
    shipTo: JSON.stringify(raw.shipTo) === JSON.stringify(order.shipTo) ? null : raw.shipTo,
    chosen: routed.quote?.service ?? null,
    quotes: [...routed.trail.quotes]
      .sort((a, b) => a.cost - b.cost)
      .map(({ service, carrier, cost, arrivesOn }) => ({ service, carrier, cost, arrivesOn })),
    parcels: routed.parcels.length,
    held: routed.decisions.hold,
  }
}

/** Takes a typed order into the books, decided as any other; the same key again is the same order. */
export async function typeOrder(
  gharry: Application,
  order: TypedOrder,
): Promise<Answer<{ order: number; number: string; state: string }>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const fields = wrongFields(order, cardsOf(inForce))
  const [wrong] = Object.values(fields)
  if (wrong) return { ...refuse('incomplete', wrong), fields }
  const now = gharry.now()
  return gharry.db.transaction(async (trx) => {
    await withChannel(trx, now)
    const before = (await findKnown(trx, channel, [order.key])).get(order.key)
    if (!before) {
      const number = order.number.trim() || (await nextNumber(trx))
      await storeOrders(trx, channel, [rawOf(order, number, inForce, now)], inForce, now)
    }
    const known = before ?? (await findKnown(trx, channel, [order.key])).get(order.key)!
    if (!before)
      await writeLog(trx, [
        { order: known.id, at: now.toISOString(), author: gharry.settings.author, sentence: 'Typed by hand' },
      ])
    const [row] = await orderRows(trx, [known.id])
    return { ok: true as const, order: known.id, number: row!.number, state: row!.state }
  })
}

async function withChannel(trx: Database, now: Date): Promise<void> {
  await addChannel(trx, { id: channel, name: 'By hand', kind: channel, tellWhen: 'bought', everyMinutes: 0 })
  await addConnection(trx, {
    ...{ id: channel, role: 'channel', belongsTo: channel, kind: channel, name: 'By hand' },
    ...{
      settings: '{}',
      secrets: null,
      locations: null,
      perSecond: null,
      tokens: null,
      endsAt: null,
      on: true,
      madeAt: now.toISOString(),
    },
  })
}

async function nextNumber(trx: Database): Promise<string> {
  return `H-${1001 + (await countOrders(trx, channel))}`
}

/** The address and the buyer of an order, for one that goes there again. */
export async function showRecipient(
  gharry: Application,
  id: number,
): Promise<Pick<TypedOrder, 'shipTo' | 'email' | 'phone'> | null> {
  const [stored] = await ordersById(gharry.db, [id])
  return stored
    ? { shipTo: stored.order.shipTo, email: stored.order.buyer.email, phone: stored.order.buyer.phone }
    : null
}

export interface FoundItem {
  readonly sku: string
  readonly title: string
}

/** Items of the list whose SKU or title holds all words, the first few. */
export async function findItems(gharry: Application, text: string): Promise<{ readonly items: readonly FoundItem[] }> {
  const inForce = await rulebookInForce(gharry)
  const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const items: FoundItem[] = []
  for (const { sku, title } of inForce?.ready.cards.values() ?? []) {
    if (!words.every((word) => `${sku} ${title}`.toLowerCase().includes(word))) continue
    items.push({ sku, title })
    if (items.length === 30) break
  }
  return { items }
}
