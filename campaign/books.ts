import type { Database } from '@/data'
import { atHome } from '../reference/plain'
import { demoWorld } from '../demo/world'
import type { CarrierLabel } from '../standins/carrier'
import type { StoredMail } from '../standins/mail'
import type { ShopOrder } from '../standins/channels/shop'
import type { Promised } from './acts'
import { carrierIds, type House } from './house'

export interface OrderRow {
  id: number
  number: string
  remoteId: string
  state: string
  city: string
  email: string
  notice: boolean
  tellWhen: string | null
  flag: string | null
}
interface LabelRow {
  id: number
  orderId: number
  key: string
  state: string
  carrier: string
  charged: number | null
  trackingNumber: string | null
  dispatchedAt: string | null
  request: string
  problem: string | null
}
interface ParcelRow {
  labelId: number
  position: number
  trackingNumber: string | null
  status: string | null
}
interface PostRow {
  id: number
  kind: string
  orderId: number
  labelId: number
  parcel: number
  state: string
  problem: string | null
}
interface NoticeRow {
  id: number
  orderId: number
  labelId: number
  key: string
  state: string
  problem: string | null
  readonly step: string
  readonly sentAt: string | null
  readonly nextAt: string
}

/** All books, ours and those of the world outside, after the last work is done. */
export interface Books {
  readonly orders: readonly OrderRow[]
  readonly labels: readonly LabelRow[]
  readonly parcels: readonly ParcelRow[]
  readonly posts: readonly PostRow[]
  readonly notices: readonly NoticeRow[]
  readonly shop: ReadonlyMap<string, ShopOrder>
  readonly carriers: ReadonlyMap<string, readonly CarrierLabel[]>
  readonly toppedUp: ReadonlyMap<string, number>
  readonly news: ReadonlyMap<string, string>
  readonly mails: readonly StoredMail[]
  readonly db: Database
}

/** What a stand-in's own book says; it is there when all is compared. */
export const bookOf = async <T>(house: House, which: string, path: string): Promise<T> =>
  (
    await fetch(`${house.outside(which)}${path}`, {
      headers: { authorization: `Bearer ${process.env.GHARRY_CARRIER_TOKEN ?? 'demo-carrier-token'}` },
    })
  ).json() as Promise<T>

export async function readBooks(house: House): Promise<Books> {
  const { db } = house
  const carriers = new Map<string, CarrierLabel[]>()
  const toppedUp = new Map<string, number>()
  const news = new Map<string, string>()
  for (const id of carrierIds) {
    carriers.set(id, await bookOf<CarrierLabel[]>(house, id, '/admin/labels'))
    toppedUp.set(
      id,
      (await bookOf<{ minor: number }[]>(house, id, '/admin/balance')).reduce((sum, { minor }) => sum + minor, 0),
    )
    const told: { trackingNumber: string; at: string; status: string }[] = []
    for (let cursor = '', more = true; more;) {
      const page = await bookOf<{ events: typeof told; cursor: string; more: boolean }>(
        house,
        id,
        `/api/events?after=${cursor}&limit=1000`,
      )
      told.push(...page.events)
      ;({ cursor, more } = page)
    }
    // What is dated after the delivery (the stand-in's same-day rounds have such news) does not unmake it.
    for (const { trackingNumber, status } of told.sort((a, b) => {
      if (a.at < b.at) return -1
      return a.at > b.at ? 1 : 0
    }))
      if (news.get(trackingNumber) !== 'delivered' || status === 'returned') news.set(trackingNumber, status)
  }
  return {
    db,
    carriers,
    toppedUp,
    news,
    shop: new Map((await bookOf<ShopOrder[]>(house, 'shop', '/admin/orders')).map((order) => [order.id, order])),
    mails: await bookOf(house, 'mail', '/admin/mails?most=10000000'),
    orders: await db('orders').where({ channelId: 'mossgill-shop' }),
    labels: await db('labels'),
    parcels: await db('label_parcels'),
    posts: await db('posts'),
    notices: await db('notices'),
  }
}

/** Everything in which one book says what another does not, in words. */
export async function compareBooks(books: Books, promised: Promised): Promise<string[]> {
  const faults: string[] = []
  const say = (sentence: string): void => void faults.push(sentence)
  orders(books, promised, say)
  labels(books, promised, say)
  channel(books, say)
  letters(books, say)
  parcels(books, promised, say)
  await money(books, say)
  await editionsAndPins(books, promised, say)
  await deskCounts(books, say)
  await stock(books, say)
  await stuck(books, say)
  return faults
}

