import { beforeMigrating } from '../backups/beforeMigrating'
import { backupHouse } from '../backups/house'
import type { OrderThread } from '../intake/orderThread'
import type { RefusalCode } from './refusals'
import { chmodSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { z } from 'zod'
import { type Role, roleIds } from '@/core/people'
import {
  type ChannelClient,
  type FileStore,
  type MailClient,
  openVault,
  type Outside,
  smtpClient,
  type Vault,
} from '@/adapters'
import { BooksProblem, isHalfMoved, isPostgresAddress, nameActing, openDatabase, type Database } from '@/data'
import { type Connections, openConnections } from './connections'
import { openGuard } from '../health/readOnly'
import { readEnvironment } from './environment'
import { takeRestoredMark } from './restoredBooks'
import { filePlace, openFiles, type WorkingFolder, workingFolder } from './files'
import { makeLog } from './log'

/** Everything a use case may reach: the books, the outside, the clock. Tests give their own. */
export interface Application {
  readonly db: Database
  readonly log: Logger
  readonly now: () => Date
  /** What the machine's clock says, or the one that machines share, also while it is wrong. */
  readonly machineTime: () => Date
  readonly settings: Settings
  /** The client of a channel; one that cannot be used says why at each call. */
  readonly channel: (id: string) => Promise<ChannelClient>
  /** Null when the carrier has no connection that is wanted. */
  readonly carrier: Connections['carrier']
  /** The client of a partner; one that cannot be used says why at each call. */
  readonly partner: Connections['partner']
  /** The gateway for text messages; null where none is used. */
  readonly messenger: Connections['messenger']
  /** Writes down how calls went since it was last done. */
  readonly noteHeard: Connections['heard']
  readonly noteCalls: () => Promise<void>
  /** Seals and opens credentials. */
  readonly vault: Vault
  readonly outside: Outside
  readonly mail: MailClient
  /** Uploads, print files and papers, where every server and worker reaches them. */
  readonly files: FileStore
  /** Where files are on this machine while they are made. */
  readonly working: WorkingFolder
  /** A thread that makes orders ready that come in; without it the own thread does. */
  readonly orderThread?: OrderThread
  /**
   * Threads that decide trials, each begun with a program that calls `serveTrial`; without them the own thread does.
   */
  readonly trialThreads?: { readonly script: URL; readonly count: number }
  /** Whether the worker was asked to stop: long work ends at its next step, and goes on when it is started again. */
  readonly stopping?: () => boolean
  /** Why nothing is changed now, with what to do; null where all is well. */
  readonly readOnly: () => string | null
  /** Looks at disk and clock at once. */
  readonly lookAgain: () => Promise<void>
  readonly close: () => Promise<void>
}

/** Roles by groups, as they are written in the environment. */
function rolesOfGroups(text: string, context: z.RefinementCtx): ReadonlyMap<string, Role> {
  const roles = new Map<string, Role>()
  for (const part of text.split(',').filter((one) => one.trim() !== '')) {
    const [group = '', role = ''] = part.split('=').map((one) => one.trim())
    const known = roleIds.find((id) => id === role)
    if (group === '' || !known || known === 'partner')
      context.addIssue({ code: 'custom', message: `"${part}" is no group with a role, such as gharry-packers=packer.` })
    else roles.set(group, known)
  }
  return roles
}

/** What a worker does: of several, each can do some of it. */
export const workKinds = ['imports', 'buying', 'telling', 'routing', 'trials'] as const
export type WorkKind = (typeof workKinds)[number]

function kindsOfWork(text: string, context: z.RefinementCtx): ReadonlySet<WorkKind> {
  const kinds = new Set<WorkKind>()
  for (const part of text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)) {
    const known = workKinds.find((kind) => kind === part)
    if (known) kinds.add(known)
    else context.addIssue({ code: 'custom', message: `"${part}" is no kind of work: ${workKinds.join(', ')} are.` })
  }
  return kinds.size === 0 ? new Set(workKinds) : kinds
}

