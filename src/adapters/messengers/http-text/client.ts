import { z } from 'zod'
import { callJson, type Outside } from '../../http'
import type { MessengerClient, TextNews } from '../messenger'

const sent = z.object({ id: z.string().min(1).max(120) })
const text = z.string().max(2000).default('')
const newsPage = z.object({
  news: z
    .array(
      z.discriminatedUnion('kind', [
        z.object({ kind: z.enum(['delivered', 'failed']), id: z.string(), message: z.string(), text }),
        z.object({ kind: z.literal('answer'), id: z.string(), from: z.string().max(40), text }),
      ]),
    )
    .max(1000),
  cursor: z.string().max(500),
  more: z.boolean(),
}) satisfies z.ZodType<{ news: TextNews[]; cursor: string; more: boolean }>

/** Messages are posted in JSON with a key; news of them, and answers, come behind a cursor. */
export function httpText(
  { address, token, sender }: { readonly address: string; readonly token: string; readonly sender: string },
  outside: Outside,
): MessengerClient {
  const authorization = `Bearer ${token}`
  return {
    send: ({ to, text: body }, key) =>
      callJson(
        outside,
        {
          method: 'POST',
          url: `${address}/api/messages`,
          headers: { authorization, 'idempotency-key': key },
          body: { to, from: sender, text: body },
        },
        sent,
      ),
    news: (cursor) =>
      callJson(
        outside,
        { method: 'GET', url: `${address}/api/news?after=${encodeURIComponent(cursor)}`, headers: { authorization } },
        newsPage,
      ),
  }
}
