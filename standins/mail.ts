import type { FastifyInstance } from 'fastify'
import { simpleParser } from 'mailparser'
import { createTransport } from 'nodemailer'
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
  /** What stands in its head besides. */
  headers: Record<string, string>
  at: string
  copies: number
  /** Their content in base64. */
  attachments: { name: string; type: string; content: string }[]
}

/** Letters to these mailboxes come back: there is no such mailbox, or it is full. */
const comesBack = (address: string): { status: string; said: string } | null => {
  const mailbox = address.split('@')[0]!.toLowerCase()
  if (mailbox.startsWith('nobody')) return { status: '5.1.1', said: '550 5.1.1 No such mailbox' }
  return mailbox.startsWith('full') ? { status: '5.2.2', said: '552 5.2.2 The mailbox is full' } : null
}

/** Sends a letter back as a delivery status notification (RFC 3464). */
async function sendBack(port: number, sender: string, to: string, { status, said }: { status: string; said: string }) {
  const transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true })
  const report = [
    'Reporting-MTA: dns; mail.example',
    '',
    `Final-Recipient: rfc822; ${to}`,
    'Action: failed',
    `Status: ${status}`,
    `Diagnostic-Code: smtp; ${said}`,
    '',
  ].join('\r\n')
  const letter = {
    envelope: { from: '', to: sender },
    from: 'Mail delivery <postmaster@mail.example>',
    to: sender,
    subject: 'Your letter could not be delivered',
    text: `To ${to}: ${said}`,
    attachments: [{ contentType: 'message/delivery-status', content: report, filename: 'status.txt' }],
  }
  for (let tries = 0; tries < 10; tries++) {
    await new Promise((resolve) => setTimeout(resolve, 300 * (tries + 1)))
    try {
      await transport.sendMail(letter)
      break
    } catch {
      // Nobody takes it yet: it is tried again, as mail servers do.
    }
  }
  transport.close()
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

/** A mail server with a web inbox. Mails with the same Message-ID are one mail; how often it came is counted. */
export function mailStandIn(file: string, bouncePort = 0): { app: FastifyInstance; smtp: SMTPServer; books: Books } {
  const app = makeServer()
  const books = openBooks(file)
  const { faults, hits } = withFaults(app, 'Mail')
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    onData: (stream, session, done) => {
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
          headers: Object.fromEntries(
            mail.headerLines.map(({ key, line }) => [
              key,
              line
                .slice(key.length + 1)
                .replace(/\r?\n\s+/g, ' ')
                .trim(),
            ]),
          ),
          at: before?.at ?? new Date().toISOString(),
          attachments: mail.attachments.map(({ filename, contentType, content }) => ({
            name: filename ?? '',
            type: contentType,
            content: content.toString('base64'),
          })),
          copies: (before?.copies ?? 0) + (hits('twice') ? 2 : 1),
        } satisfies StoredMail)
        const back = comesBack(to)
        const { mailFrom } = session.envelope
        if (back && bouncePort > 0 && mailFrom) void sendBack(bouncePort, mailFrom.address, to, back)
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
  app.addHook('onClose', async () => {
    await new Promise<void>((resolve) => void smtp.close(() => resolve()))
    books.close()
  })
  return { app, smtp, books }
}