export type Say = (sentence: string) => void
const isActive = ({ state }: LabelRow): boolean => state === 'bought'

function orders({ orders: rows, shop, labels: all }: Books, { stocked }: Promised, say: Say): void {
  const byRemote = grouped(rows, ({ remoteId }) => remoteId)
  for (const { id, number } of stocked)
    if (byRemote.get(id)?.length !== 1)
      say(`order ${number} of the shop is there ${byRemote.get(id)?.length ?? 0} times`)
  if (rows.length !== shop.size) say(`${shop.size} orders in the shop, ${rows.length} in the books`)
  const active = grouped(all.filter(isActive), ({ orderId }) => orderId)
  for (const row of rows) {
    const order = shop.get(row.remoteId)
    if (!order) {
      say(`order ${row.id} is not in the shop`)
      continue
    }
    if (row.city !== order.ship_to.city)
      say(`order ${row.id} goes to ${row.city}, in the shop to ${order.ship_to.city}`)
    const [label] = active.get(row.id) ?? []
    if (
      label &&
      row.flag === null &&
      (order.status === 'cancelled' || !label.request.includes(order.ship_to.city.replaceAll('"', '')))
    )
      say(`order ${row.id} changed in the shop after its label ${label.id} was bought, and nothing says so`)
    if (!label && order.status === 'cancelled' && row.state !== 'cancelled' && row.state !== 'buying')
      say(`order ${row.id} is cancelled in the shop and ${row.state} here`)
    if (label && ['attention', 'held', 'ready', 'buying'].includes(row.state))
      say(`order ${row.id} has a label and is ${row.state}`)
    if (!label && ['labelled', 'dispatched', 'delivered'].includes(row.state))
      say(`order ${row.id} is ${row.state} without a label`)
  }
  for (const [order, list] of active) if (list.length > 1) say(`order ${order} has ${list.length} labels`)
}

function labels({ carriers, labels: all }: Books, { bought }: Promised, say: Say): void {
  for (const [carrier, theirs] of carriers) {
    const ours = new Map(
      all
        .filter((label) => label.carrier === carrier && label.trackingNumber !== null)
        .map((label) => [label.trackingNumber!, label]),
    )
    const keys = grouped(theirs, ({ key }) => key)
    for (const [key, list] of keys) if (list.length > 1) say(`${carrier} sold the label ${key} ${list.length} times`)
    for (const label of theirs) {
      const own = ours.get(label.trackingNumber)
      if (!own) say(`${carrier} sold ${label.trackingNumber}, which no book has`)
      else if (own.state !== label.state)
        say(`${label.trackingNumber} is ${label.state} at ${carrier} and ${own.state} here`)
      else if (own.charged !== atHome(label.charged, demoWorld.rates))
        say(
          `${label.trackingNumber} cost ${label.charged.minor} ${label.charged.currency} at ${carrier} and ${own.charged} here`,
        )
    }
    const sold = new Set(theirs.map(({ trackingNumber }) => trackingNumber))
    for (const number of ours.keys())
      if (!sold.has(number)) say(`${number} is in the books, and ${carrier} never sold it`)
  }
  const withLabel = new Set(all.map(({ orderId }) => orderId))
  for (const order of bought)
    if (!withLabel.has(order)) say(`a label for order ${order} was promised, and there is none`)
}

/** The shop knows one fulfilment for each parcel that travels, and none that was taken back. */
function channel(books: Books, say: Say): void {
  const told = (row: OrderRow): readonly string[] | undefined =>
    books.shop
      .get(row.remoteId)
      ?.fulfilments.filter(({ withdrawn }) => !withdrawn)
      .map(({ tracking_number }) => tracking_number)
  compareTold(books, { name: 'the shop', rows: books.orders, told, usually: 'bought' }, say)
}

/** A channel's own word of the orders that the books have of it. */
export interface ChannelsWord {
  readonly name: string
  readonly rows: readonly OrderRow[]
  /** The tracking numbers that it was told for an order, without those that were withdrawn; undefined for one that it does not have. */
  readonly told: (row: OrderRow) => readonly string[] | undefined
  /** When it is told, where no rule says otherwise. */
  readonly usually: 'bought' | 'dispatched'
}

