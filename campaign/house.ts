import { execSync, spawn, type ChildProcess } from 'node:child_process'
import { createServer } from 'node:net'
import { mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { addEdition, addPerson, addWorld, personBy, replaceDraft, type Database } from '@/data'
import { beginSignIn } from '@/usecases/people/signedIn'
import { openApplication } from '@/usecases/shared/application'
import { demoCarriers } from '../demo/carriers'
import { connectDemo } from '../demo/connect'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

/** Backups are of the file; of those who share a database three work, each in a way of its own. */
const onFile = ['worker', 'server', 'keeper', 'shop', 'carriers', 'mail'] as const
const onPostgres = [
  'worker',
  'worker whose clock is an hour behind',
  'worker that buys and tells',
  ...onFile.slice(1),
] as const
export type Process = (typeof onFile)[number] | (typeof onPostgres)[number]
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
  readonly close: (keep: boolean) => Promise<string>
}

/** How quick the house is: a campaign hurries, so that much happens between two kills. */
export interface Pace {
  readonly pauseMs: number
  readonly leaseSeconds: number
  readonly callMs: number
}
const hurried: Pace = { pauseMs: 300, leaseSeconds: 2, callMs: 1500 }

export async function openHouse({ pauseMs, leaseSeconds, callMs }: Pace = hurried): Promise<House> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-campaign-'))
  const names = [
    'GHARRY',
    'GHARRY_SHOP',
    'GHARRY_MAIL',
    'GHARRY_SMTP',
    'GHARRY_DIRECTORY',
    ...carrierIds.map((id) => `GHARRY_${id.toUpperCase()}`),
  ]
  const ports = Object.fromEntries((await freePorts(names.length)).map((port, i) => [`${names[i]}_PORT`, String(port)]))
  const at = (name: string): string =>
    `http://127.0.0.1:${ports[`GHARRY${name === '' ? '' : `_${name.toUpperCase()}`}_PORT`]}`
  const clockFile = join(folder, '..', `${basename(folder)}-clock`)
  const backups = mkdtempSync(join(tmpdir(), 'gharry-campaign-backups-'))
  const { bavail, bsize } = statfsSync(folder)
  const leastFree = Math.max(0, bavail * bsize - roomBytes)
  const books = process.env.GHARRY_CAMPAIGN_POSTGRES
  const processes = (books ? onPostgres : onFile).filter((name) => !books || name !== 'keeper')
  const restart = process.env.GHARRY_CAMPAIGN_RESTART
  const env = {
    ...process.env,
    ...ports,
    ...(books ? { GHARRY_DATABASE: books } : {}),
    NODE_ENV: 'production' as const,
    NEXT_TELEMETRY_DISABLED: '1',
    GHARRY_DATA: folder,
    GHARRY_URL: at(''),
    GHARRY_SHOP_URL: at('shop'),
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
  // The world outside has a clock of its own.
  const clocked = {
    ...env,
    GHARRY_CAMPAIGN_CLOCK: clockFile,
    NODE_OPTIONS: `--import ${pathToFileURL(join(process.cwd(), 'campaign/clock.mjs')).href}`,
  }
  const standIns = ['scripts/run.mjs', 'standins/start.ts'] as const
  const worker = ['scripts/run.mjs', 'cli/worker.ts']
  const programs: Readonly<Record<Process, readonly string[]>> = {
    worker,
    'worker whose clock is an hour behind': worker,
    'worker that buys and tells': worker,
    keeper: ['scripts/run.mjs', 'cli/keeper.ts'],
    server: ['node_modules/next/dist/bin/next', 'start', '-p', ports.GHARRY_PORT!, '-H', '127.0.0.1'],
    shop: [...standIns, 'shop'],
    carriers: [...standIns, 'carriers'],
    mail: [...standIns, 'mail'],
  }
  const behindFile = `${clockFile}-behind`
  writeFileSync(behindFile, String(-3_600_000))
  const more: Partial<Record<Process, Record<string, string>>> = {
    'worker whose clock is an hour behind': { GHARRY_CAMPAIGN_CLOCK: behindFile },
    'worker that buys and tells': { GHARRY_WORK: 'buying,telling' },
  }
  const children = new Map<Process, ChildProcess>()
  const start = (name: Process): void => {
    const child = spawn('node', [...programs[name]], {
      env: { ...(isWorker(name) || name === 'server' ? clocked : env), ...(more[name] ?? {}) },
      stdio: ['ignore', 'ignore', 'pipe'],
    })
    child.stderr.on('data', (chunk) => {
      if (process.env.GHARRY_CAMPAIGN_LOUD) process.stderr.write(`[${name}] ${String(chunk)}`)
    })
    children.set(name, child)
  }
  const kill = async (name: Process): Promise<void> => {
    const child = children.get(name)
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const gone = new Promise((resolve) => child.once('exit', resolve))
    child.kill('SIGKILL')
    await gone
  }
  const signal = (name: Process, what: NodeJS.Signals): void => void children.get(name)?.kill(what)
  const pages: Readonly<Partial<Record<Process, readonly string[]>>> = {
    server: [`${at('')}/api/health`],
    shop: [`${at('shop')}/`],
    carriers: carrierIds.map((id) => `${at(id)}/`),
    mail: [`${at('mail')}/`],
  }
  const answers = async (name: Process): Promise<boolean> =>
    (
      await Promise.all(
        (pages[name] ?? []).map((page) =>
          fetch(page).then(
            ({ ok }) => ok,
            () => false,
          ),
        ),
      )
    ).every(Boolean)

  const gharry = await openApplication({ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_DATABASE: books })
  const { db } = gharry
  const now = new Date().toISOString()
  await addWorld(db, demoWorld, now)
  await addEdition(db, demoRulebook, '', 'Campaign', now)
  await replaceDraft(db, demoRulebook, 0, now)
  await connectDemo(gharry, {
    shop: { address: at('shop'), key: 'demo-key', secret: 'demo-secret' },
    carriers: new Map(carrierIds.map((id) => [id, at(id)])),
    token: 'demo-carrier-token',
  })
  const owner = await addPerson(db, {
    ...{ name: 'Campaign', email: 'campaign@gharry.example', role: 'owner', location: null, madeAt: now },
  })
  const person = (await personBy(db, { id: owner! }))!
  const secret = await beginSignIn(gharry, person, true, 'campaign', { address: '', agent: 'campaign' })
  for (const name of processes) start(name)
  return {
    processes,
    restartDatabase: books && restart ? () => void execSync(restart, { stdio: 'ignore' }) : null,
    db,
    url: at(''),
    cookie: `gharry=${secret}`,
    outside: at,
    kill,
    signal,
    folder,
    backups,
    clockFile,
    fillBytes: roomBytes + 1e9,
    start,
    pids: () => new Map([...children].flatMap(([name, { pid }]) => (pid === undefined ? [] : [[name, pid]]))),
    answers,
    close: async (keep) => {
      await gharry.close()
      await Promise.all(processes.map(kill))
      for (const file of [clockFile, behindFile]) rmSync(file, { force: true })
      if (!keep) for (const place of [folder, backups]) rmSync(place, { recursive: true, force: true })
      return folder
    },
  }
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
