import { type Order, type OrderState, overStates, takenOut } from '@/core/order'
import { chunks, fromJson, toJson, type Database } from './database'
import { forgetSearch } from './engine'

/** For how many days what says whose an order was is kept once it is over: in all, of a channel, to a country. */
export interface DataLife {
  readonly scope: string
  readonly days: number
}

/** How long personal data are kept; where nothing is set they are kept for ever. */
export const dataLife = (db: Database): Promise<DataLife[]> => db('data_life').orderBy('scope')

/** Sets how long they are kept, all at once. */
export async function setDataLife(db: Database, rows: readonly DataLife[]): Promise<void> {
  await db('data_life').delete()
  if (rows.length > 0) await db('data_life').insert([...rows])
}

/** An order that is over, with when it was. */
export interface EndedOrder {
  readonly id: number
  readonly channelId: string
  readonly country: string
  readonly endedOn: string
}

/**
 * Orders that were over before a moment and still say whose they were, the oldest first. One about which something is
 * open, a return, a claim, a refund, words of a customer, a letter, is not over.
 */
export async function endedOrders(db: Database, before: string, after: number, most: number): Promise<EndedOrder[]> {
  return (await db('orders')
    .whereNull('orders.forgotten_at')
    .whereIn('orders.state', overStates)
    .where('orders.placed_at', '<', before)
    .where('orders.id', '>', after)
    .where((q) => {
      void q
        .whereNotExists(
          db('returns')
            .select(db.raw('1'))
            .whereRaw('returns.order_id = orders.id')
            .whereIn('returns.state', ['asked', 'making', 'ready', 'coming']),
        )
        .whereNotExists(
          db('claims')
            .select(db.raw('1'))
            .whereRaw('claims.order_id = orders.id')
            .whereIn('claims.state', ['owed', 'claimed']),
        )
        .whereNotExists(
          db('customer_words')
            .select(db.raw('1'))
            .whereRaw('customer_words.order_id = orders.id')
            .whereNull('customer_words.closed_at'),
        )
        .whereNotExists(
          db('letters').select(db.raw('1')).whereRaw('letters.order_id = orders.id').where('letters.state', 'waiting'),
        )
        .whereNotExists(
          db('labels')
            .select(db.raw('1'))
            .whereRaw('labels.order_id = orders.id')
            .whereIn('labels.state', ['queued', 'voiding']),
        )
        .whereNotExists(
          db('refunds')
            .join('labels', 'labels.id', 'refunds.label_id')
            .select(db.raw('1'))
            .whereRaw('labels.order_id = orders.id')
            .where('refunds.state', 'pending'),
        )
    })
    .leftJoin('labels', (join) => void join.on('labels.order_id', 'orders.id').onVal('labels.state', 'bought'))
    .groupBy('orders.id')
    .select('orders.id', 'orders.channel_id', 'orders.country')
    .select(db.raw('COALESCE(MAX(labels.delivered_at), orders.placed_at) AS ended_on'))
    .orderBy('orders.id')
    .limit(most)) as EndedOrder[]
}

/** What was taken out, by kind. */
export type TakenOut = Readonly<Record<string, number>>

/**
 * Takes out of the books what says whose these orders were; `without` gives the facts that stay. Within a transaction.
 * What was there is overwritten in the file too.
 */
export async function forgetOrders(
  trx: Database,
  ids: readonly number[],
  without: (order: Order) => Order,
  now: string,
): Promise<TakenOut> {
  const sums: Record<string, number> = {}
  const count: Count = async (what, query) => {
    const n = await query
    if (n > 0) sums[what] = (sums[what] ?? 0) + n
  }
  for (const part of chunks(ids, 200)) {
    await forgetFacts(trx, part, without, count)
    await forgetRows(trx, part, now, count)
    await forgetSearch(trx, part)
    await forgetLabels(trx, part, count)
    await forgetWords(trx, part, count)
    await forgetReturns(trx, part, count)
  }
  return sums
}

