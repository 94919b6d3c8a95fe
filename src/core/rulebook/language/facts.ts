import { isParcelLocker, territories, territoryOf } from '@/core/address'
import { dayOf, endOfDay } from '@/core/calendar'
import { type ComesBack, isBlank, type Item, type Order } from '@/core/order'
import { returnReasons } from '@/core/returns'
import { money, type Rates, toHome } from '@/core/units'
import { type Case, promiseChance } from './case'
import { speeds } from '@/core/rating'
import { priorities } from './decisionKinds'
import type { Operator, Stage } from './rulebook'

export type FactType =
  'text' | 'postcode' | 'number' | 'money' | 'weight' | 'length' | 'country' | 'tags' | 'yes/no' | 'time'
export type FactValue = string | number | boolean | readonly string[] | undefined

interface About {
  readonly id: string
  /** How it reads in a sentence. */
  readonly name: string
  readonly type: FactType
  readonly description: string
  readonly example: string
  /** All values that a text can have; absent when there is no end of them. */
  readonly values?: readonly string[]
  /** Numbers: the least there is (0 when absent), and whether fractions occur. */
  readonly least?: number
  readonly fractions?: true
  /** It is never missing. */
  readonly always?: true
}

export interface Fact extends About {
  /** The stage that settles it; it can be tested from the next stage on. Absent: imported with the order. */
  readonly settledBy?: Stage
  /** It follows from the items alone. */
  readonly ofItems?: true
  /** It hangs on the clocks of the location as well. */
  readonly ofClock?: true
  readonly read: (c: Case) => FactValue
  /**
   * The order with another value of this fact, amounts in the home currency; absent when it follows from other facts.
   */
  readonly write?: (order: Order, value: FactValue, home: string) => Order
}

export interface ItemFact extends About {
  readonly read: (item: Item, rates: Rates) => FactValue
  readonly write: (item: Item, value: FactValue, home: string) => Item
}

const instant = (text: string): number | undefined => {
  const ms = Date.parse(text)
  return Number.isNaN(ms) || ms === 0 ? undefined : ms
}
/**
 * A day without a time of day: its last moment by the location's clocks, as what is promised for a day may come until
 * midnight there.
 */
function lastMomentOf(day: string, zone: string): number | undefined {
  const number = day === '' ? NaN : dayOf(day)
  return Number.isNaN(number) ? undefined : endOfDay(number, zone)
}
const hoursBetween = (from: number, until: number | undefined): number | undefined =>
  until === undefined ? undefined : Math.floor((until - from) / 3_600_000)

const orMissing = (text: string): string | undefined => (isBlank(text) ? undefined : text)
const asText = (value: FactValue): string => (typeof value === 'string' ? value : '')
const shipTo = (order: Order, change: Partial<Order['shipTo']>): Order => ({
  ...order,
  shipTo: { ...order.shipTo, ...change },
})
const buyer = (order: Order, change: Partial<Order['buyer']>): Order => ({
  ...order,
  buyer: { ...order.buyer, ...change },
})
/** A return with something of it changed. */
const back = (order: Order, change: ComesBack): Order => ({ ...order, comesBack: { ...order.comesBack, ...change } })
const amount = (value: FactValue, home: string): ReturnType<typeof money> =>
  typeof value === 'number' ? money(value, home) : money(0, 'XXX')
const addressProblem = (code: string): boolean =>
  code === 'unknown-country' || code === 'no-street' || code === 'no-city' || code.startsWith('address-')

/**
 * Every fact an order can have. A fact is added here and nowhere else: editor, checks, findings, schema and guide read
 * this list.
 */
