import type { ShopOrder } from '../standins/channels/shop'
import { demoItems } from './items'
import { companies, firstNames, lastNames, places, type Place } from './people'
import { seeded, type Random } from './random'

export type DemoSize = 'small' | 'large'
export const orderCounts: Readonly<Record<DemoSize, number>> = { small: 2000, large: 100_000 }
const daysBack: Readonly<Record<DemoSize, number>> = { small: 60, large: 90 }

const wordings: readonly (readonly [string, number])[] = [
  ['Free', 38],
  ['Standard', 30],
  ['Exp. 2-day', 8],
  ['Priority 1-day', 5],
  ['810', 6],
  ['Pick-up point', 4],
  ['Tracked', 9],
]
const basket: readonly (readonly [number, number])[] = [
  [1, 52],
  [2, 28],
  [3, 13],
  [4, 7],
]
const popular = demoItems.map((item) => [item, popularity(item)] as const)

function popularity({ price, tags }: (typeof demoItems)[number]): number {
  if (Number(price) > 1000) return 0.3
  if (Number(price) > 150) return 1.5
  if (tags.includes('live')) return 6
  return tags.includes('letter') ? 5 : 3
}

const currencyOf: Readonly<Record<string, string>> = { GB: 'GBP', PL: 'PLN' }

function shippingPaid(wording: string, fast: boolean): string {
  if (wording === 'Free') return '0.00'
  return fast ? '12.50' : '4.95'
}

/**
 * The orders of the demo's shop, oldest first, up to the morning of the anchor day: the same size, seed and anchor give
 * the same bytes. About one in twenty-five has something wrong with it, as in life. Who looks before that
 * morning has none that is placed after `now` (ms).
 */
export function* demoOrders(size: DemoSize, seed: number, anchorDay: string, now = Infinity): Generator<ShopOrder> {
  const random = seeded(seed)
  const count = orderCounts[size]
  const end = Math.min(Date.parse(`${anchorDay}T06:00:00Z`), now)
  const span = daysBack[size] * 86_400_000
  let last: ShopOrder | null = null
  for (let i = 0; i < count; i++) {
    // The youngest sixth falls on the last two days: that is what waits in the morning.
    const share = i / count
    const placed =
      share < 5 / 6
        ? end - span + (span - 2 * 86_400_000) * (share * 1.2)
        : end - 2 * 86_400_000 * (1 - (share - 5 / 6) * 6)
    const order = makeOrder(random, i, new Date(Math.floor(placed / 1000) * 1000))
    // Now and then somebody orders once more.
    const again = last !== null && i % 40 === 39
    yield again ? { ...order, customer: { ...last!.customer, returning: true }, ship_to: last!.ship_to } : order
    last = order
  }
}

function makeOrder(random: Random, index: number, placed: Date): ShopOrder {
  const place = random.weighted(places)
  const name = `${random.pick(firstNames)} ${random.pick(lastNames)}`
  const wording = random.weighted(wordings)
  const fast = /1-day|2-day/.test(wording)
  const lines = makeLines(random)
  const total = lines.reduce((sum, line) => sum + Math.round(Number(line.price) * 100) * line.quantity, 0)
  const at = placed.toISOString()
  const order: ShopOrder = {
    id: `s-${String(index + 1).padStart(7, '0')}`,
    number: `MG-${10_001 + index}`,
    status: 'open',
    placed_at: at,
    changed_at: at,
    promised_by: new Date(placed.getTime() + (fast ? 2 : 5 + random.below(3)) * 86_400_000).toISOString().slice(0, 10),
    payment: random.chance(0.03) ? 'cash on delivery' : 'card',
    shipping_method: wording,
    currency: currencyOf[place.country] ?? 'EUR',
    shipping: shippingPaid(wording, fast),
    total_items: (total / 100).toFixed(2),
    discount: random.chance(0.1) ? '5.00' : '0.00',
    customer: {
      name,
      email: `${plain(name)}${random.below(90) + 10}@post.example`,
      phone: random.chance(0.4) ? phoneOf(place.country, String(random.below(10_000)).padStart(4, '0')) : '',
      returning: random.chance(0.45),
    },
    ship_to: makeAddress(random, place, name),
    lines,
    fulfilments: [],
  }
  return random.chance(0.04) ? spoil(random, order) : order
}