/** Counts how many rows something was taken out of. */
type Count = (what: string, query: PromiseLike<number>) => Promise<void>

/** The facts of the orders, and where copies of them are. */
async function forgetFacts(
  trx: Database,
  ids: readonly number[],
  without: (order: Order) => Order,
  count: Count,
): Promise<void> {
  const facts = (await trx('order_facts').whereIn('order_id', ids)) as { orderId: number; facts: string }[]
  for (const { orderId, facts: text } of facts) {
    const before = fromJson<Order>(text)
    const after = toJson(without(before))
    await trx('order_facts').where({ orderId }).update({ facts: after })
    await count(
      'addresses decided by hand',
      trx('address_mends')
        .where({ mended: toJson(before.shipTo) })
        .delete(),
    )
    // Examples of rules are copies.
    await count(
      'pinned examples',
      trx('pinned_orders')
        .where('facts', 'like', `%"remoteId":${likeText(before.remoteId)}%`)
        .update({ facts: after }),
    )
  }
}

/** The orders themselves, what was decided of them by hand, and their log. */
async function forgetRows(trx: Database, ids: readonly number[], now: string, count: Count): Promise<void> {
  await count(
    'orders',
    trx('orders')
      .whereIn('id', ids)
      .update({
        ...{ buyer: takenOut, email: '', city: takenOut, combineKey: '' },
        ...{ hold: null, problem: null, reason: null, flag: null, report: null, forgottenAt: now },
      }),
  )
  await trx('hand_pins').whereIn('order_id', ids).where({ decision: 'hold' }).delete()
  await trx('edit_orders').whereIn('order_id', ids).update({ why: null })
  await count('lines of the log', trx('order_log').whereIn('order_id', ids).delete())
}

/** Their labels: what the carrier was asked, papers, news, and who fetched the parcel. */
async function forgetLabels(trx: Database, orders: readonly number[], count: Count): Promise<void> {
  const labels = (await trx('labels').whereIn('order_id', orders).select('id', 'request')) as {
    id: number
    request: string
  }[]
  for (const { id, request } of labels)
    await trx('labels')
      .where({ id })
      .update({ request: withoutAddresses(request) })
  const ids = labels.map(({ id }) => id)
  const of = (table: string) => trx(table).whereIn('label_id', ids)
  await count('papers', of('label_papers').delete())
  await count('lines of parcels’ news', of('tracking_events').whereNot({ text: '' }).update({ text: '' }))
  await count('parcels fetched', of('pickups').update({ handedTo: '', signature: null }))
  await of('board').update({ words: 0 })
  await of('print_jobs').whereIn('state', ['failed']).update({ problem: null })
}

/** What was written to customers, what they wrote, and what others answered. */
async function forgetWords(trx: Database, orders: readonly number[], count: Count): Promise<void> {
  const of = (table: string) => trx(table).whereIn('order_id', orders)
  await count('notices', of('notices').update({ recipient: '', receipt: null, problem: null }))
  await count(
    'letters',
    of('letters').update({ recipient: '', subject: '', body: '', paragraphs: '[]', problem: null }),
  )
  await count('words of customers', of('customer_words').update({ text: '', answer: '' }))
  await of('handovers').update({ answerText: null })
  await of('posts').update({ problem: null })
}

/** What they sent back: words, photographs, what the carrier was asked. */
async function forgetReturns(trx: Database, orders: readonly number[], count: Count): Promise<void> {
  const returns = (await trx('returns').whereIn('order_id', orders).select('id', 'request', 'news')) as {
    id: number
    request: string | null
    news: string
  }[]
  for (const { id, request, news } of returns)
    await trx('returns')
      .where({ id })
      .update({
        words: '',
        note: '',
        request: request === null ? null : withoutAddresses(request),
        news: withoutTexts(news),
      })
  const ids = returns.map(({ id }) => id)
  await count('returns', Promise.resolve(ids.length))
  await count('photographs', trx('return_files').whereIn('return_id', ids).delete())
}

