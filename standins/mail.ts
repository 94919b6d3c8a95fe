import type { FastifyInstance } from 'fastify'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { openBooks, type Books } from './books'
import { withFaults } from './faults'
import { escapeHtml, page, table } from './html'
import { makeServer } from './server'

export interface StoredMail {
  id: string
  to: string
  subject: string
  text: string
  html: string
  at: string
  copies: number
  /** Their content in base64. */
  attachments: { name: string; type: string; content: string }[]
}

/** A mail server with a web inbox. Mails with the same Message-ID are one mail; how often it came is counted. */
export function mailStandIn(file: string): { app: FastifyInstance; smtp: SMTPServer; books: Books } {
  const app = makeServer()
  const books = openBooks(file)
  const { faults, hits } = withFaults(app, 'Mail')
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    onData: (stream, _session, done) => {
      const take = async (): Promise<void> => {
        const mail = await simpleParser(stream)
        if (faults.latencyMs > 0) await new Promise((resolve) => setTimeout(resolve, faults.latencyMs))
        if (hits('serverError')) return done(Object.assign(new Error('Try again later'), { responseCode: 451 }))
        if (hits('tooManyCalls')) return done(Object.assign(new Error('Too many mails'), { responseCode: 421 }))
        const id = mail.messageId ?? String(Date.now())
        const before = books.get<StoredMail>('mail', id)
        const to = Array.isArray(mail.to) ? mail.to.map((address) => address.text).join(', ') : (mail.to?.text ?? '')
        books.put('mail', id, {
          id,
          to,
          subject: mail.subject ?? '',
          text: mail.text ?? '',
          html: mail.html || '',
          at: before?.at ?? new Date().toISOString(),
          attachments: mail.attachments.map(({ filename, contentType, content }) => ({
            name: filename ?? '',
            type: contentType,
            content: content.toString('base64'),
          })),
          copies: (before?.copies ?? 0) + (hits('twice') ? 2 : 1),
        } satisfies StoredMail)
        if (hits('timeOutAfterWork'))
          return done(Object.assign(new Error('Something broke after the mail was taken'), { responseCode: 451 }))
        done()
      }
      take().catch((error: unknown) => done(error instanceof Error ? error : new Error(String(error))))
    },
  })
  // A caller that dies in the middle of a mail is no reason to stop.
  smtp.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EADDRINUSE') console.error(error.message)
  })
  app.get('/admin/mails', () => books.newest<StoredMail>('mail', 10_000).map((row) => row.document))
  app.get('/', (_request, reply) => {
    const rows = books
      .newest<StoredMail>('mail', 200)
      .map(({ document }) => [
        document.at.slice(0, 19).replace('T', ' '),
        document.to,
        `<a href="/mail?id=${encodeURIComponent(document.id)}">${escapeHtml(document.subject)}</a>`,
      ])
    return reply
      .type('text/html')
      .send(page('Inbox', table(['Time', 'To', 'Subject'], rows) + '<p><a href="/admin">Switches and read-out</a></p>'))
  })
  app.get('/mail', (request, reply) => {
    const mail = books.get<StoredMail>('mail', String((request.query as { id?: string }).id ?? ''))
    if (!mail) return reply.code(404).type('text/html').send(page('No such mail', ''))
    return reply
      .type('text/html')
      .send(
        page(
          mail.subject,
          `<p>To ${escapeHtml(mail.to)}</p><iframe title="HTML" style="width:100%;height:22rem;border:1px solid #ccc" sandbox="allow-top-navigation-by-user-activation" srcdoc="${escapeHtml(mail.html.replace('<a ', '<a target="_top" '))}"></iframe><pre style="white-space:pre-wrap">${escapeHtml(mail.text)}</pre>`,
        ),
      )
  })
  app.addHook('onClose', async () => {
    await new Promise<void>((resolve) => void smtp.close(() => resolve()))
    books.close()
  })
  return { app, smtp, books }
}
