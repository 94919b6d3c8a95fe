import { type AddressInfo } from 'node:net'
import { simpleParser, type ParsedMail } from 'mailparser'
import { SMTPServer } from 'smtp-server'

/** A letter that came back. */
export interface Bounce {
  /** What stood in the address that it came back to. */
  readonly name: string
  /** The mailbox does not exist, or takes nothing from anybody; else it may be tried some other day. */
  readonly forGood: boolean
  readonly said: string
}

const mostBytes = 200_000

/**
 * Takes in letters that come back (delivery status notifications, RFC 3464) for addresses such as `notice+NAME@…`. Everything
 * else is refused, and a letter is taken only once `take` has written it down.
 */
export async function receiveBounces(
  port: number,
  take: (bounce: Bounce) => Promise<void>,
): Promise<{ readonly port: number; readonly close: () => Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    size: mostBytes,
    maxClients: 20,
    socketTimeout: 20_000,
    onRcptTo: ({ address }, session, done) => {
      const name = nameIn(address)
      const first = session.envelope.rcptTo.length === 0
      if (name === null || !first) return done(Object.assign(new Error('No such mailbox'), { responseCode: 550 }))
      done()
    },
    onData: (stream, session, done) => {
      const read = async (): Promise<void> => {
        const mail = await simpleParser(stream, {
          keepDeliveryStatus: true,
          skipImageLinks: true,
          skipTextToHtml: true,
        })
        const name = nameIn(session.envelope.rcptTo[0]?.address ?? '')
        const status = statusIn(mail)
        if (name !== null && status) await take({ name, ...status })
      }
      read().then(
        () => done(),
        () => done(Object.assign(new Error('Try again later'), { responseCode: 451 })),
      )
    },
  })
  // A sender that hangs up in the middle is no reason to stop.
  server.on('error', () => undefined)
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise<void>((resolve) => server.close(() => resolve())),
  }
}

const nameIn = (address: string): string | null => /^notice\+([\w-]{3,80})@/i.exec(address)?.[1] ?? null

/** What a delivery status says: only what failed counts, and a delay is none. */
function statusIn(mail: ParsedMail): Pick<Bounce, 'forGood' | 'said'> | null {
  const report = mail.attachments.find(({ contentType }) => contentType === 'message/delivery-status')
  if (!report) return null
  const text = report.content.toString('utf8').slice(0, 20_000)
  const field = (name: string): string => new RegExp(`^${name}:[ \\t]*(.{1,400})$`, 'im').exec(text)?.[1]?.trim() ?? ''
  if (field('Action').toLowerCase() !== 'failed') return null
  const status = field('Status')
  // 5.1.x: there is no such address (RFC 3463); a full mailbox (5.2.2) may be emptied.
  const said = field('Diagnostic-Code')
    .replace(/^smtp;\s*/i, '')
    .slice(0, 200)
  return { forGood: status.startsWith('5.1.'), said: said || `status ${status || 'unknown'}` }
}
