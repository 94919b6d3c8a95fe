import { type AddressInfo } from 'node:net'
import { simpleParser, type ParsedMail } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { answerText } from './answerText'

/** A letter that came back. */
export interface Bounce {
  /** What stood in the address that it came back to. */
  readonly name: string
  /** The mailbox does not exist, or takes nothing from anybody; else it may be tried some other day. */
  readonly forGood: boolean
  readonly said: string
}

/** What came for a letter that a person wrote: an answer, or that it came back. */
export interface LetterAnswer {
  readonly name: string
  readonly answer: string
  readonly cameBack: Omit<Bounce, 'name'> | null
}

/** Who takes in what. */
export interface Letterbox {
  readonly bounce: (bounce: Bounce) => Promise<void>
  readonly letter: (answer: LetterAnswer) => Promise<void>
}

const mostBytes = 5_000_000
const boxes = ['notice', 'letter', 'answer'] as const

/**
 * Takes in letters that come back (delivery status notifications, RFC 3464) for addresses such as `notice+NAME@…`, and
 * answers at `answer+NAME@…`. Everything else is refused, and a letter is taken only once it is written down.
 */
export async function receiveLetters(
  port: number,
  take: Letterbox,
): Promise<{ readonly port: number; readonly close: () => Promise<void> }> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    logger: false,
    size: mostBytes,
    maxClients: 20,
    socketTimeout: 20_000,
    onRcptTo: ({ address }, session, done) => {
      const first = session.envelope.rcptTo.length === 0
      if (boxIn(address) === null || !first)
        return done(Object.assign(new Error('No such mailbox'), { responseCode: 550 }))
      done()
    },
    onData: (stream, session, done) => {
      const read = async (): Promise<void> => {
        const mail = await simpleParser(stream, {
          keepDeliveryStatus: true,
          skipImageLinks: true,
          skipTextToHtml: true,
        })
        // What was cut off at its end is not understood.
        if (stream.sizeExceeded) return
        const to = boxIn(session.envelope.rcptTo[0]?.address ?? '')
        if (to) await takeMail(mail, to, take)
      }
      read().then(
        () =>
          stream.sizeExceeded
            ? done(Object.assign(new Error('The letter is too large'), { responseCode: 552 }))
            : done(),
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

interface Box {
  readonly box: (typeof boxes)[number]
  readonly name: string
}

function boxIn(address: string): Box | null {
  const [, box, name] = /^([a-z]{6})\+([\w-]{3,80})@/i.exec(address) ?? []
  const known = boxes.find((one) => one === box?.toLowerCase())
  return known && name ? { box: known, name } : null
}

async function takeMail(mail: ParsedMail, { box, name }: Box, take: Letterbox): Promise<void> {
  const status = statusIn(mail)
  if (box === 'notice') return status ? take.bounce({ name, ...status }) : undefined
  if (box === 'letter') return status ? take.letter({ name, answer: '', cameBack: status }) : undefined
  if (status || isAutomatic(mail)) return
  const text = answerText(mail.text ?? '')
  const dropped = mail.attachments.length
  const files = dropped === 0 ? '' : `(${dropped} attached ${dropped === 1 ? 'file was' : 'files were'} not kept.)`
  await take.letter({ name, answer: [text, files].filter(Boolean).join('\n\n'), cameBack: null })
}

/** Written by a machine (RFC 3834, 5): somebody is away, or a mailbox says that it took the letter. */
function isAutomatic(mail: ParsedMail): boolean {
  const head = (name: string): string => {
    const line = mail.headerLines.find(({ key }) => key === name)?.line ?? ''
    return line
      .slice(name.length + 1)
      .trim()
      .toLowerCase()
  }
  const submitted = head('auto-submitted')
  return (submitted !== '' && submitted !== 'no') || ['bulk', 'auto_reply', 'junk'].includes(head('precedence'))
}

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
