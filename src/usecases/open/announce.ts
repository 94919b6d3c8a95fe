import { randomUUID } from 'node:crypto'
import { addWebhookMessages, fromJson, listWebhooks, orderRows, type Database } from '@/data'

/** What others can be told of. */
export const announcements = {
  'order.decided': 'an order was decided, at its import or anew',
  'order.attention': 'an order needs a person',
  'label.bought': 'a label was bought',
  'label.voided': 'a label was voided',
  'parcel.moved': 'a carrier has news of a parcel',
  'edition.published': 'an edition of the rulebook was published',
} as const
export type Announcement = keyof typeof announcements
export const isAnnouncement = (text: string): text is Announcement => text in announcements

interface Told {
  readonly type: Announcement
  readonly data: object
}

/** Who wants to be told of any of these. */
async function listeners(db: Database, types: readonly Announcement[]): Promise<Map<string, readonly string[]>> {
  const found = new Map<string, readonly string[]>()
  for (const { id, on, types: own } of await listWebhooks(db)) {
    const wanted = on ? fromJson<string[]>(own).filter((type) => types.some((one) => one === type)) : []
    if (wanted.length > 0) found.set(id, wanted)
  }
  return found
}

/** Queues what happened for everybody who wants to know, in the transaction of its cause. */
export async function announce(db: Database, now: Date, told: readonly Told[]): Promise<void> {
  const who = await listeners(db, [...new Set(told.map(({ type }) => type))])
  await queue(db, now, who, told)
}

async function queue(
  db: Database,
  now: Date,
  who: ReadonlyMap<string, readonly string[]>,
  told: readonly Told[],
): Promise<void> {
  const timestamp = now.toISOString()
  const messages = [...who].flatMap(([webhook, wanted]) =>
    told
      .filter(({ type }) => wanted.includes(type))
      .map(({ type, data }) => ({
        ...{ webhook, type, message: `msg_${randomUUID()}` },
        body: JSON.stringify({ type, timestamp, data }),
      })),
  )
  await addWebhookMessages(db, messages, timestamp)
}

/** Says how orders were decided, and which of them need a person; nothing is read where nobody wants to know. */
export async function announceOrders(db: Database, now: Date, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return
  const who = await listeners(db, ['order.decided', 'order.attention'])
  if (who.size === 0) return
  const told = (await orderRows(db, ids)).flatMap((row): Told[] => {
    const { id, number, channelId: channel, state, location, carrier, service, cost, arrivesOn, problem, hold } = row
    const data = { id, number, channel, state, location, carrier, service, cost, arrivesOn, problem, hold }
    return [
      { type: 'order.decided', data },
      ...(state === 'attention' ? [{ type: 'order.attention' as const, data }] : []),
    ]
  })
  await queue(db, now, who, told)
}