/** A channel knows each parcel that travels once, and none that was taken back. */
export function compareTold(
  { labels: all, parcels: pieces, posts }: Pick<Books, 'labels' | 'parcels' | 'posts'>,
  { name, rows, told: toldOf, usually }: ChannelsWord,
  say: Say,
): void {
  const parcelsOf = grouped(pieces, ({ labelId }) => labelId)
  const labelsOf = grouped(all, ({ orderId }) => orderId)
  const postsOf = grouped(posts, ({ orderId }) => orderId)
  for (const row of rows) {
    const said = toldOf(row)
    if (!said) continue
    const told = [...said].sort()
    const mine = postsOf.get(row.id) ?? []
    const wanted = (labelsOf.get(row.id) ?? [])
      .filter((label) => isActive(label) && ((row.tellWhen ?? usually) === 'bought' || label.dispatchedAt !== null))
      .flatMap(({ id }) => parcelsOf.get(id) ?? [])
      .map(({ trackingNumber }) => trackingNumber!)
      .sort()
    // What a channel refuses outright (a cancelled order, fewer pieces than were sent) stands where people see it.
    const refused = mine.filter(({ state, kind }) => state === 'failed' && kind === 'fulfil')
    const unsaid = wanted.filter((number) => !told.includes(number)).length
    if (told.some((number) => !wanted.includes(number)))
      say(
        `${name} was told of ${told.join(', ')} for order ${row.id}; what travels is ${wanted.join(', ') || 'nothing'} (${row.state}; posts ${mine.map(({ kind, state, labelId, problem }) => `${kind} ${labelId} ${state} ${problem ?? ''}`).join('; ')})`,
      )
    if (unsaid > refused.length)
      say(
        `${name} was not told of ${unsaid} parcels of order ${row.id} (${row.state}; posts ${mine.map(({ kind, state, labelId }) => `${kind} ${labelId} ${state}`).join('; ')})`,
      )
    if (new Set(told).size !== told.length) say(`${name} was told twice of ${told.join(', ')}`)
  }
}

/** Steps that say the numbers: one of them for each label. */
const sayNumbers = ['label made', 'number changed']

/** Each customer of a parcel that travels has one letter with its numbers; what is said besides is said once. */
function letters({ orders: rows, labels: all, notices, mails }: Books, say: Say): void {
  const sent = new Set(mails.map(({ id }) => id))
  const byLabel = grouped(notices, ({ labelId }) => labelId)
  const orderOf = new Map(rows.map((row) => [row.id, row]))
  for (const label of all) {
    const list = byLabel.get(label.id) ?? []
    const order = orderOf.get(label.orderId)
    const first = list.filter(({ step }) => sayNumbers.includes(step))
    if (first.length > 1) say(`label ${label.id} has ${first.length} notices`)
    const due =
      order &&
      isActive(label) &&
      order.email !== '' &&
      order.notice &&
      ((order.tellWhen ?? 'bought') === 'bought' || label.dispatchedAt)
    if (due && first[0]?.state !== 'sent')
      say(
        `nobody wrote to the customer of label ${label.id}: ${first[0] ? `${first[0].state}, ${first[0].problem ?? ''}` : 'there is no notice'}`,
      )
    for (const notice of list) {
      const mailOf = (key: string): string | undefined => [...sent].find((id) => keyIn(id) === key)
      const mail = mailOf(notice.key)
      // Parcels that come to the same step share a letter.
      const shared = list.some(
        ({ step, sentAt, key }) => step === notice.step && sentAt === notice.sentAt && mailOf(key),
      )
      if (notice.state === 'sent' && !mail && !shared)
        say(`the notice of label ${label.id} is said to be sent, and no inbox has it`)
      if (mail && notice.state !== 'sent' && notice.state !== 'dropped')
        say(`the notice of label ${label.id} arrived and is ${notice.state}`)
    }
  }
  const known = new Set(notices.map(({ key }) => key))
  for (const id of sent) if (!known.has(keyIn(id))) say(`the letter ${id} has no notice`)
}

/** The key of the notice in a Message-ID, before eight signs that nobody guesses. */
const keyIn = (id: string): string => /^<(.+)-.{8}@/.exec(id)?.[1] ?? ''

