import { channelKindOf, type Message } from '@/adapters'
import type { RawOrder } from '@/core/order'
import {
  addMessage,
  channelById,
  connectionById,
  settleMessages,
  stillWait,
  waitingMessages,
  type ConnectionRow,
  type MessageRow,
} from '@/data'
import type { Application } from '../shared/application'
import { settingsOf } from '../shared/connections'
import { rulebookInForce } from '../shared/rulebookInForce'
import { wanted } from './importOrders'
import { makeReady } from './orderThread'
import { storeOrders } from './storeOrders'

/** The largest message; one order is some kilobytes. */
export const largestMessage = 1_000_000
const atOnce = 500
/** So many orders are asked for one by one in a round. */
const askedAtOnce = 10
const maxAttempts = 20

/** What the sender is answered: its status, and a sentence for whoever looks there. */
export interface Answered {
  readonly status: 200 | 202 | 401 | 404 | 503
  readonly sentence: string
}

/**
 * Takes a message of a channel: once it is in the books, the sender has its answer. What it says is worked on after.
 */
export async function receiveMessage(
  gharry: Application,
  connection: string,
  { header, body }: Pick<Message, 'header' | 'body'>,
): Promise<Answered> {
  const { db, vault, now } = gharry
  const row = await connectionById(db, connection)
  const kind = row && channelKindOf(row.kind)
  if (!row || !kind?.messages) return { status: 404, sentence: 'Nobody listens here.' }
  if (!row.on) return { status: 503, sentence: 'This connection is switched off: send it again later.' }
  const settings = kind.settings.parse(settingsOf(row, vault)) as never
  const heard = kind.messages.read({ header, body, now: now().getTime() }, settings)
  gharry.noteHeard(row.id, heard.ok)
  if (!heard.ok) return { status: 401, sentence: heard.sentence }
  const isNew = await addMessage(db, {
    connection: row.id,
    event: heard.id,
    receivedAt: now().toISOString(),
    body: body.toString('utf8'),
  })
  return isNew ? { status: 202, sentence: 'Taken.' } : { status: 200, sentence: 'It is here already.' }
}

/** Takes in what messages say, many at once; true when there were any. */
export async function workMessages(gharry: Application): Promise<boolean> {
  const { db, now } = gharry
  const rows = await waitingMessages(db, now().toISOString(), atOnce)
  const inForce = rows.length > 0 && (await rulebookInForce(gharry))
  if (!inForce) return false
  for (const connection of new Set(rows.map((row) => row.connection))) {
    const own = rows.filter((row) => row.connection === connection)
    const [row, channel] = [await connectionById(db, connection), await channelById(db, connection)]
    if (!row || !channel) continue
    const read = await ordersOf(gharry, row, own)
    const orders = wanted(channel, read.orders)
    const ready = await makeReady(gharry, channel.id, orders)
    await db.transaction(async (trx) => {
      // Another worker may have read the same ones, and what came after them: then this would be old.
      if (!(await stillWait(trx, read.done))) return
      await storeOrders(trx, channel.id, orders, inForce, now(), ready)
      await settleMessages(trx, read.done, { state: 'done' })
    })
    for (const { id, problem } of read.failed) await settleMessages(db, [id], { state: 'failed', problem })
    for (const { id, problem, nextAt } of read.later) await settleMessages(db, [id], { problem, nextAt })
  }
  return true
}

interface Read {
  readonly orders: readonly RawOrder[]
  readonly done: readonly number[]
  readonly failed: readonly { readonly id: number; readonly problem: string }[]
  readonly later: readonly { readonly id: number; readonly problem: string; readonly nextAt: string }[]
}

/** The orders that messages are about: as they say them, or as the channel does when it is asked. */
async function ordersOf(gharry: Application, row: ConnectionRow, messages: readonly MessageRow[]): Promise<Read> {
  const { ordersIn } = channelKindOf(row.kind)!.messages!
  const [orders, done, failed, later] = [[], [], [], []] as [
    RawOrder[],
    number[],
    Read['failed'][number][],
    Read['later'][number][],
  ]
  const asking: { readonly message: MessageRow; readonly about: string }[] = []
  for (const message of messages) {
    const said = ordersIn(message.body ?? '')
    if ('order' in said) {
      orders.push(said.order)
      done.push(message.id)
    } else if ('bad' in said) failed.push({ id: message.id, problem: said.bad })
    else if (asking.length < askedAtOnce) asking.push({ message, about: said.about })
  }
  const client = await gharry.channel(row.id)
  const answers = new Map<string, Awaited<ReturnType<NonNullable<typeof client.fetchOrder>>>>()
  for (const { message, about } of asking) {
    const answer = answers.get(about) ?? (await client.fetchOrder?.(about))
    if (!answer) failed.push({ id: message.id, problem: 'It names an order that cannot be asked for.' })
    else if (answer.ok) {
      orders.push(answer.body)
      done.push(message.id)
    } else if (answer.kind === 'refused' || message.attempts + 1 >= maxAttempts)
      failed.push({ id: message.id, problem: `Order ${about.slice(0, 60)}: ${answer.sentence}` })
    else
      later.push({
        id: message.id,
        problem: answer.sentence,
        nextAt: new Date(
          gharry.now().getTime() + Math.max(answer.retryAfter * 1000, 1000 * 2 ** Math.min(message.attempts, 8)),
        ).toISOString(),
      })
    if (answer) answers.set(about, answer)
  }
  return { orders, done, failed, later }
}
