import { createHash, randomBytes } from 'node:crypto'
import { z } from 'zod'
import {
  addAudit,
  type DataLife,
  dataLife,
  eventsOf,
  forgettings,
  labelsOfOrder,
  lettersOfOrder,
  listChannels,
  logOf,
  noticesOfOrder,
  ordersById,
  ordersOfBuyer,
  returnsOf,
  setDataLife,
  wordsOfOrders,
} from '@/data'
import { countryCode, overStates } from '@/core/order'
import { refuse, type Answer, type Application } from '../shared/application'
import { forgetThese } from './forget'

/** What is set for one scope. */
export type LifeRow = DataLife

/** How a buyer is looked for: an e-mail address, or the number of an order. */
const asked = z.string().trim().min(1, 'Enter an e-mail address or the number of an order.').max(200)
const queryOf = (text: string): { email: string } | { number: string } =>
  text.includes('@') ? { email: text } : { number: text }

/** How long personal data are kept, and what was taken out. */
export async function showPrivacy(gharry: Application) {
  return {
    life: await dataLife(gharry.db),
    channels: (await listChannels(gharry.db)).map(({ id, name }) => ({ id, name })),
    receipts: await forgettings(gharry.db, 100),
  }
}

const life = z
  .array(
    z.object({
      scope: z.string().max(120),
      days: z.int().min(1, 'Enter at least one day.').max(3650, 'Enter at most 3,650 days.'),
    }),
  )
  .max(300)

/** Sets for how many days what says whose an order was is kept once it is over. */
export async function saveLife(gharry: Application, before: unknown, after: unknown): Promise<Answer<object>> {
  const parsed = life.safeParse(after)
  if (!parsed.success) return refuse('bad-value', parsed.error.issues[0]!.message)
  const rows = parsed.data
  const channels = new Set((await listChannels(gharry.db)).map(({ id }) => id))
  const odd = rows.find(({ scope }) => {
    const [kind, of = ''] = scope.split(' ')
    return !(
      scope === 'all' ||
      (kind === 'channel' && channels.has(scope.slice(8))) ||
      (kind === 'country' && countryCode(of) === of && of !== '')
    )
  })
  if (odd) return refuse('bad-value', `There is no ${odd.scope}.`)
  if (new Set(rows.map(({ scope }) => scope)).size < rows.length) return refuse('bad-value', 'The same is set twice.')
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const now = await dataLife(trx)
    if (JSON.stringify(now) !== JSON.stringify(before))
      return refuse('world-changed', 'Somebody else has changed this meanwhile: theirs is shown now.')
    await setDataLife(
      trx,
      [...rows].sort((a, b) => a.scope.localeCompare(b.scope)),
    )
    await addAudit(
      trx,
      { action: 'life of personal data changed', about: 'personal data', before: now, after: rows },
      gharry.now().toISOString(),
    )
    return { ok: true }
  })
}

/** The orders of a buyer, as far as the books still know whose they were. */
export async function findBuyer(gharry: Application, text: string) {
  const parsed = asked.safeParse(text)
  if (!parsed.success) return { orders: [] }
  const orders = await ordersOfBuyer(gharry.db, queryOf(parsed.data))
  return {
    orders: orders.map(({ id, number, state, placedAt, buyer, email, forgottenAt }) => ({
      ...{ id, number, state, placedAt, buyer, email, forgottenAt },
      waits: !overStates.includes(state),
    })),
  }
}

/** Everything that the books know of a buyer, as JSON for them. */
export async function exportBuyer(
  gharry: Application,
  text: string,
): Promise<Answer<{ name: string; content: string }>> {
  const parsed = asked.safeParse(text)
  if (!parsed.success) return refuse('bad-value', parsed.error.issues[0]!.message)
  const rows = await ordersOfBuyer(gharry.db, queryOf(parsed.data))
  if (rows.length === 0) return refuse('unknown-order', 'The books know no order of this buyer.')
  const ids = rows.map(({ id }) => id)
  const facts = new Map((await ordersById(gharry.db, ids)).map(({ id, order }) => [id, order]))
  const words = await wordsOfOrders(gharry.db, ids)
  const orders = []
  for (const id of ids) {
    const labels = await labelsOfOrder(gharry.db, id)
    const news = []
    for (const label of labels) news.push(...(await eventsOf(gharry.db, label.id)))
    orders.push({
      order: facts.get(id),
      parcels: labels.map(({ carrier, service, trackingNumber, boughtAt, deliveredAt }) => ({
        carrier,
        service,
        trackingNumber,
        boughtAt,
        deliveredAt,
      })),
      news: news.map(({ at, status, place, text }) => ({ at, status, place, text })),
      notices: (await noticesOfOrder(gharry.db, id)).map(({ recipient, step, sentAt }) => ({
        recipient,
        step,
        sentAt,
      })),
      letters: (await lettersOfOrder(gharry.db, id)).map(({ recipient, subject, body, sentAt }) => ({
        recipient,
        subject,
        body,
        sentAt,
      })),
      wrote: words.filter(({ orderId }) => orderId === id).map(({ at, text, answer }) => ({ at, text, answer })),
      returns: (await returnsOf(gharry.db, { orderId: id })).map(({ askedAt, reason, words, state }) => ({
        askedAt,
        reason,
        words,
        state,
      })),
      happened: (await logOf(gharry.db, id)).map(({ at, sentence }) => ({ at, sentence })),
    })
  }
  await addAudit(
    gharry.db,
    { action: 'data of a buyer taken away', about: 'personal data', after: { orders: orders.length } },
    gharry.now().toISOString(),
  )
  const content = JSON.stringify({ madeAt: gharry.now().toISOString(), orders }, null, 1)
  return { ok: true, name: `buyer-${gharry.now().toISOString().slice(0, 10)}.json`, content }
}

/**
 * Shows that it was this buyer who was forgotten, to whoever knows what was asked for; says nothing to anybody else.
 */
function proofOf(text: string): string {
  const salt = randomBytes(16).toString('hex')
  return `${salt}:${createHash('sha256')
    .update(salt + text.trim().toLowerCase())
    .digest('hex')}`
}

/** Forgets a buyer: all orders that were found, none of which may still be under way. Gives a receipt. */
export async function forgetBuyer(
  gharry: Application,
  { who, orders }: { readonly who: string; readonly orders: readonly number[] },
): Promise<Answer<{ receipt: number; orders: number }>> {
  const parsed = asked.safeParse(who)
  if (!parsed.success) return refuse('bad-value', parsed.error.issues[0]!.message)
  const found = await findBuyer(gharry, parsed.data)
  const open = found.orders.filter(({ forgottenAt }) => forgottenAt === null)
  if (open.length === 0) return refuse('unknown-order', 'The books know no order of this buyer (any more).')
  const waits = open.find(({ waits }) => waits)
  if (waits)
    return refuse(
      'under-way',
      `Order ${waits.number} is not over: once it is delivered or cancelled it can be forgotten.`,
    )
  if (open.some(({ id }) => !orders.includes(id)) || orders.length !== open.length)
    return refuse('order-moved', 'There are other orders of this buyer by now: look once more.')
  const { receipt } = await forgetThese(
    gharry,
    open.map(({ id }) => id),
    { author: gharry.settings.author, why: 'asked', proof: proofOf(parsed.data) },
  )
  await addAudit(
    gharry.db,
    { action: 'data of a buyer taken out', about: `receipt ${receipt}`, after: { orders: open.length } },
    gharry.now().toISOString(),
  )
  return { ok: true, receipt, orders: open.length }
}
