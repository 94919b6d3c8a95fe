import nodemailer from 'nodemailer'
import { isOneAddress } from '@/core/address'
import type { CallResult } from '../http'

export interface Mail {
  /** Who writes. */
  readonly from: { readonly name: string; readonly address: string }
  readonly to: string
  readonly subject: string
  readonly text: string
  readonly html: string
  /** Makes the Message-ID: the same key twice is the same message to every mailbox. */
  readonly key: string
  /** Where it comes back to when it cannot be delivered; else to the sender. */
  readonly bounce?: string
  /** Where an answer goes; else to the sender. */
  readonly replyTo?: string
  readonly headers?: Readonly<Record<string, string>>
  readonly attachments?: readonly { readonly name: string; readonly type: string; readonly content: Buffer }[]
}

export interface MailClient {
  readonly send: (mail: Mail) => Promise<CallResult<unknown>>
  readonly close: () => void
}

/**
 * `connections`: so many letters go out at once; more than a server allows make it turn some away, and they go later.
 */
export function smtpClient(host: string, port: number, connections = 10): MailClient {
  const transport = nodemailer.createTransport({
    host,
    port,
    secure: false,
    ignoreTLS: true,
    pool: true,
    maxConnections: connections,
    connectionTimeout: 5000,
    greetingTimeout: 5000,
    socketTimeout: 15_000,
  })
  return {
    send: async ({ from, to, subject, text, html, key, bounce, replyTo, headers, attachments = [] }) => {
      if (!isOneAddress(to))
        return {
          ok: false,
          kind: 'refused',
          sentence: 'The recipient is not exactly one e-mail address: correct it in the channel.',
          retryAfter: 0,
        }
      try {
        // As an object, so that nothing in it is read as a list or a group.
        await transport.sendMail({
          from,
          to: { name: '', address: to },
          subject,
          text,
          html,
          messageId: `<${key}@gharry.example>`,
          ...(bounce === undefined ? {} : { envelope: { from: bounce, to } }),
          ...(replyTo === undefined ? {} : { replyTo }),
          ...(headers === undefined ? {} : { headers }),
          attachments: attachments.map(({ name, type, content }) => ({ filename: name, contentType: type, content })),
        })
        return { ok: true, body: null }
      } catch (error) {
        const code = (error as { responseCode?: number }).responseCode
        // 5xx is final (RFC 5321, 4.2.1); everything else is worth another try.
        if (code !== undefined && code >= 500 && code < 600)
          return { ok: false, kind: 'refused', sentence: `The mail server refused it (${code}).`, retryAfter: 0 }
        return {
          ok: false,
          kind: code === undefined ? 'unreachable' : 'server error',
          sentence: code === undefined ? 'The mail server cannot be reached.' : `The mail server answered ${code}.`,
          retryAfter: 0,
        }
      }
    },
    close: () => transport.close(),
  }
}