const environment = z.object({
  GHARRY_DATA: z.string().default('data'),
  /** Where the books are: the address of a PostgreSQL database, `postgres://…`; without it a file of the data folder. */
  GHARRY_DATABASE: z.string().refine(isPostgresAddress, 'it must begin with postgres://').optional(),
  /**
   * Where files are kept: a folder, `books`, or `s3://bucket/prefix?endpoint=…&region=…`. Without it the data folder, and
   * the books where they are in PostgreSQL.
   */
  GHARRY_FILES: z.string().default(''),
  GHARRY_FILES_KEY: z.string().default(''),
  GHARRY_FILES_SECRET: z.string().default(''),
  GHARRY_URL: z.url().default('http://127.0.0.1:4600'),
  /** Other names under which Gharry is reached, with commas between. */
  GHARRY_HOSTS: z.string().default(''),
  /** How many proxies before Gharry are its own: only the addresses that they add are believed. */
  GHARRY_PROXIES: z.coerce.number().int().min(0).max(5).default(0),
  GHARRY_LEASE_SECONDS: z.coerce.number().int().min(1).default(20),
  GHARRY_NOTICE_WAIT_SECONDS: z.coerce.number().int().min(0).default(30),
  /** What this worker does, with commas between: imports, buying, telling, routing, trials. Without it, all of it. */
  GHARRY_WORK: z.string().default('').transform(kindsOfWork),
  GHARRY_SMTP_HOST: z.string().default('127.0.0.1'),
  GHARRY_SMTP_PORT: z.coerce.number().int().default(4625),
  /** How many letters go out at once. */
  GHARRY_SMTP_CONNECTIONS: z.coerce.number().int().min(1).max(200).default(10),
  /** Under which credentials are kept: 32 bytes in base64. Without it there is a key file in the data folder. */
  GHARRY_KEY: z.string().optional(),
  /** Keys that were used before, with commas between: what they sealed can still be opened. */
  GHARRY_KEY_BEFORE: z.string().default(''),
  /** Whether connections may lead to addresses of this machine or house. */
  GHARRY_PRIVATE_ADDRESSES: z.enum(['yes', 'no']).default('no'),
  /** Where simulated outsides say that they run; asked only where private addresses are allowed. */
  GHARRY_STANDINS: z.union([z.literal('none'), z.url()]).default('http://127.0.0.1:4609'),
  /**
   * The domain that letters come back to when they cannot be delivered; the worker takes them in at GHARRY_BOUNCE_PORT.
   */
  GHARRY_BOUNCE_DOMAIN: z.union([z.literal(''), z.hostname()]).default(''),
  GHARRY_BOUNCE_PORT: z.coerce.number().int().min(0).max(65_535).default(0),
  /** An OpenID provider whose people sign in here, by the groups that they have there. */
  GHARRY_PROVIDER_ISSUER: z.union([z.literal(''), z.url()]).default(''),
  GHARRY_PROVIDER_CLIENT: z.string().default(''),
  GHARRY_PROVIDER_SECRET: z.string().default(''),
  /** How its button is called. */
  GHARRY_PROVIDER_NAME: z.string().max(40).default('company account'),
  /** Which role a group gives: `gharry-packers=packer`, with commas between. */
  GHARRY_PROVIDER_ROLES: z.string().default('').transform(rolesOfGroups),
  GHARRY_PAUSE_MS: z.coerce.number().int().min(1).default(5_000),
  GHARRY_CALL_TIMEOUT_MS: z.coerce.number().int().min(50).default(15_000),
  /** Below so much free disk nothing is changed. */
  GHARRY_LEAST_FREE_MB: z.coerce.number().min(0).max(1_000_000).default(300),
  /** So many months stay in the books, this one besides; 0 for all. Older orders go into files once they name nobody any more. */
  GHARRY_MONTHS_IN_BOOKS: z.coerce.number().int().min(0).max(1200).default(0),
  GHARRY_LOG: z.enum(['silent', 'error', 'warn', 'info', 'debug']).default('info'),
})

/** How often it is written down how calls went. */
const notedEveryMs = 3_000

/** An OpenID provider whose people sign in here. */
export interface ProviderSettings {
  readonly issuer: string
  readonly clientId: string
  readonly clientSecret: string
  readonly name: string
  readonly roles: ReadonlyMap<string, Role>
}

export interface Settings {
  readonly dataDir: string
  /** The file of the books, or the address of their database. */
  readonly books: string
  /** Where customers reach the tracking page. */
  readonly publicUrl: string
  readonly proxies: number
  readonly leaseSeconds: number
  readonly noticeWaitSeconds: number
  /** The name of whoever acts now. */
  readonly author: string
  /** Empty where letters come back to the seller's own mailbox. */
  readonly bounceDomain: string
  /** Where the worker takes them in; 0 where it does not. */
  readonly bouncePort: number
  /** The key of credentials comes from the environment, and not from the data folder. */
  readonly keyGiven: boolean
  /** Where simulated outsides say that they run; empty where nobody is asked. */
  readonly standIns: string
  /** Where people of the house can sign in besides; null where there is none. */
  readonly provider: ProviderSettings | null
  /** Papers and pictures are where files are kept, and not in the books. */
  readonly keepsFilesOutside: boolean
  /** What this process does where it is a worker. */
  readonly work: ReadonlySet<WorkKind>
  /** So many months stay in the books, this one besides; 0 for all. */
  readonly monthsInBooks: number
  /** Whether backups are made. */
  readonly keepsBackups: boolean
}

