import type { RefusalCode } from './refusals'
import { chmodSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import pino, { type Logger } from 'pino'
import { z } from 'zod'
import {
  carrierClient,
  shopClient,
  smtpClient,
  type CarrierClient,
  type ChannelClient,
  type MailClient,
} from '@/adapters'
import { openDatabase, type ChannelRow, type Database } from '@/data'

/** Everything a use case may reach: the books, the outside, the clock. Tests give their own. */
export interface Application {
  readonly db: Database
  readonly log: Logger
  readonly now: () => Date
  readonly settings: Settings
  readonly channel: (channel: ChannelRow) => ChannelClient
  /** Null when the carrier has no connection. */
  readonly carrier: (id: string) => CarrierClient | null
  readonly mail: MailClient
  /**
   * Threads that decide trials, each begun with a program that calls `serveTrial`; without them the own thread does.
   */
  readonly trialThreads?: { readonly script: URL; readonly count: number }
  /** Whether the worker was asked to stop: long work ends at its next step, and goes on when it is started again. */
  readonly stopping?: () => boolean
  readonly close: () => Promise<void>
}

const environment = z.object({
  GHARRY_DATA: z.string().default('data'),
  GHARRY_URL: z.url().default('http://127.0.0.1:4600'),
  /** Other names under which Gharry is reached, with commas between. */
  GHARRY_HOSTS: z.string().default(''),
  /** How many proxies before Gharry are its own: only the addresses that they add are believed. */
  GHARRY_PROXIES: z.coerce.number().int().min(0).max(5).default(0),
  GHARRY_LEASE_SECONDS: z.coerce.number().int().min(1).default(20),
  GHARRY_NOTICE_WAIT_SECONDS: z.coerce.number().int().min(0).default(30),
  GHARRY_AUTHOR: z.string().default('Operations lead'),
  GHARRY_SMTP_HOST: z.string().default('127.0.0.1'),
  GHARRY_SMTP_PORT: z.coerce.number().int().default(4625),
  GHARRY_CARRIER_URLS: z
    .string()
    .default(
      'heron=http://127.0.0.1:4611,corvid=http://127.0.0.1:4612,northlight=http://127.0.0.1:4614,skua=http://127.0.0.1:4615,bramble=http://127.0.0.1:4616,dray=http://127.0.0.1:4617',
    ),
  GHARRY_CARRIER_TOKEN: z.string().default('demo-carrier-token'),
  GHARRY_SHOP_KEY: z.string().default('demo-key'),
  GHARRY_SHOP_SECRET: z.string().default('demo-secret'),
  GHARRY_CALL_TIMEOUT_MS: z.coerce.number().int().min(50).default(15_000),
  GHARRY_LOG: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
})

export interface Settings {
  readonly dataDir: string
  /** Where customers reach the tracking page. */
  readonly publicUrl: string
  readonly proxies: number
  readonly leaseSeconds: number
  readonly noticeWaitSeconds: number
  readonly author: string
}

/** Opens Gharry as the environment says; a wrong variable is named. */
export async function openApplication(env: Record<string, string | undefined> = process.env): Promise<Application> {
  const parsed = environment.safeParse(Object.fromEntries(Object.entries(env).filter(([, value]) => value !== '')))
  if (!parsed.success)
    throw new Error(
      `The environment variable ${parsed.error.issues[0]!.path.join('.')} is wrong: ${parsed.error.issues[0]!.message}`,
    )
  const vars = parsed.data
  const dataDir = vars.GHARRY_DATA
  // Addresses and money are in it: it is for whoever runs Gharry alone.
  for (const folder of [dataDir, join(dataDir, 'files')]) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    chmodSync(folder, 0o700)
  }
  const db = await openDatabase(join(dataDir, 'gharry.db'))
  const log = pino({
    level: vars.GHARRY_LOG,
    base: null,
    redact: [
      '*.secret',
      '*.token',
      '*.authorization',
      'authorization',
      '*.email',
      '*.recipient',
      '*.buyer',
      '*.address',
    ],
    serializers: { err: plainError },
  })
  const carriers = new Map(
    vars.GHARRY_CARRIER_URLS.split(',')
      .filter(Boolean)
      .map((pair) => {
        const [id, ...url] = pair.split('=')
        return [id!.trim(), carrierClient(url.join('='), vars.GHARRY_CARRIER_TOKEN, vars.GHARRY_CALL_TIMEOUT_MS)]
      }),
  )
  const mail = smtpClient(vars.GHARRY_SMTP_HOST, vars.GHARRY_SMTP_PORT, 'Mossgill Aquatics <hello@mossgill.example>')
  return {
    db,
    log,
    mail,
    now: () => new Date(),
    settings: {
      dataDir,
      publicUrl: vars.GHARRY_URL.replace(/\/$/, ''),
      proxies: vars.GHARRY_PROXIES,
      leaseSeconds: vars.GHARRY_LEASE_SECONDS,
      noticeWaitSeconds: vars.GHARRY_NOTICE_WAIT_SECONDS,
      author: vars.GHARRY_AUTHOR,
    },
    channel: (channel) => shopClient(channel.baseUrl, vars.GHARRY_SHOP_KEY, vars.GHARRY_SHOP_SECRET),
    carrier: (id) => carriers.get(id) ?? null,
    close: async () => {
      mail.close()
      await db.destroy()
    },
  }
}

/**
 * An error without what the database or a library may have put into it: kind, code, the first line, and where it came
 * from.
 */
function plainError(error: unknown): object {
  const { name, code, message, stack } = error as { name?: string; code?: unknown; message?: string; stack?: string }
  return {
    name,
    code,
    message: (message ?? '')
      .split('\n')[0]!
      .slice(0, 300)
      .replace(/[^\s@]{1,64}@[^\s@]{1,190}/g, '…@…'),
    stack: (stack ?? '')
      .split('\n')
      .filter((line) => /^\s{1,8}at /.test(line))
      .slice(0, 12)
      .join('\n'),
  }
}

/** What a use case answers when a person asked for something that cannot be done. */
export interface Refused {
  readonly ok: false
  readonly code: RefusalCode
  readonly sentence: string
}
export type Answer<T> = ({ readonly ok: true } & T) | Refused

export const refuse = (code: RefusalCode, sentence: string): Refused => ({ ok: false, code, sentence })