/** Numbers that belong to nobody: where a country keeps mobile ones for stories (ARCEP, Ofcom), one of those. */
function phoneOf(country: string, digits: string): string {
  if (country === 'FR') return `+33 6 39 98 ${digits.slice(0, 2)} ${digits.slice(2)}`
  return country === 'GB' ? `+44 7700 900${digits.slice(1)}` : `+00 555 ${digits}`
}

function makeLines(random: Random): ShopOrder['lines'] {
  const chosen = new Set<(typeof demoItems)[number]>()
  const want = random.weighted(basket)
  while (chosen.size < want) chosen.add(random.weighted(popular))
  return [...chosen].map((item, i) => ({
    id: String(i + 1),
    sku: item.sku,
    title: item.title,
    quantity: item.tags.includes('live') || item.tags.includes('letter') ? 1 + random.below(3) : 1,
    price: item.price,
    weight_grams: item.weight,
    size_mm: [...item.size],
    tags: [...item.tags],
    un_number: item.dangerousGoods,
    hs_code: item.hsCode,
    origin: item.origin,
  }))
}

function makeAddress(random: Random, place: Place, name: string): ShopOrder['ship_to'] {
  const [postcode, city] = random.pick(place.places)
  const street = random.pick(place.streets).replace(/#/g, () => String(1 + random.below(9)))
  return {
    name,
    company: random.chance(0.12) ? random.pick(companies) : '',
    street: [street],
    city,
    postcode,
    region: '',
    country: place.country,
  }
}

/** What goes wrong in real orders. */
function spoil(random: Random, order: ShopOrder): ShopOrder {
  const head = order.lines[0]!
  const to = order.ship_to
  const shipTo = (change: Partial<ShopOrder['ship_to']>): ShopOrder => ({ ...order, ship_to: { ...to, ...change } })
  const first = (change: Partial<ShopOrder['lines'][number]>): ShopOrder => ({
    ...order,
    lines: [{ ...head, ...change }, ...order.lines.slice(1)],
  })
  switch (random.below(10)) {
    case 0: {
      const box = to.country === 'BE' || to.country === 'NL' ? 'Postbus' : 'PO Box'
      return shipTo({ street: [`${box} ${100 + random.below(900)}`] })
    }
    case 1:
      return first({
        ...{ sku: `NEW-${100 + random.below(900)}`, title: 'Item not in the list yet', weight_grams: 0, size_mm: [] },
      })
    case 2:
      return shipTo({ country: 'Atlantis' })
    case 3:
      return shipTo({ street: [] })
    case 4: {
      const heavy = { sku: 'SUB-20KG', title: 'Substrate, 20 kg bag', weight_grams: 20_200, size_mm: [560, 380, 110] }
      return { ...order, lines: [{ ...head, ...heavy, quantity: 2 }] }
    }
    case 5:
      return shipTo({ street: [...to.street, `mail: ${order.customer.email}`] })
    case 6:
      return shipTo({ street: to.street.map((line) => line.replace(/\s*\d+\s*/g, ' ').trim()) })
    case 7:
      return shipTo({ postcode: `${to.country}-${to.postcode.replace(/[\s-]/g, '')}` })
    case 8:
      return shipTo({ name: 'Γιώργος Παππάς', street: [...to.street, 'παράρτημα 2'] })
    default:
      return { ...order, customer: { ...order.customer, email: '' } }
  }
}

const plain = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/ł/g, 'l')
    .replace(/đ/g, 'd')
    .replace(/[^a-z]+/g, '.')
    .replace(/^\.|\.$/g, '')
