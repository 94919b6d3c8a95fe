import type { Item } from '@/core/order'
import { toHome, type Rates } from '@/core/units'
import type { Case } from './case'
import type { Operator, Stage } from './rulebook'

/*
 * Everything a rule can test and set, in one place. The editor, the checks, the compiler and the guide read it:
 * a fact or a decision is added here and nowhere else.
 */

export type FactType = 'text' | 'number' | 'money' | 'weight' | 'length' | 'country' | 'tags' | 'yes/no' | 'time'
export type FactValue = string | number | boolean | readonly string[] | undefined

interface About {
  readonly id: string
  /** How it reads in a sentence. */
  readonly name: string
  readonly type: FactType
  readonly description: string
  readonly example: string
}

export interface Fact extends About {
  /** The stage that settles it; it can be tested from the next stage on. Absent: imported with the order. */
  readonly settledBy?: Stage
  readonly read: (c: Case) => FactValue
}

export interface ItemFact extends About {
  readonly read: (item: Item, rates: Rates) => FactValue
}

const instant = (text: string): number | undefined => {
  const ms = Date.parse(text)
  return Number.isNaN(ms) || ms === 0 ? undefined : ms
}
const hoursBetween = (from: number, until: number | undefined): number | undefined => (until === undefined ? undefined : Math.floor((until - from) / 3_600_000))

const orMissing = (text: string): string | undefined => (text === '' ? undefined : text)

