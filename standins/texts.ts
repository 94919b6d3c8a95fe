import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { openBooks, type Books } from './books'
import { changesOf } from './changes'
import { withFaults } from './faults'
import { card, escapeHtml, page } from './html'
import { makeServer } from './server'

export interface StoredText {
  id: string
  to: string
  from: string
  text: string
  key: string
  at: string
  /** How often it came under the same key. */
  copies: number
}

/**
 * A gateway for text messages with the telephones behind it: what arrived can be read, and answered. Numbers that end
 * in 13 are switched off for ever: messages to them fail.
 */
export function textsStandIn({ file, token }: { readonly file: string; readonly token: string }): {
  app: FastifyInstance
  books: Books
} {
  const app = makeServer()
  const books = openBooks(file)
  const { hits } = withFaults(app, 'Text messages')
  let said = books.count('news')
  const tell = (news: object): void => {
    const id = `n${++said}`
    books.put('news', id, { id, ...news })
  }
  app.addHook('preHandler', async (request, reply) => {
    if (request.url.startsWith('/api/') && request.headers.authorization !== `Bearer ${token}`)
      return reply.code(401).send({ message: 'The token is not known.' })
  })
  app.post('/api/messages', (request, reply) => {
    const key = z.string().min(8).parse(request.headers['idempotency-key'])
    const parsed = z
      .object({ to: z.string().regex(/^\+[1-9]\d{6,14}$/), from: z.string().min(1).max(20), text: z.string().min(1) })
      .safeParse(request.body)
    if (!parsed.success) return reply.code(422).send({ message: 'This is no message to a telephone.' })
    const before = books.get<{ id: string }>('key', key)
    if (before) {
      const known = books.get<StoredText>('text', before.id)!
      books.put('text', known.id, { ...known, copies: known.copies + 1 })
      return { id: known.id }
    }
    const id = `m${books.count('text') + 1}`
    books.together(() => {
      books.put('text', id, { id, ...parsed.data, key, at: new Date().toISOString(), copies: 1 } satisfies StoredText)
      books.put('key', key, { id })
      if (parsed.data.to.endsWith('13')) tell({ kind: 'failed', message: id, text: 'the number is switched off' })
      else tell({ kind: 'delivered', message: id, text: '' })
    })
    return reply.code(201).send({ id })
  })
  app.get('/api/news', (request) => {
    const { after } = z.object({ after: z.string().default('') }).parse(request.query)
    const { documents, last, more } = changesOf<object>(books, hits, 'news', Number(after) || 0, 100)
    return { news: documents, cursor: String(last), more }
  })
  app.get('/admin/texts', () => books.newest<StoredText>('text', 10_000).map((row) => row.document))
  app.post('/admin/answers', (request, reply) => {
    const { from, text } = z.object({ from: z.string().min(3), text: z.string() }).parse(request.body)
    tell({ kind: 'answer', from, text })
    return String(request.headers['content-type']).includes('urlencoded') ? reply.redirect('/') : {}
  })
  app.get('/', (_request, reply) => reply.type('text/html').send(page('Telephones', telephones(books))))
  app.addHook('onClose', () => books.close())
  return { app, books }
}

/** Each telephone with what arrived on it, and room to answer. */
function telephones(books: Books): string {
  const phones = new Map<string, StoredText[]>()
  for (const { document } of books.newest<StoredText>('text', 300))
    phones.set(document.to, [...(phones.get(document.to) ?? []), document])
  const cards = [...phones].map(([to, texts]) =>
    card(
      to,
      texts
        .map(
          ({ from, text, at }) =>
            `<p><small>${escapeHtml(from)}, ${escapeHtml(at.slice(0, 16).replace('T', ' '))}</small><br>${escapeHtml(text)}</p>`,
        )
        .join('') +
        `<form method="post" action="/admin/answers"><input type="hidden" name="from" value="${escapeHtml(to)}"><label>Answer <input name="text"></label> <button>Send</button></form>`,
    ),
  )
  return `${cards.join('') || '<p>Nothing has arrived.</p>'}<nav><a href="/admin">Switches and read-out</a></nav>`
}
