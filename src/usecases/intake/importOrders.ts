import { channelKindOf } from '@/adapters'
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
  const client = await gharry.channel(channel.id)
  let cursor = channel.cursor ?? ''
  for (;;) {
    if ((await importById(db, row.id))?.state === 'cancelled') return
    const page = await client.fetchOrders(cursor)
    if (!page.ok) return giveBack(gharry, row, `${channel.name}: ${page.sentence}`, page.retryAfter)
    const { orders, bad, more } = page.body
    if (more && page.body.cursor === cursor)
      return giveBack(gharry, row, `${channel.name} sends the same page again and again.`)
    const inForce = await rulebookInForce(gharry)
    if (!inForce) return giveBack(gharry, row, 'No rulebook is published yet.')
    await db.transaction(async (trx) => {
      const counts = await storeOrders(trx, channel.id, wanted(channel, orders), inForce, now())
      await countUp(trx, row.id, { ...counts, bad: bad.length })
      await addProblems(
        trx,
        row.id,
        bad.map((problem) => ({ line: 0, ...problem })),
      )
      await changeChannel(trx, channel.id, { cursor: page.body.cursor, lastImportAt: now().toISOString() })
      await keepLease(trx, 'imports', row, now(), gharry.settings.leaseSeconds)
    })
    cursor = page.body.cursor
    if (!more) break
    // The worker is to stop: whoever starts next goes on at this page.
    if (gharry.stopping?.()) return handBack(db, 'imports', row, now())
  }
  await changeImport(db, row.id, { state: 'done', finishedAt: now().toISOString(), leaseUntil: null, problem: null })
  await forgetEmptyImports(db, channel.id, row.id)
  gharry.log.info({ import: row.id, channel: channel.id }, 'import done')
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

async function giveBack(gharry: Application, row: ImportRow, problem: string, wish = 0): Promise<void> {
  gharry.log.warn({ import: row.id, problem }, 'import interrupted')
  if (row.attempts + 1 < maxAttempts)
    return putBack(gharry.db, 'imports', row, gharry.now(), `${problem} It is tried again.`, wish)
  await changeImport(gharry.db, row.id, {
    state: 'failed',
    problem: `${problem} Given up after a day of tries: import again when it works.`,
    finishedAt: gharry.now().toISOString(),
    leaseUntil: null,
  })
}