export const facts: readonly Fact[] = [
  { id: 'channel', name: 'channel', type: 'text', description: 'The sales channel that the order came from', example: 'mossgill-shop', read: (c) => orMissing(c.order.channel) },
  { id: 'order number', name: 'order number', type: 'text', description: "The channel's order number", example: 'MG-10482', read: (c) => orMissing(c.order.number) },
  { id: 'wording', name: 'checkout wording', type: 'text', description: 'What the checkout called the way of shipping, verbatim', example: 'Exp. 2-day', read: (c) => orMissing(c.order.wording) },
  { id: 'payment', name: 'payment method', type: 'text', description: 'prepaid or cash on delivery', example: 'prepaid', read: (c) => c.order.paymentMethod },
  { id: 'shipping paid', name: 'shipping paid', type: 'money', description: 'What the buyer paid for shipping', example: '4.95 EUR', read: (c) => c.shippingPaid },
  { id: 'order value', name: 'order value', type: 'money', description: 'Value of the goods', example: '120.00 EUR', read: (c) => c.value },
  { id: 'discount', name: 'discount', type: 'money', description: 'Discount on the order', example: '10.00 EUR', read: (c) => c.discount },
  { id: 'returning buyer', name: 'buyer is returning', type: 'yes/no', description: 'The buyer has bought before', example: 'yes', read: (c) => c.order.buyer.returning },
  { id: 'has e-mail', name: 'buyer has an e-mail', type: 'yes/no', description: 'An e-mail address is known', example: 'yes', read: (c) => c.order.buyer.email !== '' },
  { id: 'has phone', name: 'buyer has a phone', type: 'yes/no', description: 'A phone number is known', example: 'no', read: (c) => c.order.buyer.phone !== '' },
  { id: 'country', name: 'ship-to country', type: 'country', description: 'Country of the ship-to address', example: 'BE', read: (c) => orMissing(c.order.shipTo.country) },
  { id: 'postcode', name: 'ship-to postcode', type: 'text', description: 'Postcode of the ship-to address', example: '9000', read: (c) => orMissing(c.order.shipTo.postcode) },
  { id: 'city', name: 'ship-to city', type: 'text', description: 'City of the ship-to address', example: 'Gent', read: (c) => orMissing(c.order.shipTo.city) },
  { id: 'region', name: 'ship-to region', type: 'text', description: 'Region or state of the ship-to address', example: 'Oost-Vlaanderen', read: (c) => orMissing(c.order.shipTo.region) },
  { id: 'post-office box', name: 'ship-to is a post-office box', type: 'yes/no', description: 'The address names a post-office box', example: 'no', read: (c) => c.postOfficeBox },
  { id: 'company', name: 'ship-to is a company', type: 'yes/no', description: 'The address names a company', example: 'no', read: (c) => c.order.shipTo.company !== '' },
  { id: 'quantity', name: 'total quantity', type: 'number', description: 'Pieces of all items together', example: '3', read: (c) => c.quantity },
  { id: 'lines', name: 'number of lines', type: 'number', description: 'Order lines', example: '2', read: (c) => c.order.items.length },
  { id: 'items weight', name: 'weight of the items', type: 'weight', description: 'All items as imported, without packaging', example: '1.2 kg', read: (c) => c.itemsWeight },
  { id: 'items volume', name: 'volume of the items in litres', type: 'number', description: 'All items together, without packaging', example: '12', read: (c) => c.itemsVolume / 1e6 },
  { id: 'residential', name: 'ship-to is a home', type: 'yes/no', description: 'No company stands in the address', example: 'yes', read: (c) => c.order.shipTo.company === '' },
  { id: 'address problems', name: 'address has problems', type: 'yes/no', description: 'Country, street or city is missing or unknown', example: 'no', read: (c) => c.order.problems.some((problem) => ['unknown-country', 'no-street', 'no-city'].includes(problem.code)) },
  { id: 'placed', name: 'order was placed', type: 'time', description: 'When the buyer ordered; days and hours in the location’s time zone', example: '2026-11-25', read: (c) => instant(c.order.placedAt) },
  { id: 'promised', name: 'promised day', type: 'time', description: 'The day by which the channel promised delivery', example: '2026-11-28', read: (c) => instant(c.order.promisedBy) },
  { id: 'now', name: 'it is now', type: 'time', description: 'The moment of routing', example: '2026-11-25', read: (c) => c.now },
  { id: 'hours to promise', name: 'hours to the promised day', type: 'number', description: 'From now to the end of the promised day', example: '40', read: (c) => hoursBetween(c.now, c.order.promisedBy ? instant(`${c.order.promisedBy}T23:59:59Z`) : undefined) },
  { id: 'age', name: 'hours since the order', type: 'number', description: 'From the order to now', example: '3', read: (c) => hoursBetween(instant(c.order.placedAt) ?? c.now, c.now) },
  { id: 'tags', name: 'tags', type: 'tags', settledBy: 'triage', description: 'Tags that Triage rules added', example: 'live', read: (c) => c.tags },
  { id: 'held', name: 'order is held', type: 'yes/no', settledBy: 'triage', description: 'A rule or a person holds the order', example: 'no', read: (c) => c.held },
  { id: 'weight', name: 'corrected weight', type: 'weight', settledBy: 'triage', description: 'Items with the corrections of Triage', example: '1.26 kg', read: (c) => c.weight },
  { id: 'preset', name: 'package preset', type: 'text', settledBy: 'packing', description: 'The preset that the parcel is packed in', example: 'box-m', read: (c) => c.parcel?.preset },
  { id: 'parcel weight', name: 'parcel weight', type: 'weight', settledBy: 'packing', description: 'Items, corrections and packaging', example: '1.5 kg', read: (c) => c.parcel?.weight },
  { id: 'longest side', name: 'longest side', type: 'length', settledBy: 'packing', description: 'Longest outer side of the parcel', example: '40 cm', read: (c) => c.parcel?.longestSide },
  { id: 'girth', name: 'length plus girth', type: 'length', settledBy: 'packing', description: 'Longest side and twice the two others', example: '120 cm', read: (c) => c.parcel?.girth },
  { id: 'location', name: 'location', type: 'text', settledBy: 'origin', description: 'Where the order ships from', example: 'ghent', read: (c) => c.location?.id },
  { id: 'trade', name: 'trade', type: 'text', settledBy: 'origin', description: 'domestic, customs union or export', example: 'export', read: (c) => c.trade },
  { id: 'insured value', name: 'insured value', type: 'money', settledBy: 'protection', description: 'The value to be covered', example: '250.00 EUR', read: (c) => c.insured },
  { id: 'signature', name: 'signature is needed', type: 'yes/no', settledBy: 'protection', description: 'Somebody must sign', example: 'yes', read: (c) => c.signature },
  { id: 'service', name: 'service', type: 'text', settledBy: 'service', description: 'The service that was chosen', example: 'heron-parcel', read: (c) => c.quote?.service },
  { id: 'carrier', name: 'carrier', type: 'text', settledBy: 'service', description: 'The carrier that was chosen', example: 'heron', read: (c) => c.quote?.carrier },
  { id: 'cost', name: 'label cost', type: 'money', settledBy: 'service', description: 'What the label costs', example: '6.40 EUR', read: (c) => c.quote?.cost },
  { id: 'days late', name: 'days late', type: 'number', settledBy: 'service', description: 'Days of arrival after the promised day; 0 or less is on time', example: '1', read: (c) => c.daysLate },
]

export const itemFacts: readonly ItemFact[] = [
  { id: 'sku', name: 'SKU', type: 'text', description: 'Stock keeping unit', example: 'PLT-ANUB-NANA', read: (item) => orMissing(item.sku) },
  { id: 'title', name: 'title', type: 'text', description: 'Title of the item', example: 'Anubias nana', read: (item) => orMissing(item.title) },
  { id: 'item tags', name: 'tags', type: 'tags', description: 'Tags of the item', example: 'live', read: (item) => item.tags },
  { id: 'item quantity', name: 'quantity', type: 'number', description: 'Pieces on this line', example: '2', read: (item) => item.quantity },
  { id: 'unit weight', name: 'unit weight', type: 'weight', description: 'Weight of one piece', example: '240 g', read: (item) => item.unitWeight ?? undefined },
  { id: 'unit price', name: 'unit price', type: 'money', description: 'Price of one piece', example: '8.90 EUR', read: (item, rates) => toHome(item.unitPrice, rates) ?? undefined },
  { id: 'dangerous goods', name: 'dangerous-goods class', type: 'text', description: 'UN number', example: 'UN 1013', read: (item) => orMissing(item.dangerousGoods) },
  { id: 'hs code', name: 'HS code', type: 'text', description: 'Customs code', example: '0602.90', read: (item) => orMissing(item.hsCode) },
  { id: 'item origin', name: 'country of origin', type: 'country', description: 'Where the item was made', example: 'PL', read: (item) => orMissing(item.origin) },
  { id: 'item longest side', name: 'longest side', type: 'length', description: 'Longest side of one piece', example: '60 cm', read: (item) => (item.size ? Math.max(...item.size) : undefined) },
]