const likeText = (text: string): string => toJson(text).replace(/[\\%_]/g, '_')

/** A request to a carrier without the lines of addresses; what was paid for stays. */
function withoutAddresses(request: string): string {
  const asked = fromJson<Record<string, unknown>>(request)
  for (const side of ['from', 'to'])
    if (typeof asked[side] === 'object' && asked[side] !== null) asked[side] = { lines: [takenOut, takenOut] }
  for (const postcode of ['fromPostcode', 'toPostcode'])
    if (typeof asked[postcode] === 'string') asked[postcode] = asked[postcode].slice(0, 2)
  return toJson(asked)
}

const withoutTexts = (news: string): string =>
  toJson(fromJson<Record<string, unknown>[]>(news).map((one) => ({ ...one, text: '' })))

/** Rows of files that could not be read say whose they were: they go once the file is older than a moment. */
export const forgetBadRows = (trx: Database, before: string): Promise<number> =>
  trx('import_problems')
    .whereIn('import_id', trx('imports').where('finished_at', '<', before).select('id'))
    .whereNot({ row: '' })
    .update({ row: '' })

/** What was decided about addresses that nobody has used for so long. */
export const forgetCorrections = (trx: Database, before: string): Promise<number> =>
  trx('address_mends').where('made_at', '<', before).delete()

/** Orders of a buyer, by e-mail address, telephone number or order number; the youngest first. */
export async function ordersOfBuyer(
  db: Database,
  { email, number }: { readonly email?: string; readonly number?: string },
): Promise<
  {
    id: number
    number: string
    channelId: string
    state: OrderState
    placedAt: string
    buyer: string
    email: string
    forgottenAt: string | null
  }[]
> {
  const query = db('orders').orderBy('placed_at', 'desc').limit(500)
  if (email) void query.whereRaw('LOWER(email) = ?', [email.trim().toLowerCase()])
  if (number) void query.where({ number: number.trim() })
  return (await query.select(
    'id',
    'number',
    'channel_id',
    'state',
    'placed_at',
    'buyer',
    'email',
    'forgotten_at',
  )) as never
}

/** What was taken out, and why; in figures. */
export interface ForgettingRow {
  readonly id: number
  readonly at: string
  readonly author: string
  readonly why: 'days' | 'asked'
  readonly orders: number
  readonly takenOut: TakenOut
  readonly proof: string | null
}

/** Writes a receipt of what was taken out; gives its number. */
export async function addForgetting(trx: Database, row: Omit<ForgettingRow, 'id'>): Promise<number> {
  const [made] = (await trx('forgettings')
    .insert({ ...row, takenOut: toJson(row.takenOut) })
    .returning('id')) as { id: number }[]
  return made!.id
}

/** The newest receipts. */
export async function forgettings(db: Database, most: number): Promise<ForgettingRow[]> {
  const rows = (await db('forgettings').orderBy('id', 'desc').limit(most)) as (Omit<ForgettingRow, 'takenOut'> & {
    takenOut: string
  })[]
  return rows.map((row) => ({ ...row, takenOut: fromJson<TakenOut>(row.takenOut) }))
}

/** What channels call these orders. */
export const remoteIdsOf = (db: Database, ids: readonly number[]): Promise<{ channelId: string; remoteId: string }[]> =>
  db('orders').whereIn('id', ids).select('channel_id', 'remote_id')

/** Orders by what their channels call them that still say whose they are. */
export async function stillKnown(
  db: Database,
  list: readonly { readonly channelId: string; readonly remoteId: string }[],
): Promise<number[]> {
  const ids: number[] = []
  for (const { channelId, remoteId } of list) {
    const row = (await db('orders').where({ channelId, remoteId }).whereNull('forgotten_at').first('id')) as
      { id: number } | undefined
    if (row) ids.push(row.id)
  }
  return ids
}