/** Opens Gharry as the environment says; a wrong variable is named. */
export async function openApplication(env: Record<string, string | undefined> = process.env): Promise<Application> {
  const vars = readEnvironment(environment, env)
  const dataDir = vars.GHARRY_DATA
  // Addresses and money are in it: it is for whoever runs Gharry alone.
  for (const folder of [dataDir, join(dataDir, 'files')]) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    chmodSync(folder, 0o700)
  }
  const house = backupHouse(env)
  const place = placeOfFiles(vars)
  const working = workingFolder(dataDir)
  const books = vars.GHARRY_DATABASE ?? house.books
  if (books === house.books) await beforeMigrating(house, new Date())
  const db = await openBooks(books, dataDir)
  const log = makeLog(vars.GHARRY_LOG)
  const outside: Outside = {
    timeoutMs: vars.GHARRY_CALL_TIMEOUT_MS,
    privateAddresses: vars.GHARRY_PRIVATE_ADDRESSES === 'yes',
    pauseMs: vars.GHARRY_PAUSE_MS,
  }
  const vault = openVault(dataDir, vars.GHARRY_KEY, vars.GHARRY_KEY_BEFORE.split(',').filter(Boolean))
  const mail = smtpClient(vars.GHARRY_SMTP_HOST, vars.GHARRY_SMTP_PORT, vars.GHARRY_SMTP_CONNECTIONS)
  const leastFreeBytes = vars.GHARRY_LEAST_FREE_MB * 1e6
  const guard = await openGuard(db, { dataDir, leastFreeBytes, log })
  const { now } = guard
  const connections = openConnections({ db, log, vault, outside, mail, now })
  const noting = setInterval(() => void connections.note(), notedEveryMs)
  noting.unref()
  return {
    db,
    log,
    mail,
    now,
    machineTime: guard.wall,
    vault,
    outside,
    working,
    files: await openFiles(db, place, working, now),
    channel: connections.channel,
    carrier: connections.carrier,
    partner: connections.partner,
    messenger: connections.messenger,
    noteHeard: connections.heard,
    noteCalls: connections.note,
    readOnly: guard.readOnly,
    lookAgain: guard.look,
    settings: settingsOf(vars, { dataDir, books, place, keepsBackups: house.place !== null }),
    close: async () => {
      clearInterval(noting)
      guard.end()
      await connections.note()
      mail.close()
      await db.destroy()
    },
  }
}

type Variables = z.output<typeof environment>

function placeOfFiles(vars: Variables): NonNullable<ReturnType<typeof filePlace>> {
  const kept = vars.GHARRY_FILES || (vars.GHARRY_DATABASE ? 'books' : vars.GHARRY_DATA)
  const place = filePlace(kept, vars.GHARRY_FILES_KEY, vars.GHARRY_FILES_SECRET)
  if (!place)
    throw new Error(
      'The environment variable GHARRY_FILES is wrong: it is a folder, books, or s3://bucket, with GHARRY_FILES_KEY and GHARRY_FILES_SECRET.',
    )
  return place
}

/** Opens the books; half of a move is no books, and books that were put back are marked. */
async function openBooks(books: string, dataDir: string): Promise<Database> {
  const db = await openDatabase(books)
  if (await isHalfMoved(db)) {
    await db.destroy()
    throw new BooksProblem(
      'The move into these books is not finished: run gharry move again, with the books that it began with.',
    )
  }
  await takeRestoredMark(db, dataDir)
  return db
}

interface Opened {
  readonly dataDir: string
  readonly books: string
  readonly place: ReturnType<typeof placeOfFiles>
  readonly keepsBackups: boolean
}

function settingsOf(vars: Variables, { dataDir, books, place, keepsBackups }: Opened): Settings {
  return {
    dataDir,
    books,
    publicUrl: vars.GHARRY_URL.replace(/\/$/, ''),
    proxies: vars.GHARRY_PROXIES,
    leaseSeconds: vars.GHARRY_LEASE_SECONDS,
    noticeWaitSeconds: vars.GHARRY_NOTICE_WAIT_SECONDS,
    // Whoever acts; what nobody asks for is Gharry's own.
    get author() {
      return nameActing('Gharry')
    },
    bounceDomain: vars.GHARRY_BOUNCE_DOMAIN,
    bouncePort: vars.GHARRY_BOUNCE_PORT,
    monthsInBooks: vars.GHARRY_MONTHS_IN_BOOKS,
    keyGiven: vars.GHARRY_KEY !== undefined,
    standIns: vars.GHARRY_STANDINS === 'none' ? '' : vars.GHARRY_STANDINS,
    provider: providerOf(vars),
    keepsFilesOutside: vars.GHARRY_FILES !== '' && place.kind !== 'books',
    work: vars.GHARRY_WORK,
    keepsBackups,
  }
}

const providerOf = (vars: Variables): ProviderSettings | null =>
  vars.GHARRY_PROVIDER_ISSUER === ''
    ? null
    : {
        issuer: vars.GHARRY_PROVIDER_ISSUER,
        clientId: vars.GHARRY_PROVIDER_CLIENT,
        clientSecret: vars.GHARRY_PROVIDER_SECRET,
        name: vars.GHARRY_PROVIDER_NAME,
        roles: vars.GHARRY_PROVIDER_ROLES,
      }

/** What a use case answers when a person asked for something that cannot be done. */
export interface Refused {
  readonly ok: false
  readonly code: RefusalCode
  readonly sentence: string
  /** What is wrong, field by field, where several can be. */
  readonly fields?: Readonly<Record<string, string>>
}
export type Answer<T> = ({ readonly ok: true } & T) | Refused

export const refuse = (code: RefusalCode, sentence: string): Refused => ({ ok: false, code, sentence })
