import { asLaneOrder } from '../../demo/laneOrders'
import { asQuillOrder } from '../../demo/quillOrders'
import type { LaneOrder } from '../../standins/channels/lane'
import type { QuillOrder } from '../../standins/channels/quill'
import type { ShopOrder } from '../../standins/channels/shop'
import { outside } from '../acts'
import { bookOf, type Books, compareTold, type OrderRow, type Say } from '../books'
import { type House, markets } from '../house'

type Market = (typeof markets)[number]
/** The channels of the day besides the shop, by the names of their stand-ins. */
export const marketIds: Readonly<Record<Market, string>> = {
  lane: 'tallow-lane',
  quill: 'quillmart',
  desk: 'trade-desk',
}

/** What came into the channels besides the shop: their own identifiers of the orders. */
export type Came = Readonly<Record<Market, Set<string>>>
export const nothingCame = (): Came => ({ lane: new Set(), quill: new Set(), desk: new Set() })

/** Which channel the order of a number comes from: six of ten are the shop's, and the fewest wholesale customers'. */
export function channelOfOrder(n: number): Market | 'shop' {
  if (n % 20 === 19) return 'desk'
  if (n % 10 < 6) return 'shop'
  return n % 10 < 8 ? 'lane' : 'quill'
}

/** An order as a wholesale customer writes it into a line of their file. */
const deskLine = ({ number, placed_at, customer, ship_to: to, lines }: ShopOrder): string =>
  JSON.stringify({
    number,
    placedAt: placed_at,
    buyer: { name: customer.name, email: customer.email },
    shipTo: {
      ...{ name: to.name, company: to.company, lines: to.street },
      ...{ city: to.city, postcode: to.postcode, region: to.region, country: to.country },
    },
    items: lines.map(({ sku, quantity }) => ({ sku, quantity })),
  })

/** Puts orders into their channels: pages of the one, messages of the other, a file of the third. */
export async function comeIn(house: House, market: Market, orders: readonly ShopOrder[], came: Came): Promise<void> {
  if (orders.length === 0) return
  if (market === 'lane') {
    const list = orders.map((order, i) => ({ ...asLaneOrder(order, i), orderId: order.id, reference: order.number }))
    if (await outside(house, 'lane', '/admin/orders', list)) for (const { id } of orders) came.lane.add(id)
  } else if (market === 'quill') {
    for (const [i, order] of orders.entries()) {
      const one = { ...asQuillOrder(order, i), id: order.id, number: order.number }
      if (await outside(house, 'quill', `/admin/orders/${order.id}`, one)) came.quill.add(order.id)
    }
  } else {
    const file = { name: `${orders[0]!.number}.jsonl`, content: orders.map(deskLine).join('\n'), age: 600 }
    if (await outside(house, 'desk', '/admin/files', file)) for (const { number } of orders) came.desk.add(number)
  }
}

/** How the books of a channel are read: its identifier of an order, and which numbers it was told for each. */
interface MarketBook {
  readonly usually: 'bought' | 'dispatched'
  readonly idOf: (row: OrderRow) => string
  readonly told: (house: House) => Promise<ReadonlyMap<string, readonly string[]>>
}
const byRemoteId = ({ remoteId }: OrderRow): string => remoteId
const marketBooks: Readonly<Record<Market, MarketBook>> = {
  lane: {
    usually: 'bought',
    idOf: byRemoteId,
    told: async (house) => {
      const orders = await bookOf<LaneOrder[]>(house, 'lane', '/admin/orders')
      return new Map(
        orders.map(({ orderId, despatches }) => [orderId, standing(despatches).map((one) => one.trackingNumber)]),
      )
    },
  },
  quill: {
    usually: 'bought',
    idOf: byRemoteId,
    told: async (house) => {
      const orders = await bookOf<QuillOrder[]>(house, 'quill', '/admin/orders')
      return new Map(orders.map(({ id, shipments }) => [id, standing(shipments).map((one) => one.tracking)]))
    },
  },
  desk: { usually: 'dispatched', idOf: ({ number }) => number, told: advised },
}

/** Everything that a channel besides the shop knows otherwise than the books. */
export async function compareMarkets(house: House, books: Books, came: Came): Promise<string[]> {
  const faults: string[] = []
  const say: Say = (sentence) => void faults.push(sentence)
  for (const market of markets) {
    const { usually, idOf, told: read } = marketBooks[market]
    const rows: OrderRow[] = await house.db('orders').where({ channelId: marketIds[market] })
    const times = new Map<string, number>()
    for (const row of rows) times.set(idOf(row), (times.get(idOf(row)) ?? 0) + 1)
    for (const id of came[market])
      if (times.get(id) !== 1) say(`order ${id} of ${market} is there ${times.get(id) ?? 0} times`)
    for (const id of times.keys())
      if (!came[market].has(id)) say(`order ${id} is in the books, and ${market} never had it`)
    const told = await read(house)
    compareTold(books, { name: market, rows, usually, told: (row) => told.get(idOf(row)) ?? [] }, say)
  }
  // Its buyers are not to be written to.
  const [{ n }] = (await house
    .db('notices')
    .join('orders', 'orders.id', 'notices.order_id')
    .where({ channelId: marketIds.lane })
    .count({ n: '*' })) as [{ n: number }]
  if (Number(n) > 0) say(`${n} letters to buyers of lane, which forbids them`)
  return faults
}

const standing = <T extends { readonly withdrawn: boolean }>(list: readonly T[]): T[] =>
  list.filter(({ withdrawn }) => !withdrawn)

/** The tracking numbers of each order in the despatch advices that lie at the wholesale customers' server. */
async function advised(house: House): Promise<ReadonlyMap<string, readonly string[]>> {
  const rooms = await bookOf<{ out: Readonly<Record<string, string>> }>(house, 'desk', '/admin/files')
  const [told, cancelled] = [new Map<string, Set<string>>(), new Set<string>()]
  for (const content of Object.values(rooms.out)) {
    const order = /<cac:OrderReference>\s*<cbc:ID>([^<]*)</.exec(content)?.[1] ?? ''
    const number = /<cac:Shipment>\s*<cbc:ID>([^<]*)</.exec(content)?.[1] ?? ''
    if (content.includes('<cbc:DocumentStatusCode>Cancelled<')) cancelled.add(number)
    else told.set(order, (told.get(order) ?? new Set()).add(number))
  }
  return new Map([...told].map(([order, numbers]) => [order, [...numbers].filter((one) => !cancelled.has(one))]))
}
