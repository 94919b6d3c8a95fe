import { execSync, spawn, type ChildProcess } from 'node:child_process'
import { createServer } from 'node:net'
import { mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { addEdition, addPerson, addWorld, personBy, replaceDraft, type Database } from '@/data'
import { beginSignIn } from '@/usecases/people/signedIn'
import { type Application, openApplication } from '@/usecases/shared/application'
import { demoCarriers } from '../demo/carriers'
import { authoriseLane } from '../demo/authorise'
import { connectDemo, type StandIns } from '../demo/connect'
import { post } from '../demo/post'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { pause } from './figures'

/** Backups are of the file; of those who share a database three work, each in a way of its own. */
const onFile = ['worker', 'server', 'keeper', 'shop', 'carriers', 'mail'] as const
/** Channels besides the shop, where they are asked for. */
export const markets = ['lane', 'quill', 'desk'] as const
const onPostgres = [
  'worker',
  'worker whose clock is an hour behind',
  'worker that buys and tells',
  ...onFile.slice(1),
] as const
export type Process = (typeof onFile)[number] | (typeof onPostgres)[number] | (typeof markets)[number]
export const isWorker = (name: Process): boolean => name.startsWith('worker')
export const carrierIds = demoCarriers.map(({ id }) => id)
/** Room on the disk that others may use meanwhile without anything of it being full. */
const roomBytes = 6e9

/**
 * The whole of Gharry as real processes, each of which can be killed and started again, and the addresses where they
 * answer.
 */
export interface House {
  readonly processes: readonly Process[]
  /** Stops the database whatever it is doing, and starts it again; null where it is a file. */
  readonly restartDatabase: (() => void) | null
  /** A connection of our own, to look at the books. */
  readonly db: Database
  readonly url: string
  /** Of whoever asks: an owner. */
  readonly cookie: string
  readonly outside: (which: string) => string
  readonly kill: (name: Process) => Promise<void>
  readonly signal: (name: Process, signal: NodeJS.Signals) => void
  /** The data folder, and where its backups are. */
  readonly folder: string
  readonly backups: string
  /** Says how far off the clock of Gharry's processes is. */
  readonly clockFile: string
  /** So many bytes leave no room on the disk. */
  readonly fillBytes: number
  readonly start: (name: Process) => void
  /** The processes that run, by their number. */
  readonly pids: () => ReadonlyMap<Process, number>
  readonly answers: (name: Process) => Promise<boolean>
  /** What the server's log says of requests that failed; the last ones. */
  readonly failures: () => readonly string[]
  readonly close: (keep: boolean) => Promise<string>
}

/** How processes are started, as everywhere: the words after `node`. */
interface Programs {
  readonly worker: readonly string[]
  readonly keeper: readonly string[]
  readonly server: (env: NodeJS.ProcessEnv) => readonly string[]
  readonly standIn: (name: string) => readonly string[]
}

/** How quick the house is: a campaign hurries, so that much happens between two kills. */
export interface Pace {
  readonly pauseMs: number
  readonly leaseSeconds: number
  readonly callMs: number
  /** Whether orders come from all kinds of channels, and not from the shop alone. */
  readonly allChannels?: boolean
}
/** So many lines are kept of requests that failed. */
const mostFailures = 10

const hurried: Pace = { pauseMs: 300, leaseSeconds: 2, callMs: 1500 }

/** Starts the house: the world outside, connected as in the demo, and Gharry's own processes. */
export async function openHouse(pace: Pace = hurried): Promise<House> {
  const { allChannels } = pace
  const folder = mkdtempSync(join(tmpdir(), 'gharry-campaign-'))
  const backups = mkdtempSync(join(tmpdir(), 'gharry-campaign-backups-'))
  const clockFile = join(folder, '..', `${basename(folder)}-clock`)
  const books = process.env.GHARRY_CAMPAIGN_POSTGRES
  const processes: readonly Process[] = [
    ...(books ? onPostgres : onFile).filter((name) => !books || name !== 'keeper'),
    ...(allChannels ? markets : []),
  ]
  const restart = process.env.GHARRY_CAMPAIGN_RESTART
  const { ports, at } = await openPlaces()
  const env = environmentOf(pace, { folder, backups, books, ports, at })
  const family = await familyOf(env, clockFile)
  const answers = (name: Process): Promise<boolean> => answersAt(pagesOf(at)[name] ?? [])
  const gharry = await openApplication({
    ...{ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_DATABASE: books },
    ...{ GHARRY_URL: at(''), GHARRY_PRIVATE_ADDRESSES: 'yes', GHARRY_STANDINS: at('directory') },
  })
  const { db } = gharry
  const now = new Date().toISOString()
  await addWorld(db, demoWorld, now)
  await addEdition(db, demoRulebook, '', 'Campaign', now)
  await replaceDraft(db, demoRulebook, 0, now)
  // A marketplace is authorised, and an SFTP server known by its key: they run before they are connected.
  const first = allChannels ? markets : []
  first.forEach(family.start)
  for (const name of first) while (!(await answers(name))) await pause(100)
  await connectDemo(gharry, {
    ...(allChannels ? await connectedMarkets(at, ports.GHARRY_SFTP_PORT!) : {}),
    shop: { address: at('shop'), key: 'demo-key', secret: 'demo-secret' },
    carriers: new Map(carrierIds.map((id) => [id, at(id)])),
    token: 'demo-carrier-token',
  })
  const cookie = await ownersCookie(gharry, now)
  if (allChannels) await letIn(gharry, at)
  for (const name of processes) if (!family.pids().has(name)) family.start(name)
  return {
    ...{ processes, db, folder, backups, clockFile, answers, cookie, url: at(''), outside: at },
    ...family,
    restartDatabase: books && restart ? () => void execSync(restart, { stdio: 'ignore' }) : null,
    fillBytes: roomBytes + 1e9,
    close: async (keep) => {
      await gharry.close()
      await Promise.all(processes.map(family.kill))
      for (const file of [clockFile, behind(clockFile)]) rmSync(file, { force: true })
      if (!keep) for (const place of [folder, backups]) rmSync(place, { recursive: true, force: true })
      return folder
    },
  }
}

type At = (name: string) => string

/** A free port for each, and the address that it makes. */
async function openPlaces(): Promise<{ readonly ports: Readonly<Record<string, string>>; readonly at: At }> {
  const names = [
    ...['GHARRY', 'GHARRY_SHOP', 'GHARRY_MAIL', 'GHARRY_SMTP', 'GHARRY_DIRECTORY'],
    ...['GHARRY_LANE', 'GHARRY_QUILL', 'GHARRY_DESK', 'GHARRY_SFTP'],
    ...carrierIds.map((id) => `GHARRY_${id.toUpperCase()}`),
  ]
  const ports = Object.fromEntries((await freePorts(names.length)).map((port, i) => [`${names[i]}_PORT`, String(port)]))
  return {
    ports,
    at: (name) => `http://127.0.0.1:${ports[`GHARRY${name === '' ? '' : `_${name.toUpperCase()}`}_PORT`]}`,
  }
}

interface Places {
  readonly folder: string
  readonly backups: string
  readonly books: string | undefined
  readonly ports: Readonly<Record<string, string>>
  readonly at: At
}

/** The environment of all processes. */
function environmentOf(
  { pauseMs, leaseSeconds, callMs }: Pace,
  { folder, backups, books, ports, at }: Places,
): NodeJS.ProcessEnv {
  const { bavail, bsize } = statfsSync(folder)
  const leastFree = Math.max(0, bavail * bsize - roomBytes)
  return {
    ...process.env,
    ...ports,
    ...(books ? { GHARRY_DATABASE: books } : {}),
    NODE_ENV: 'production' as const,
    NEXT_TELEMETRY_DISABLED: '1',
    GHARRY_DATA: folder,
    GHARRY_URL: at(''),
    GHARRY_SHOP_URL: at('shop'),
    GHARRY_LANE_URL: at('lane'),
    GHARRY_STANDINS: at('directory'),
    GHARRY_PRIVATE_ADDRESSES: 'yes',
    GHARRY_PAUSE_MS: String(pauseMs),
    GHARRY_LEASE_SECONDS: String(leaseSeconds),
    GHARRY_NOTICE_WAIT_SECONDS: '2',
    GHARRY_CALL_TIMEOUT_MS: String(callMs),
    GHARRY_LOG: 'error',
    // As in production: a process that comes back does not wait for its own building.
    GHARRY_BUILT: 'yes',
    GHARRY_BACKUPS: backups,
    GHARRY_BACKUP_SECONDS: '1',
    GHARRY_LEAST_FREE_MB: String(Math.round(leastFree / 1e6)),
  }
}

const behind = (clockFile: string): string => `${clockFile}-behind`

/** The processes, as they are started, killed and heard. */
async function familyOf(
  env: NodeJS.ProcessEnv,
  clockFile: string,
): Promise<Pick<House, 'start' | 'kill' | 'signal' | 'pids' | 'failures'>> {
  const programs = await programsOf(env)
  // The world outside has a clock of its own.
  const clocked = {
    ...env,
    GHARRY_CAMPAIGN_CLOCK: clockFile,
    NODE_OPTIONS: `--import ${pathToFileURL(join(process.cwd(), 'campaign/clock.mjs')).href}`,
  }
  writeFileSync(behind(clockFile), String(-3_600_000))
  const more: Partial<Record<Process, Record<string, string>>> = {
    'worker whose clock is an hour behind': { GHARRY_CAMPAIGN_CLOCK: behind(clockFile) },
    'worker that buys and tells': { GHARRY_WORK: 'buying,telling' },
  }
  const children = new Map<Process, ChildProcess>()
  const failures: string[] = []
  return {
    start: (name) => {
      const child = spawn('node', [...programs[name]], {
        env: { ...(isWorker(name) || name === 'server' ? clocked : env), ...(more[name] ?? {}) },
        stdio: ['ignore', name === 'server' ? 'pipe' : 'ignore', 'pipe'],
      })
      child.stdout?.on('data', (chunk) => {
        failures.push(
          ...String(chunk)
            .split('\n')
            .filter((line) => line.includes('request failed')),
        )
        failures.splice(0, failures.length - mostFailures)
      })
      child.stderr?.on('data', (chunk) => {
        if (process.env.GHARRY_CAMPAIGN_LOUD) process.stderr.write(`[${name}] ${String(chunk)}`)
      })
      children.set(name, child)
    },
    kill: async (name) => {
      const child = children.get(name)
      if (!child || child.exitCode !== null || child.signalCode !== null) return
      const gone = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGKILL')
      await gone
    },
    signal: (name, what) => void children.get(name)?.kill(what),
    pids: () => new Map([...children].flatMap(([name, { pid }]) => (pid === undefined ? [] : [[name, pid]]))),
    failures: () => failures,
  }
}

async function programsOf(env: NodeJS.ProcessEnv): Promise<Readonly<Record<Process, readonly string[]>>> {
  const { keeper, server, standIn, worker } = (await import(
    pathToFileURL(join(process.cwd(), 'scripts/processes.mjs')).href
  )) as Programs
  return {
    worker,
    'worker whose clock is an hour behind': worker,
    'worker that buys and tells': worker,
    keeper,
    server: server(env),
    shop: standIn('shop'),
    carriers: standIn('carriers'),
    mail: standIn('mail'),
    lane: standIn('lane'),
    quill: standIn('quill'),
    desk: standIn('desk'),
  }
}

/** The pages that answer once a process is there. */
const pagesOf = (at: At): Readonly<Partial<Record<Process, readonly string[]>>> => ({
  server: [`${at('')}/api/health`],
  shop: [`${at('shop')}/`],
  carriers: carrierIds.map((id) => `${at(id)}/`),
  mail: [`${at('mail')}/`],
  lane: [`${at('lane')}/`],
  quill: [`${at('quill')}/`],
  desk: [`${at('desk')}/`],
})

async function answersAt(pages: readonly string[]): Promise<boolean> {
  const all = pages.map((page) =>
    fetch(page).then(
      ({ ok }) => ok,
      () => false,
    ),
  )
  return (await Promise.all(all)).every(Boolean)
}

/** An owner is signed in: whoever asks for something. */
async function ownersCookie(gharry: Application, now: string): Promise<string> {
  const owner = await addPerson(gharry.db, {
    ...{ name: 'Campaign', email: 'campaign@gharry.example', role: 'owner', location: null, madeAt: now },
  })
  const person = (await personBy(gharry.db, { id: owner! }))!
  return `gharry=${await beginSignIn(gharry, person, true, 'campaign', { address: '', agent: 'campaign' })}`
}

/** Where the channels besides the shop are, as they are connected. */
async function connectedMarkets(at: At, port: string): Promise<Pick<StandIns, 'lane' | 'quill' | 'desk'>> {
  const key = (await (await fetch(`${at('desk')}/admin/key`)).json()) as { fingerprint: string }
  return { lane: at('lane'), quill: at('quill'), desk: { port, hostKey: key.fingerprint } }
}

/** Authorises the one marketplace, and lets the other one send its messages to Gharry. */
async function letIn(gharry: Application, at: At): Promise<void> {
  await authoriseLane(gharry)
  await post(`${at('quill')}/admin/habits`, { to: `${at('')}/api/hooks/quillmart` })
  // Its usual limit is for a shop of a hundred orders a day.
  await post(`${at('quill')}/admin/limit`, { calls: 1000, seconds: 10 })
}

/**
 * Ports that nothing listens on, below those that systems give to calls: while a process is dead, no call takes its port.
 */
async function freePorts(count: number): Promise<number[]> {
  const free: number[] = []
  while (free.length < count) {
    const port = 15_000 + Math.floor(Math.random() * 17_000)
    if (!free.includes(port) && (await isFree(port))) free.push(port)
  }
  return free
}

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })
