import { createHmac, randomBytes, randomUUID } from 'node:crypto'
import { sendMessage } from '@/adapters'
import {
  addWebhook,
  changeHeld,
  fromJson,
  listWebhooks,
  messagesOfWebhook,
  removeWebhook,
  resendMessages,
  switchWebhook,
  webhookById,
  type WebhookMessage,
  type WebhookRow,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { settleMessage } from '../shared/settleMessage'
import { type Announcement, isAnnouncement } from './announce'

export interface WebhookView extends Pick<WebhookRow, 'id' | 'name' | 'url' | 'on' | 'madeAt' | 'problem'> {
  readonly types: readonly Announcement[]
  readonly messages: readonly Omit<WebhookMessage, 'body'>[]
}

/** All webhooks with their newest messages; secrets are not shown again. */
export async function showWebhooks({ db }: Application): Promise<{ readonly webhooks: readonly WebhookView[] }> {
  const rows = await listWebhooks(db)
  return {
    webhooks: await Promise.all(
      rows.map(async ({ id, name, url, on, madeAt, problem, types }) => ({
        ...{ id, name, url, on, madeAt, problem },
        types: fromJson<string[]>(types).filter(isAnnouncement),
        messages: (await messagesOfWebhook(db, id, 20)).map(({ body: _body, ...message }) => message),
      })),
    ),
  }
}

/** Adds a webhook. Its secret is shown this once: with it the receiver knows that a message is from here. */
export async function makeWebhook(
  { db, vault, now }: Application,
  { name, url, types }: { readonly name: string; readonly url: string; readonly types: readonly string[] },
): Promise<Answer<{ id: string; secret: string }>> {
  const fields: Record<string, string> = {}
  if (name.trim() === '') fields.name = 'Give it a name: whose it is.'
  if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
    fields.url = 'Enter its whole address, such as https://hooks.example/gharry.'
  const wanted = types.filter(isAnnouncement)
  if (wanted.length === 0) fields.types = 'Choose what it is told of.'
  const [wrong] = Object.values(fields)
  if (wrong) return { ...refuse('bad-value', wrong), fields }
  const id = randomUUID()
  const secret = `whsec_${randomBytes(24).toString('base64')}`
  await addWebhook(db, {
    ...{ id, name: name.trim(), url, types: JSON.stringify(wanted), secret: vault.seal(secret, id) },
    ...{ on: true, madeAt: now().toISOString() },
  })
  return { ok: true, id, secret }
}

/** Switches a webhook on or off, takes it out, or sends messages again. */
export async function changeWebhook(
  { db, now }: Application,
  id: string,
  change: { readonly on: boolean } | { readonly remove: true } | { readonly again: number | 'failed' },
): Promise<Answer<object>> {
  const unknown = refuse('not-found', 'There is no such webhook (any more).')
  if ('remove' in change) return (await removeWebhook(db, id)) ? { ok: true } : unknown
  if ('on' in change) return (await switchWebhook(db, id, change.on, null)) ? { ok: true } : unknown
  const which = change.again === 'failed' ? { webhook: id, state: 'failed' as const } : { id: change.again }
  return (await resendMessages(db, which, now().toISOString())) > 0
    ? { ok: true }
    : refuse('not-failed', 'There is nothing to send again.')
}

/**
 * Sends one message after the Standard Webhooks specification: its name, the moment and the body are signed with HMAC
 * SHA-256. A receiver that answers 410 wants no more: it is switched off.
 */
export async function deliverWebhook(gharry: Application, row: WebhookMessage): Promise<void> {
  const { db, vault, outside } = gharry
  const hook = await webhookById(db, row.webhook)
  if (!hook?.on)
    return changeHeld(db, 'webhook_messages', row, {
      state: 'failed',
      problem: hook?.problem ?? 'The webhook is switched off.',
      leaseUntil: null,
    })
  const timestamp = String(Math.floor(gharry.now().getTime() / 1000))
  const key = Buffer.from(vault.open(hook.secret, hook.id).replace('whsec_', ''), 'base64')
  const signature = createHmac('sha256', key).update(`${row.message}.${timestamp}.${row.body}`).digest('base64')
  const result = await sendMessage(outside, hook.url, row.body, {
    'webhook-id': row.message,
    'webhook-timestamp': timestamp,
    'webhook-signature': `v1,${signature}`,
  })
  if (!result.ok && result.gone) {
    const why = 'It answered 410: it wants to be told no more. Switch it on again when it does.'
    await switchWebhook(db, hook.id, false, why)
  }
  await settleMessage(gharry, 'webhook_messages', row, result, { webhook: row.webhook })
}