function parcels({ parcels: pieces, labels: all, news }: Books, { handedOver }: Promised, say: Say): void {
  const active = new Map(all.filter(isActive).map((label) => [label.id, label]))
  for (const { labelId, trackingNumber, status } of pieces) {
    const told = news.get(trackingNumber ?? '')
    if (active.has(labelId) && told !== undefined && told !== status)
      say(`parcel ${trackingNumber} is ${told} at its carrier and ${status} here`)
  }
  for (const id of handedOver) {
    const label = all.find((candidate) => candidate.id === id)
    if (label && isActive(label) && label.dispatchedAt === null)
      say(`label ${id} was handed over, and the books forgot it`)
  }
}

async function money({ db, carriers, toppedUp, labels: all }: Books, say: Say): Promise<void> {
  const sums = (await db('bookings')
    .groupBy('carrier', 'kind')
    .select('carrier', 'kind')
    .sum({ amount: 'amount' })) as { carrier: string; kind: string; amount: number }[]
  const booked = (carrier: string, kind: string): number =>
    Number(sums.find((row) => row.carrier === carrier && row.kind === kind)?.amount ?? 0)
  for (const [carrier, theirs] of carriers) {
    const cost = (list: readonly CarrierLabel[]): number =>
      list.reduce((sum, { charged }) => sum + atHome(charged, demoWorld.rates)!, 0)
    const voided = theirs.filter(({ state }) => state === 'voided')
    for (const [what, here, there] of [
      ['purchases', booked(carrier, 'purchase'), cost(theirs)],
      ['voids', booked(carrier, 'void'), cost(voided)],
      ['top-ups', booked(carrier, 'top-up'), toppedUp.get(carrier)!],
    ] as const)
      if (here !== there) say(`${what} at ${carrier}: ${here} in the books, ${there} there`)
  }
  const [{ spend }] = (await db('ledger').sum({ spend: 'amount' })) as [{ spend: number }]
  const net = all.filter(isActive).reduce((sum, { charged }) => sum + (charged ?? 0), 0)
  if (Number(spend) !== net) say(`spend by label ${Number(spend)}, what travels cost ${net}`)
}

async function editionsAndPins(
  { db }: Books,
  { published, asked, pins, unansweredPins }: Promised,
  say: Say,
): Promise<void> {
  const editions = (await db('editions').select('number', 'draft_revision')) as {
    number: number
    draftRevision: number | null
  }[]
  const revisions = editions.flatMap(({ draftRevision }) => draftRevision ?? [])
  if (new Set(revisions).size !== revisions.length) say('a revision of the draft was published twice')
  for (const edition of published)
    if (!editions.some(({ number }) => number === edition)) say(`edition ${edition} was promised, and there is none`)
  if (editions.length - 1 > asked.publishing) say(`${editions.length - 1} editions, asked for ${asked.publishing}`)
  for (const [order, list] of grouped(pins, (pin) => pin.order)) {
    const row = (await db('hand_pins').where({ orderId: order, decision: 'reference' }).first()) as
      { value: string } | undefined
    // One that was asked for later may be there although its answer was lost.
    const possible = [...list, ...unansweredPins.filter((pin) => pin.order === order)]
    if (!row) say(`the pin of order ${order} is gone`)
    else if (!possible.some(({ value }) => row.value.includes(value)))
      say(`the pin of order ${order} is ${row.value}, which nobody asked for`)
  }
}

/** The counts that the Desk goes by, against the orders and tags themselves. */
async function deskCounts({ db }: Books, say: Say): Promise<void> {
  const counted = ['state', 'channel_id', 'country', 'service', 'location'] as const
  const orders = db('orders').select(
    ...counted.map((column) => db.raw(`COALESCE(${column}, '') AS ${column}`)),
    db.raw('COALESCE(days_late, 0) > 0 AS late'),
    'pinned',
  )
  const keyOf = (row: Readonly<Record<string, unknown>>): string =>
    JSON.stringify(
      ['state', 'channelId', 'country', 'service', 'location', 'late', 'pinned'].map((name) =>
        String(Number.isInteger(row[name]) ? Boolean(row[name]) : row[name]),
      ),
    )
  const compare = (what: string, kept: ReadonlyMap<string, number>, there: ReadonlyMap<string, number>): void => {
    for (const key of new Set([...kept.keys(), ...there.keys()]))
      if ((kept.get(key) ?? 0) !== (there.get(key) ?? 0))
        say(`the count of ${what} ${key} is ${kept.get(key) ?? 0}, there are ${there.get(key) ?? 0}`)
  }
  const sizes = (groups: ReadonlyMap<string, readonly unknown[]>): Map<string, number> =>
    new Map([...groups].map(([key, members]) => [key, members.length]))
  const keptOrders = (await db('order_counts')) as (Readonly<Record<string, unknown>> & { n: number })[]
  compare(
    'orders',
    new Map(keptOrders.map((row) => [keyOf(row), row.n])),
    sizes(grouped((await orders) as Readonly<Record<string, unknown>>[], keyOf)),
  )
  const keptTags = (await db('order_tag_counts')) as { tag: string; n: number }[]
  compare(
    'the tag',
    new Map(keptTags.map(({ tag, n }) => [tag, n])),
    sizes(grouped((await db('order_tags').select('tag')) as { tag: string }[], ({ tag }) => tag)),
  )
}