const always: readonly Operator[] = ['is missing', 'is known']
const ordered: readonly Operator[] = ['=', '≠', '<', '≤', '>', '≥', 'between', ...always]

/** The operators that a type of fact understands, the most common first. */
export const operatorsOf: Readonly<Record<FactType, readonly Operator[]>> = {
  text: ['is', 'is not', 'is one of', 'is none of', 'contains', 'starts with', 'ends with', 'matches', ...always],
  country: ['is', 'is not', 'is one of', 'is none of', ...always],
  number: ordered,
  money: ordered,
  weight: ordered,
  length: ordered,
  tags: ['has any', 'has all', 'has none'],
  'yes/no': ['is', 'is not'],
  time: ['before', 'after', 'within the last', 'within the next', 'weekday is', 'time of day between', ...always],
}

/** What the items that fit can be summed up to, with the type of the sum. */
export const itemSums: Readonly<Record<'lines' | 'quantity' | 'value' | 'weight', { readonly name: string; readonly type: FactType }>> = {
  lines: { name: 'number of items', type: 'number' }, quantity: { name: 'quantity of items', type: 'number' }, value: { name: 'value of items', type: 'money' }, weight: { name: 'weight of items', type: 'weight' },
}

/** How the wishes of several rules become one value. */
export type Combination = 'one' | 'sum' | 'set' | 'narrow'

/** What kind of value an action gives; the editor and the checks go by it. */
export type DecisionType = 'tags' | 'text' | 'grams' | 'preset' | 'location' | 'insurance' | 'yes/no' | 'picks' | 'services' | 'slip'

export interface DecisionKind {
  readonly id: DecisionId
  readonly stage: Stage
  readonly combine: Combination
  readonly type: DecisionType
  /** The verb of its action in a sentence. */
  readonly verb: string
  /** Its name as a noun, in trails and filters. */
  readonly name: string
  readonly description: string
}

export const decisionKinds = [
  { id: 'tags', stage: 'triage', combine: 'set', type: 'tags', verb: 'add tags', name: 'tags', description: 'Words that later rules and people can look for' },
  { id: 'hold', stage: 'triage', combine: 'one', type: 'text', verb: 'hold because', name: 'hold', description: 'Keeps the order from being bought until a person releases it' },
  { id: 'weight', stage: 'triage', combine: 'sum', type: 'grams', verb: 'correct the weight by', name: 'weight correction', description: 'Grams added to the weight; may be negative' },
  { id: 'preset', stage: 'packing', combine: 'one', type: 'preset', verb: 'pack in', name: 'package preset', description: 'Otherwise the smallest preset that fits is taken' },
  { id: 'location', stage: 'origin', combine: 'one', type: 'location', verb: 'ship from', name: 'location', description: 'Otherwise the first location' },
  { id: 'insurance', stage: 'protection', combine: 'one', type: 'insurance', verb: 'insure for', name: 'insurance', description: 'The order value, or a fixed amount' },
  { id: 'signature', stage: 'protection', combine: 'one', type: 'yes/no', verb: 'ask for a signature:', name: 'signature', description: 'Only services with a signature remain' },
  { id: 'picks', stage: 'service', combine: 'one', type: 'picks', verb: 'choose', name: 'service', description: 'An ordered list; the first that can carry the parcel decides' },
  { id: 'barred', stage: 'service', combine: 'set', type: 'services', verb: 'never use', name: 'barred services', description: 'Services or whole carriers that must not be chosen' },
  { id: 'allowed', stage: 'service', combine: 'narrow', type: 'services', verb: 'only use', name: 'allowed services', description: 'When several rules say this, only what all of them allow remains' },
  { id: 'slip', stage: 'papers', combine: 'one', type: 'slip', verb: 'print the slip', name: 'slip template', description: 'The packing slip in the parcel' },
  { id: 'reference', stage: 'papers', combine: 'one', type: 'text', verb: 'put on the label', name: 'label reference', description: 'Text on the label; {number}, {channel} and {sku} are filled in' },
  { id: 'buyByItself', stage: 'papers', combine: 'one', type: 'yes/no', verb: 'buy by itself:', name: 'buy by itself', description: 'The label is bought as soon as the order is ready' },
] as const satisfies readonly (Omit<DecisionKind, 'id'> & { id: string })[]

export type DecisionId = (typeof decisionKinds)[number]['id']

export const factById: ReadonlyMap<string, Fact> = new Map(facts.map((fact) => [fact.id, fact]))
export const itemFactById: ReadonlyMap<string, ItemFact> = new Map(itemFacts.map((fact) => [fact.id, fact]))
export const decisionById: ReadonlyMap<string, DecisionKind> = new Map(decisionKinds.map((kind) => [kind.id, kind]))
