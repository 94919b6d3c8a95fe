import type { FastifyInstance } from 'fastify'
import { createTransport } from 'nodemailer'
import type { SMTPServer } from 'smtp-server'
import { openBooks, type Books } from './books'
import { withFaults } from './faults'
import { escapeHtml, page, table } from './html'
import { mailServer, type StoredMail } from './mailServer'
import { makeServer } from './server'

export type { StoredMail } from './mailServer'

/** A mail server with a web inbox. Mails with the same Message-ID are one mail; how often it came is counted. */
export function mailStandIn(file: string, bouncePort = 0): { app: FastifyInstance; smtp: SMTPServer; books: Books } {
  const app = makeServer()
  const books = openBooks(file)
  const smtp = mailServer(books, withFaults(app, 'Mail'), bouncePort)
  withInbox(app, books, bouncePort)
  app.addHook('onClose', async () => {
    await new Promise<void>((resolve) => void smtp.close(() => resolve()))
    books.close()
  })
  return { app, smtp, books }
}

/** The inbox: letters, one letter, and a customer's answer. */
function withInbox(app: FastifyInstance, books: Books, bouncePort: number): void {
  app.get('/admin/mails', (request) => {
    const { most = '10000' } = request.query as { most?: string }
    return books.newest<StoredMail>('mail', Number(most)).map((row) => row.document)
  })
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
          `${answerForm(mail, bouncePort)}<p>To ${escapeHtml(mail.to)}</p><iframe title="HTML" style="width:100%;height:22rem;border:1px solid #ccc" sandbox="allow-top-navigation-by-user-activation" srcdoc="${escapeHtml(mail.html.replace('<a ', '<a target="_top" '))}"></iframe><pre style="white-space:pre-wrap">${escapeHtml(mail.text)}</pre>`,
        ),
      )
  })
  app.post('/answer', async (request, reply) => {
    const { id = '', text = '' } = request.body as { id?: string; text?: string }
    const mail = books.get<StoredMail>('mail', id)
    const to = mail?.headers['reply-to']
    if (!mail || !to) return reply.code(404).type('text/html').send(page('Nobody to answer', ''))
    const said = await answerMail(bouncePort, mail, to, text)
    return reply.type('text/html').send(page(said, '<p><a href="/">Inbox</a></p>'))
  })
}

/** Answers a letter as a customer's mail program does: with the letter quoted beneath. */
async function answerMail(port: number, mail: StoredMail, to: string, text: string): Promise<string> {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true })
  const quoted = mail.text.split('\n').map((line) => `> ${line}`)
  const letter = { from: mail.to, to, subject: `Re: ${mail.subject}`, inReplyTo: mail.id }
  try {
    await transport.sendMail({
      ...letter,
      text: [text, '', `On ${mail.at.slice(0, 10)} you wrote:`, ...quoted].join('\n'),
    })
    return 'The answer is sent'
  } catch (error) {
    return `The answer was not taken: ${error instanceof Error ? error.message : 'unknown'}`
  } finally {
    transport.close()
  }
}

const answerForm = (mail: StoredMail, port: number): string =>
  port > 0 && mail.headers['reply-to']
    ? `<form method="post" action="/answer"><input type="hidden" name="id" value="${escapeHtml(mail.id)}"><p><textarea name="text" rows="3" cols="60" aria-label="Answer"></textarea></p><button>Answer by mail</button></form>`
    : ''
