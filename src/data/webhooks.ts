import { chunks, type Database } from './database'
import type { OutboxRow } from './outbox'

/** Somebody outside who is told of what happens. */
export interface WebhookRow {
  readonly id: string
  readonly name: string
  readonly url: string
  /** JSON list of what it is told of. */
  readonly types: string
  /** Sealed. */
  readonly secret: string
  readonly on: boolean
  readonly madeAt: string
  /** Why it was switched off by itself. */
  readonly problem: string | null
}

/** One message to one of them. */
export interface WebhookMessage extends OutboxRow {
  readonly webhook: string
  /** Its name at the receiver: the same at every try. */
  readonly message: string
  readonly type: string
  readonly body: string
  readonly state: 'queued' | 'sent' | 'failed'
}

/** All webhooks, by name. */
export const listWebhooks = (db: Database): Promise<WebhookRow[]> => db('webhooks').orderBy('name')
/** One of them; undefined when there is none. */
export const webhookById = (db: Database, id: string): Promise<WebhookRow | undefined> =>
  db('webhooks').where({ id }).first()

/** Adds one. */
export async function addWebhook(db: Database, row: Omit<WebhookRow, 'problem'>): Promise<void> {
  await db('webhooks').insert(row)
}
/** Switches one on or off, with why. */
export async function switchWebhook(db: Database, id: string, on: boolean, problem: string | null): Promise<boolean> {
  return (await db('webhooks').where({ id }).update({ on, problem })) === 1
}
/** Takes one out, with its messages. */
export const removeWebhook = async (db: Database, id: string): Promise<boolean> =>
  (await db('webhooks').where({ id }).delete()) === 1

/** Queues messages, in the transaction of their cause. */
export async function addWebhookMessages(
  db: Database,
  messages: readonly Pick<WebhookMessage, 'webhook' | 'message' | 'type' | 'body'>[],
  now: string,
): Promise<void> {
  for (const part of chunks(messages, 100))
    await db('webhook_messages').insert(part.map((one) => ({ ...one, state: 'queued', madeAt: now, nextAt: now })))
}

/** The newest messages of one. */
export const messagesOfWebhook = (db: Database, webhook: string, most: number): Promise<WebhookMessage[]> =>
  db('webhook_messages').where({ webhook }).orderBy('id', 'desc').limit(most) as unknown as Promise<WebhookMessage[]>

/** Sends messages on their way again: one, or all that failed of one webhook. Gives how many. */
export const resendMessages = async (
  db: Database,
  which: { readonly id: number } | { readonly webhook: string; readonly state: 'failed' },
  now: string,
): Promise<number> =>
  db('webhook_messages')
    .where(which)
    .whereIn('state', ['sent', 'failed'])
    .update({ state: 'queued', attempts: 0, nextAt: now, madeAt: now, problem: null })

/** Forgets messages of before a moment that are settled. */
export async function forgetWebhookMessages(db: Database, before: string): Promise<void> {
  await db('webhook_messages').where('made_at', '<', before).whereNot({ state: 'queued' }).delete()
}