/** What is in stock against all that moved it, and what is promised against the labels that hold it. */
async function stock({ db, labels: all }: Books, say: Say): Promise<void> {
  interface Row {
    readonly location: string
    readonly sku: string
    readonly onHand: number
    readonly reserved: number
  }
  const keyOf = ({ location, sku }: Pick<Row, 'location' | 'sku'>): string => `${sku} in ${location}`
  const moved = grouped((await db('stock_moves')) as Row[], keyOf)
  const held = grouped(
    (await db('stock_held')) as (Row & {
      readonly labelId: number
      readonly quantity: number
      readonly state: string
    })[],
    keyOf,
  )
  const byId = new Map(all.map((label) => [label.id, label]))
  for (const row of (await db('stock')) as Row[]) {
    const key = keyOf(row)
    for (const side of ['onHand', 'reserved'] as const) {
      const sum = (moved.get(key) ?? []).reduce((total, move) => total + move[side], 0)
      if (row[side] !== sum) say(`${key}: ${side} is ${row[side]}, its moves come to ${sum}`)
    }
    let promisedPieces = 0
    for (const { labelId, quantity, state } of held.get(key) ?? []) {
      const label = byId.get(labelId)
      const wanted = label === undefined ? 'nothing' : heldAs(label)
      if (wanted !== state) say(`label ${labelId} holds ${key} as ${state}, it is ${wanted}`)
      if (wanted === 'held') promisedPieces += quantity
    }
    if (promisedPieces !== row.reserved) say(`${key}: ${row.reserved} are promised, labels hold ${promisedPieces}`)
  }
}

/** How a label holds its pieces, as its own row says it. */
function heldAs({ state, dispatchedAt }: LabelRow): 'held' | 'sent' | 'back' {
  if (state === 'voided' || state === 'failed') return 'back'
  return dispatchedAt === null ? 'held' : 'sent'
}

/** Work that waits though nothing keeps it from being done, and failures that no refusal explains. */
async function stuck({ db, posts, notices, labels: all }: Books, say: Say): Promise<void> {
  for (const label of all)
    if (label.state === 'queued' || label.state === 'voiding')
      say(`label ${label.id} is still ${label.state}: ${label.problem ?? ''}`)
  for (const post of posts) {
    if (post.state === 'queued') say(`post ${post.id} still waits: ${post.problem ?? ''}`)
    if (post.state === 'failed' && !/cancelled|more are fulfilled|no such fulfilment/.test(post.problem ?? ''))
      say(`post ${post.id} (${post.kind}) failed: ${post.problem ?? ''}`)
    if (post.state === 'sent' && post.problem) say(`post ${post.id} is sent and keeps the problem of an older try`)
  }
  // What is put off as something else was said within the hour is not stuck.
  const soon = new Date(Date.now() + 120_000).toISOString()
  for (const notice of notices)
    if ((notice.state === 'waiting' && notice.nextAt < soon) || notice.state === 'failed')
      say(`notice ${notice.id} is ${notice.state}: ${notice.problem ?? ''}`)
  for (const [table, states] of [
    ['imports', ['queued', 'running', 'failed']],
    ['jobs', ['queued', 'failed']],
    ['topups', ['asked']],
  ] as const)
    for (const row of (await db(table).whereIn('state', [...states])) as {
      id: number
      state: string
      problem: string | null
    }[])
      say(`${table} ${row.id} is ${row.state}: ${row.problem ?? ''}`)
}

function grouped<T, K>(list: readonly T[], keyOf: (entry: T) => K): Map<K, T[]> {
  const found = new Map<K, T[]>()
  for (const entry of list) {
    const key = keyOf(entry)
    const members = found.get(key)
    if (members) members.push(entry)
    else found.set(key, [entry])
  }
  return found
}
