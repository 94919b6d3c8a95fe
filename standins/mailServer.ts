import { type ParsedMail, simpleParser } from 'mailparser'
import { createTransport } from 'nodemailer'
import { SMTPServer } from 'smtp-server'
import type { Books } from './books'
import type { FaultSwitches } from './faults'

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

/** Takes letters into the books; some come back, and some are refused by the switches. */
export function mailServer(books: Books, { faults, hits }: FaultSwitches, bouncePort: number): SMTPServer {
  const refusal = (text: string, responseCode: number): Error => Object.assign(new Error(text), { responseCode })
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    onData: (stream, session, done) => {
      const take = async (): Promise<void> => {
        const mail = await simpleParser(stream)
        if (faults.latencyMs > 0) await new Promise((resolve) => setTimeout(resolve, faults.latencyMs))
        if (hits('serverError')) return done(refusal('Try again later', 451))
        if (hits('tooManyCalls')) return done(refusal('Too many mails', 421))
        const stored = storedOf(mail)
        const before = books.get<StoredMail>('mail', stored.id)
        books.put('mail', stored.id, {
          ...stored,
          at: before?.at ?? stored.at,
          copies: (before?.copies ?? 0) + (hits('twice') ? 2 : 1),
        } satisfies StoredMail)
        const back = comesBack(stored.to)
        const { mailFrom } = session.envelope
        if (back && bouncePort > 0 && mailFrom) void sendBack(bouncePort, mailFrom.address, stored.to, back)
        if (hits('timeOutAfterWork')) return done(refusal('Something broke after the mail was taken', 451))
        done()
      }
      take().catch((error: unknown) => done(error instanceof Error ? error : new Error(String(error))))
    },
  })
  // A caller that dies in the middle of a mail is no reason to stop; a port that is taken is said by who starts it.
  smtp.on('error', () => undefined)
  return smtp
}

function storedOf(mail: ParsedMail): StoredMail {
  return {
    id: mail.messageId ?? String(Date.now()),
    to: Array.isArray(mail.to) ? mail.to.map((address) => address.text).join(', ') : (mail.to?.text ?? ''),
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
    at: new Date().toISOString(),
    attachments: mail.attachments.map(({ filename, contentType, content }) => ({
      ...{ name: filename ?? '', type: contentType, content: content.toString('base64') },
    })),
    copies: 0,
  }
}