export const facts: readonly Fact[] = [
  {
    id: 'channel',
    name: 'channel',
    type: 'text',
    description: 'The sales channel that the order came from',
    example: 'mossgill-shop',
    read: (c) => orMissing(c.order.channel),
    write: (order, value) => ({ ...order, channel: asText(value) }),
  },
  {
    id: 'order number',
    name: 'order number',
    type: 'text',
    description: "The channel's order number",
    example: 'MG-10482',
    read: (c) => orMissing(c.order.number),
    write: (order, value) => ({ ...order, number: asText(value) }),
  },
  {
    id: 'wording',
    name: 'checkout wording',
    type: 'text',
    description: 'What the checkout called the way of shipping, verbatim',
    example: 'Exp. 2-day',
    read: (c) => orMissing(c.order.wording),
    write: (order, value) => ({ ...order, wording: asText(value) }),
  },
  {
    id: 'payment',
    always: true,
    name: 'payment method',
    type: 'text',
    values: ['prepaid', 'cash on delivery'],
    description: 'prepaid or cash on delivery',
    example: 'prepaid',
    read: (c) => c.order.paymentMethod,
    write: (order, value) => ({ ...order, paymentMethod: value === 'cash on delivery' ? value : 'prepaid' }),
  },
  {
    id: 'shipping paid',
    name: 'shipping paid',
    type: 'money',
    description: 'What the buyer paid for shipping',
    example: '4.95 EUR',
    read: (c) => c.shippingPaid,
    write: (order, value, home) => ({ ...order, shippingPaid: amount(value, home) }),
  },
  {
    id: 'order value',
    name: 'order value',
    type: 'money',
    description: 'Value of the goods',
    example: '120.00 EUR',
    read: (c) => c.value,
    write: (order, value, home) => ({ ...order, value: amount(value, home) }),
  },
  {
    id: 'discount',
    name: 'discount',
    type: 'money',
    description: 'Discount on the order',
    example: '10.00 EUR',
    read: (c) => c.discount,
    write: (order, value, home) => ({ ...order, discount: amount(value, home) }),
  },
  {
    id: 'returning buyer',
    always: true,
    name: 'buyer is returning',
    type: 'yes/no',
    description: 'The buyer has bought before',
    example: 'yes',
    read: (c) => c.order.buyer.returning,
    write: (order, value) => buyer(order, { returning: value === true }),
  },
  {
    id: 'has e-mail',
    name: 'buyer has an e-mail',
    type: 'yes/no',
    description: 'An e-mail address is known',
    example: 'yes',
    read: (c) => c.order.buyer.email !== '',
    write: (order, value) => buyer(order, { email: value ? 'noor@post.example' : '' }),
  },
  {
    id: 'has phone',
    name: 'buyer has a phone',
    type: 'yes/no',
    description: 'A phone number is known',
    example: 'no',
    read: (c) => c.order.buyer.phone !== '',
    write: (order, value) => buyer(order, { phone: value ? '+32 9 555 01 20' : '' }),
  },
  {
    id: 'country',
    name: 'ship-to country',
    type: 'country',
    description: 'Country of the ship-to address',
    example: 'BE',
    read: (c) => orMissing(c.order.shipTo.country),
    write: (order, value) => shipTo(order, { country: asText(value) }),
  },
  {
    id: 'postcode',
    name: 'ship-to postcode',
    type: 'postcode',
    description: 'Postcode of the ship-to address',
    example: '9000',
    read: (c) => orMissing(c.order.shipTo.postcode),
    write: (order, value) => shipTo(order, { postcode: asText(value) }),
  },
  {
    id: 'city',
    name: 'ship-to city',
    type: 'text',
    description: 'City of the ship-to address',
    example: 'Gent',
    read: (c) => orMissing(c.order.shipTo.city),
    write: (order, value) => shipTo(order, { city: asText(value) }),
  },
  {
    id: 'region',
    name: 'ship-to region',
    type: 'text',
    description: 'Region or state of the ship-to address',
    example: 'Oost-Vlaanderen',
    read: (c) => orMissing(c.order.shipTo.region),
    write: (order, value) => shipTo(order, { region: asText(value) }),
  },
  {
    id: 'post-office box',
    name: 'ship-to is a post-office box',
    type: 'yes/no',
    description: 'The address names a post-office box',
    example: 'no',
    read: (c) => c.postOfficeBox,
    write: (order, value) => shipTo(order, { lines: [value ? 'PO Box 12' : 'Coupure 8'] }),
  },
  {
    id: 'company',
    name: 'ship-to is a company',
    type: 'yes/no',
    description: 'The address names a company',
    example: 'no',
    read: (c) => c.order.shipTo.company !== '',
    write: (order, value) => shipTo(order, { company: value ? 'Aqua Atelier' : '' }),
  },
  {
    id: 'residential',
    name: 'ship-to is a home',
    type: 'yes/no',
    description: 'There is no company in the address',
    example: 'yes',
    read: (c) => c.order.shipTo.company === '',
  },
  {
    id: 'remote area',
    name: 'ship-to is in a remote area',
    type: 'yes/no',
    description: 'The postcode is in the list of remote areas',
    example: 'no',
    read: (c) => c.remoteArea,
  },
  {
    id: 'parcel locker',
    name: 'ship-to is a parcel locker',
    type: 'yes/no',
    description: 'The address names a parcel locker',
    example: 'no',
    read: (c) => isParcelLocker(c.order.shipTo.lines),
    write: (order, value) => shipTo(order, { lines: [value ? 'Packstation 145' : 'Coupure 8'] }),
  },
  {
    id: 'territory',
    name: 'special territory',
    type: 'text',
    values: [...new Set(territories.map(({ name }) => name))],
    description: 'Part of a country with customs rules of its own: islands, overseas, Northern Ireland',
    example: 'Canary Islands',
    read: (c) => territoryOf(c.order.shipTo.country, c.order.shipTo.postcode)?.name,
  },
  {
    id: 'address problems',
    name: 'address has problems',
    type: 'yes/no',
    description: 'Something that the label needs is missing, wrong, or does not belong there',
    example: 'no',
    read: (c) => c.order.problems.some((problem) => addressProblem(problem.code)),
    write: (order, value) => ({
      ...order,
      problems: value ? [{ code: 'no-city', sentence: 'The address has no city: ask the buyer.' }] : [],
    }),
  },
  {
    id: 'quantity',
    ofItems: true,
    always: true,
    name: 'total quantity',
    type: 'number',
    description: 'Pieces of all items together',
    example: '3',
    read: (c) => c.basket.quantity,
  },
  {
    id: 'lines',
    ofItems: true,
    always: true,
    name: 'number of lines',
    type: 'number',
    description: 'Order lines',
    example: '2',
    read: (c) => c.order.items.length,
  },
  {
    id: 'items weight',
    ofItems: true,
    name: 'weight of the items',
    type: 'weight',
    description: 'All items as imported, without packaging; missing when one of them has none',
    example: '1.2 kg',
    read: (c) => (c.basket.weighed ? c.basket.itemsWeight : undefined),
  },
  {
    id: 'items volume',
    ofItems: true,
    always: true,
    name: 'volume of the items in litres',
    type: 'number',
    fractions: true,
    description: 'All items together, without packaging; missing when one of them has no size',
    example: '12',
    read: (c) => (c.basket.measured ? c.basket.itemsVolume / 1e6 : undefined),
  },
  {
    id: 'stocked at',
    ofItems: true,
    name: 'everything is in stock at',
    type: 'tags',
    description: 'Locations that have every item of the order',
    example: 'ghent',
    read: (c) => c.basket.stockedAt,
  },
  {
    id: 'placed',
    name: 'order was placed',
    type: 'time',
    description: 'When the buyer ordered; days and hours in the location’s time zone',
    example: '2026-11-25',
    read: (c) => instant(c.order.placedAt),
  },
  {
    id: 'paid',
    name: 'order was paid',
    type: 'time',
    description: 'When the payment came in',
    example: '2026-11-25',
    read: (c) => instant(c.order.paidAt ?? ''),
  },
  {
    id: 'promised',
    name: 'promised day',
    type: 'time',
    description: 'The day by which the channel promised delivery',
    example: '2026-11-28',
    read: (c) => lastMomentOf(c.order.promisedBy, c.zone),
  },
  {
    id: 'now',
    always: true,
    name: 'it is now',
    type: 'time',
    description: 'The moment of routing',
    example: '2026-11-25',
    read: (c) => c.now,
  },
  {
    id: 'hours to promise',
    ofClock: true,
    name: 'hours to the promised day',
    type: 'number',
    least: -Infinity,
    description: 'From now to midnight at the end of the promised day, by the location’s clocks',
    example: '40',
    read: (c) => hoursBetween(c.now, lastMomentOf(c.order.promisedBy, c.zone)),
  },
  {
    id: 'age',
    name: 'hours since the order',
    type: 'number',
    least: -Infinity,
    description: 'From the order to now',
    example: '3',
    read: (c) => hoursBetween(instant(c.order.placedAt) ?? c.now, c.now),
  },
  {
    id: 'return reason',
    name: 'return reason',
    type: 'text',
    values: returnReasons,
    description: 'Why the buyer wants to send something back; missing while nothing comes back',
    example: 'damaged',
    read: (c) => c.order.comesBack?.reason,
    write: (order, value) => back(order, { reason: asText(value) }),
  },
  {
    id: 'return days',
    name: 'return days after delivery',
    type: 'number',
    description:
      'Whole days from the delivery to when the buyer asked to send it back; missing while nothing comes back',
    example: '14',
    read: (c) => c.order.comesBack?.days,
    write: (order, value) => back(order, { days: typeof value === 'number' ? value : 0 }),
  },
  {
    id: 'return value',
    name: 'return value',
    type: 'money',
    description: 'What the pieces that come back were sold for; missing while nothing comes back',
    example: '34.90 EUR',
    read: (c) => c.returned,
    write: (order, value, home) => back(order, { value: amount(value, home) }),
  },
  {
    id: 'tags',
    name: 'tags',
    type: 'tags',
    settledBy: 'triage',
    description: 'Tags that Triage rules added',
    example: 'live',
    read: (c) => c.tags,
  },
  {
    id: 'held',
    name: 'order is held',
    type: 'yes/no',
    settledBy: 'triage',
    description: 'A rule or a person holds the order',
    example: 'no',
    read: (c) => c.held,
  },
  {
    id: 'speed',
    name: 'wanted speed',
    type: 'text',
    values: speeds,
    settledBy: 'triage',
    description: 'How fast the buyer wants it: from the wording table or a rule',
    example: 'express',
    read: (c) => c.speed ?? undefined,
  },
  {
    id: 'priority',
    always: true,
    name: 'priority',
    type: 'text',
    values: priorities,
    settledBy: 'triage',
    description: 'urgent, normal or later',
    example: 'urgent',
    read: (c) => c.priority,
  },
  {
    id: 'weight',
    name: 'corrected weight',
    type: 'weight',
    settledBy: 'triage',
    description:
      'Items with the corrections of Triage; missing when an item has no weight, unless a person corrected it',
    example: '1.26 kg',
    read: (c) => c.weight,
  },
  {
    id: 'preset',
    name: 'package preset',
    type: 'text',
    settledBy: 'packing',
    description: 'The preset of the first parcel',
    example: 'box-m',
    read: (c) => orMissing(c.parcels[0]?.preset ?? ''),
  },
  {
    id: 'parcels',
    name: 'number of parcels',
    type: 'number',
    settledBy: 'packing',
    description: 'Parcels that the order is packed in',
    example: '1',
    read: (c) => c.packed?.count,
  },
  {
    id: 'parcel weight',
    name: 'parcel weight',
    type: 'weight',
    settledBy: 'packing',
    description: 'Items, corrections, inserts and packaging; of several parcels, the heaviest',
    example: '1.5 kg',
    read: (c) => (c.weight === undefined ? undefined : c.packed?.heaviest),
  },
  {
    id: 'shipment weight',
    name: 'weight of all parcels',
    type: 'weight',
    settledBy: 'packing',
    description: 'All parcels together',
    example: '3 kg',
    read: (c) => (c.weight === undefined ? undefined : c.packed?.weight),
  },
  {
    id: 'longest side',
    name: 'longest side',
    type: 'length',
    settledBy: 'packing',
    description: 'Longest outer side of any parcel',
    example: '40 cm',
    read: (c) => c.packed?.longestSide,
  },
  {
    id: 'girth',
    name: 'length plus girth',
    type: 'length',
    settledBy: 'packing',
    description: 'Longest side and twice the two others; of several parcels, the biggest',
    example: '120 cm',
    read: (c) => c.packed?.girth,
  },
  {
    id: 'parcel volume',
    name: 'volume of all parcels in litres',
    type: 'number',
    fractions: true,
    settledBy: 'packing',
    description: 'Outer volume of all parcels',
    example: '23',
    read: (c) => (c.packed ? c.packed.volume / 1e6 : undefined),
  },
  {
    id: 'location',
    name: 'location',
    type: 'text',
    settledBy: 'origin',
    description: 'Where the order ships from',
    example: 'ghent',
    read: (c) => c.location?.id,
  },
  {
    id: 'trade',
    name: 'trade',
    type: 'text',
    values: ['domestic', 'customs union', 'export'],
    settledBy: 'origin',
    description: 'domestic, customs union or export',
    example: 'export',
    read: (c) => c.trade,
  },
  {
    id: 'distance',
    name: 'distance band',
    type: 'text',
    values: ['local', 'domestic', 'same continent', 'overseas'],
    settledBy: 'origin',
    description:
      'local (the first two characters of the postcode are the location’s), domestic, same continent or overseas',
    example: 'local',
    read: (c) => c.distance,
  },
  {
    id: 'insured value',
    always: true,
    name: 'insured value',
    type: 'money',
    settledBy: 'protection',
    description: 'The value to be covered',
    example: '250.00 EUR',
    read: (c) => c.insured,
  },
  {
    id: 'signature',
    name: 'signature is needed',
    type: 'yes/no',
    settledBy: 'protection',
    description: 'Somebody must sign',
    example: 'yes',
    read: (c) => c.signature,
  },
  {
    id: 'needs',
    name: 'what the service must offer',
    type: 'tags',
    settledBy: 'protection',
    description: 'tracking, cash on delivery, live goods …',
    example: 'tracking',
    read: (c) => c.needs,
  },
  {
    id: 'service',
    name: 'service',
    type: 'text',
    settledBy: 'service',
    description: 'The service that was chosen',
    example: 'heron-road',
    read: (c) => c.quote?.service,
  },
  {
    id: 'carrier',
    name: 'carrier',
    type: 'text',
    settledBy: 'service',
    description: 'The carrier that was chosen',
    example: 'heron',
    read: (c) => c.quote?.carrier,
  },
  {
    id: 'runner-up',
    name: 'runner-up service',
    type: 'text',
    settledBy: 'service',
    description: 'The cheapest of the services that were not chosen',
    example: 'corvid-parcel',
    read: (c) => c.runnerUp?.service,
  },
  {
    id: 'cost',
    name: 'label cost',
    type: 'money',
    settledBy: 'service',
    description: 'What the label costs',
    example: '6.40 EUR',
    read: (c) => c.quote?.cost,
  },
  {
    id: 'arrival',
    name: 'arrival',
    type: 'time',
    settledBy: 'service',
    description: 'The day on which it should arrive',
    example: '2026-11-28',
    read: (c) => lastMomentOf(c.quote?.arrivesOn ?? '', c.zone),
  },
  {
    id: 'days late',
    name: 'days late',
    type: 'number',
    least: -Infinity,
    settledBy: 'service',
    description: 'Days of arrival after the promised day; 0 or less is on time',
    example: '1',
    read: (c) => c.daysLate,
  },
  {
    id: 'promise chance',
    name: 'chance to arrive by the promised day',
    type: 'number',
    settledBy: 'service',
    description:
      'In per cent, from how parcels of this lane came; unknown where there is no history or no promised day',
    example: '80',
    read: (c) => {
      const chance = c.quote ? promiseChance(c, c.quote) : null
      return chance === null ? undefined : chance / 10
    },
  },
]

