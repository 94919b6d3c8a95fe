import { type ChannelClient, channelKindOf } from '@/adapters'
import type { RawOrder } from '@/core/order'
import {
  addImport,
  addProblems,
  changeChannel,
  changeImport,
  channelById,
  countUp,
  forgetEmptyImports,
  handBack,
  importById,
  keepLease,
  listChannels,
  openImportOf,
  putBack,
  type ChannelRow,
  type ImportRow,
} from '@/data'
import { importFile } from './importFile'
import { refuse, type Answer, type Application } from '../shared/application'
import { rulebookInForce } from '../shared/rulebookInForce'
import { makeReady } from './orderThread'
import type { Ready } from './readyOrders'
import { storeOrders } from './storeOrders'

// At most a minute apart, so this is a day of trying.
const maxAttempts = 1440

/** Asks for an import of a channel; one that is under way already is enough. */
export async function requestImport(gharry: Application, channelId: string): Promise<Answer<{ id: number }>> {
  const channel = await channelById(gharry.db, channelId)
  if (!channel) return refuse('unknown-channel', `There is no channel "${channelId}".`)
  if (!channelKindOf(channel.kind)?.can.fetch)
    return refuse('file-channel', `${channel.name} sends files: drop one on Intake.`)
  const open = await openImportOf(gharry.db, channelId)
  if (open) return { ok: true, id: open.id }
  return {
    ok: true,
    id: await addImport(gharry.db, { channelId: channelId, kind: 'fetch' }, gharry.now().toISOString()),
  }
}

/** Channels whose orders are fetched from them. */
export const fetchedChannels = async (gharry: Application): Promise<readonly ChannelRow[]> =>
  (await listChannels(gharry.db)).filter(({ kind, retired }) => !retired && channelKindOf(kind)?.can.fetch)

/** Asks for an import of every channel that is fetched from. */
export async function importAll(gharry: Application): Promise<Answer<{ channels: number }>> {
  const channels = await fetchedChannels(gharry)
  for (const { id } of channels) await requestImport(gharry, id)
  return { ok: true, channels: channels.length }
}

/**
 * Works on one import that the worker holds the lease of, page by page; each page is one transaction with its cursor.
 */
export async function importOrders(gharry: Application, row: ImportRow): Promise<void> {
  const { db, now } = gharry
  await changeImport(db, row.id, { state: 'running', startedAt: row.startedAt ?? now().toISOString() })
  if (row.kind === 'file') return importFile(gharry, row)
  const channel = await channelById(db, row.channelId)
  if (!channel)
    return changeImport(db, row.id, {
      state: 'failed',
      problem: 'The channel does not exist any more.',
      finishedAt: now().toISOString(),
    })
  if (!(await importPages(gharry, row, channel))) return
  await changeImport(db, row.id, { state: 'done', finishedAt: now().toISOString(), leaseUntil: null, problem: null })
  await forgetEmptyImports(db, channel.id, row.id)
  gharry.log.info({ import: row.id, channel: channel.id }, 'import done')
}

/** A page of a channel, with those of its orders that are wanted, made ready beside the own thread. */
interface Fetched {
  readonly page: Awaited<ReturnType<ChannelClient['fetchOrders']>>
  readonly orders: readonly RawOrder[]
  readonly ready: Ready | null
}

async function fetchPage(
  gharry: Application,
  channel: ChannelRow,
  client: ChannelClient,
  cursor: string,
): Promise<Fetched> {
  const page = await client.fetchOrders(cursor)
  const orders = page.ok ? wanted(channel, page.body.orders) : []
  return { page, orders, ready: await makeReady(gharry, channel.id, orders) }
}

/** How many imports take in pages now. */
let running = 0

/**
 * Takes in page after page. While one is written, the next is fetched, unless others are there to be written (then it
 * would only lie in memory) or the channel would take that as a sign that this one is in the books. False where there may be more.
 */
async function importPages(gharry: Application, row: ImportRow, channel: ChannelRow): Promise<boolean> {
  const { db, now } = gharry
  const client = await gharry.channel(channel.id)
  let cursor = channel.cursor ?? ''
  let ahead: Promise<Fetched> | null = null
  running++
  try {
    for (;;) {
      const { page, orders, ready }: Fetched = await (ahead ?? fetchPage(gharry, channel, client, cursor))
      ahead = null
      if ((await importById(db, row.id))?.state === 'cancelled') return false
      if (!page.ok) return await giveBack(gharry, row, `${channel.name}: ${page.sentence}`, page.retryAfter)
      const { bad, more, cursor: next } = page.body
      if (more && next === cursor)
        return await giveBack(gharry, row, `${channel.name} sends the same page again and again.`)
      const inForce = await rulebookInForce(gharry)
      if (!inForce) return await giveBack(gharry, row, 'No rulebook is published yet.')
      if (more && running === 1 && channelKindOf(channel.kind)?.can.ahead) {
        ahead = fetchPage(gharry, channel, client, next)
        // It is waited for below, whatever becomes of this page.
        ahead.catch(() => undefined)
      }
      await db.transaction(async (trx) => {
        const counts = await storeOrders(trx, channel.id, orders, inForce, now(), ready)
        await countUp(trx, row.id, { ...counts, bad: bad.length })
        await addProblems(
          trx,
          row.id,
          bad.map((problem) => ({ line: 0, ...problem })),
        )
        await changeChannel(trx, channel.id, { cursor: next, lastImportAt: now().toISOString() })
        await keepLease(trx, 'imports', row, now(), gharry.settings.leaseSeconds)
      })
      if (!more) return true
      cursor = next
      if (gharry.stopping?.()) {
        // Whoever starts next goes on at this page.
        await handBack(db, 'imports', row, now())
        return false
      }
    }
  } finally {
    running--
    await ahead?.catch(() => undefined)
  }
}

/**
 * Orders that are to come in: from a day on, and of the statuses and the channel's own locations that its settings
 * name; an order that names no location comes in. What names no currency has the channel's. An order that is in already
 * is always told of what became of it.
 */
export function wanted(
  { fromDay, statuses, places, currency }: ChannelRow,
  orders: readonly RawOrder[],
): readonly RawOrder[] {
  const named = namesIn(statuses)
  const from = namesIn(places)
  return orders
    .filter(({ placedAt }) => fromDay === null || placedAt === undefined || placedAt >= fromDay)
    .filter(
      ({ status = '' }) => named.length === 0 || [...named, 'cancelled', 'fulfilled'].includes(status.toLowerCase()),
    )
    .filter(({ place }) => from.length === 0 || place === undefined || from.includes(place.trim().toLowerCase()))
    .map((order) => (order.currency || currency === '' ? order : { ...order, currency }))
}

const namesIn = (text: string): string[] =>
  text
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter(Boolean)

async function giveBack(gharry: Application, row: ImportRow, problem: string, wish = 0): Promise<false> {
  gharry.log.warn({ import: row.id, problem }, 'import interrupted')
  if (row.attempts + 1 < maxAttempts)
    await putBack(gharry.db, 'imports', row, gharry.now(), `${problem} It is tried again.`, wish)
  else
    await changeImport(gharry.db, row.id, {
      state: 'failed',
      problem: `${problem} Given up after a day of tries: import again when it works.`,
      finishedAt: gharry.now().toISOString(),
      leaseUntil: null,
    })
  return false
}