export const itemFacts: readonly ItemFact[] = [
  {
    id: 'sku',
    name: 'SKU',
    type: 'text',
    description: 'Stock keeping unit',
    example: 'PLT-ANUB-NANA',
    read: (item) => orMissing(item.sku),
    write: (item, value) => ({ ...item, sku: asText(value) }),
  },
  {
    id: 'title',
    name: 'title',
    type: 'text',
    description: 'Title of the item',
    example: 'Anubias nana',
    read: (item) => orMissing(item.title),
    write: (item, value) => ({ ...item, title: asText(value) }),
  },
  {
    id: 'item tags',
    name: 'tags',
    type: 'tags',
    description: 'Tags of the item',
    example: 'live',
    read: (item) => item.tags,
    write: (item, value) => ({ ...item, tags: (value as readonly string[] | undefined) ?? [] }),
  },
  {
    id: 'item quantity',
    always: true,
    name: 'quantity',
    type: 'number',
    least: 1,
    description: 'Pieces on this line',
    example: '2',
    read: (item) => item.quantity,
    write: (item, value) => ({ ...item, quantity: value as number }),
  },
  {
    id: 'unit weight',
    name: 'unit weight',
    type: 'weight',
    description: 'Weight of one piece',
    example: '240 g',
    read: (item) => item.unitWeight ?? undefined,
    write: (item, value) => ({ ...item, unitWeight: (value ?? null) as Item['unitWeight'] }),
  },
  {
    id: 'unit price',
    name: 'unit price',
    type: 'money',
    description: 'Price of one piece',
    example: '8.90 EUR',
    read: (item, rates) => toHome(item.unitPrice, rates) ?? undefined,
    write: (item, value, home) => ({ ...item, unitPrice: amount(value, home) }),
  },
  {
    id: 'dangerous goods',
    name: 'dangerous-goods class',
    type: 'text',
    description: 'UN number',
    example: 'UN 1013',
    read: (item) => orMissing(item.dangerousGoods),
    write: (item, value) => ({ ...item, dangerousGoods: asText(value) }),
  },
  {
    id: 'handling',
    name: 'handling',
    type: 'tags',
    description: 'fragile, this side up, own box, alone, not stackable or live',
    example: 'fragile',
    read: (item) => item.handling ?? [],
    write: (item, value) => ({
      ...item,
      handling: ((value as readonly string[] | undefined) ?? []) as Item['handling'],
    }),
  },
  {
    id: 'hs code',
    name: 'HS code',
    type: 'text',
    description: 'Customs code',
    example: '0602.90',
    read: (item) => orMissing(item.hsCode),
    write: (item, value) => ({ ...item, hsCode: asText(value) }),
  },
  {
    id: 'item origin',
    name: 'country of origin',
    type: 'country',
    description: 'Where the item was made',
    example: 'PL',
    read: (item) => orMissing(item.origin),
    write: (item, value) => ({ ...item, origin: asText(value) }),
  },
  {
    id: 'item longest side',
    name: 'longest side',
    type: 'length',
    least: 1,
    description: 'Longest side of one piece',
    example: '60 cm',
    read: (item) => (item.size ? Math.max(...item.size) : undefined),
    write: (item, value) => ({
      ...item,
      size: (value === undefined
        ? null
        : [value, Math.min(20, value as number), Math.min(10, value as number)]) as Item['size'],
    }),
  },
]

const always: readonly Operator[] = ['is missing', 'is known']
const ordered: readonly Operator[] = ['=', '≠', '<', '≤', '>', '≥', 'between', ...always]
const textual: readonly Operator[] = [
  'is',
  'is not',
  'is one of',
  'is none of',
  'contains',
  'contains any of',
  'contains none of',
  'starts with',
  'ends with',
  'matches',
  ...always,
]

/** The operators that a type of fact understands, the most common first. */
export const operatorsOf: Readonly<Record<FactType, readonly Operator[]>> = {
  text: textual,
  postcode: ['is', 'is not', 'is one of', 'is none of', 'starts with', 'matches', ...always],
  country: ['is', 'is not', 'is one of', 'is none of', ...always],
  number: ordered,
  money: ordered,
  weight: ordered,
  length: ordered,
  tags: ['has any', 'has all', 'has none'],
  'yes/no': ['is', 'is not'],
  time: ['before', 'after', 'within the last', 'within the next', 'weekday is', 'time of day between', ...always],
}

/** Whether a type's values are texts. */
export const isTextual = (type: FactType): boolean => type === 'text' || type === 'country' || type === 'postcode'

/** Whether an operator takes a list of values. */
export const takesList = (op: Operator, type: FactType): boolean =>
  type === 'tags' || op === 'is one of' || op === 'is none of' || op === 'contains any of' || op === 'contains none of'

/** What the items that fit can be summed up to, with the type of the sum. */
export const itemSums: Readonly<
  Record<'lines' | 'quantity' | 'value' | 'weight', { readonly name: string; readonly type: FactType }>
> = {
  lines: { name: 'number of items', type: 'number' },
  quantity: { name: 'quantity of items', type: 'number' },
  value: { name: 'value of items', type: 'money' },
  weight: { name: 'weight of items', type: 'weight' },
}

export const factById: ReadonlyMap<string, Fact> = new Map(facts.map((fact) => [fact.id, fact]))
export const itemFactById: ReadonlyMap<string, ItemFact> = new Map(itemFacts.map((fact) => [fact.id, fact]))
