import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import {
  databaseBytes,
  isPostgres,
  carrierConnections,
  formAndEngine,
  listProcesses,
  oldMonths,
  type ProcessRow,
  queues,
  recentProblems,
  slowestStatements,
  trustClock,
} from '@/data'
import { readBackupState } from '../backups/backupState'
import { illConnections } from '../intake/connections'
import type { Answer, Application } from '../shared/application'
import { diskOf } from '../shared/disk'
import { restoredBooks } from '../shared/restoredBooks'
import { version } from '../shared/version'
import { countWorkers, isSilent } from './beat'

/** What a kind of work is called. */
const names = {
  imports: 'Imports',
  jobs: 'Trials and re-routing',
  labels: 'Labels to buy and void',
  posts: 'Posts to channels',
  notices: 'Notices to customers',
  letters: 'Letters to buyers',
  webhook_messages: 'Webhooks',
  handovers: 'Hand-overs to partners',
  print_jobs: 'Print jobs',
  manifests: 'Manifests',
  collections: 'Collections',
  returns: 'Return labels',
} as const

/** Work that is due for so long is late. */
const lateMs = 5 * 60_000
/** Backups that are older are none. */
const staleBackupMs = 3 * 60_000

/** One thing that somebody has to see to. */
export interface Concern {
  readonly sentence: string
  /** Where it is seen to. */
  readonly where?: string
}

/** How Gharry is, for a machine that asks every few seconds: no names, no counts of anything. */
export async function briefHealth(
  gharry: Application,
): Promise<{ readonly worker: boolean; readonly readOnly: boolean; readonly version: string }> {
  const workers = countWorkers(await listProcesses(gharry.db), gharry.now())
  return { worker: workers > 0, readOnly: gharry.readOnly() !== null, version }
}

/** How Gharry itself is: for people. */
export async function showHealth(gharry: Application) {
  const now = gharry.now()
  const dayAgo = new Date(now.getTime() - 86_400_000).toISOString()
  const all = await listProcesses(gharry.db)
  // One that died is of no interest once another one of its kind has taken its place.
  const processes = all
    .map(({ slow: _slow, ...row }) => ({ ...row, silent: isSilent(row, now) }))
    .filter(
      (one, _, rows) =>
        !one.silent || !rows.some((row) => row.kind === one.kind && !row.silent && row.startedAt > one.seenAt),
    )
  const lines = (await queues(gharry.db, now.toISOString(), dayAgo)).map(({ table, oldest, ...queue }) => ({
    ...queue,
    name: names[table],
    oldest,
    late: oldest !== null && now.getTime() - Date.parse(oldest) > lateMs,
  }))
  const backups = backupsOf(gharry, now)
  const restored = await restoredOf(gharry)
  const ill = await illConnections(gharry)
  const disk = await sizesOf(gharry)
  const readOnly = gharry.readOnly()
  const concerns: Concern[] = [
    ...(readOnly === null ? [] : [{ sentence: readOnly }]),
    ...(countWorkers(all, now) > 0
      ? []
      : [{ sentence: 'No worker runs: nothing is imported, bought or told. Start it.' }]),
    ...(backups.concern === null ? [] : [{ sentence: backups.concern }]),
    ...(restored?.concerns ?? []),
    ...lines
      .filter(({ late }) => late)
      .map(({ name, due }) => ({ sentence: `${name}: ${due} wait longer than they should.` })),
    ...(ill > 0
      ? [
          {
            sentence: ill === 1 ? 'One connection is ill.' : `${ill} connections are ill.`,
            where: '/intake/connections',
          },
        ]
      : []),
  ]
  return {
    ...{ readOnly, concerns, processes, queues: lines, disk, restoredToSettle: restored?.toSettle ?? false },
    clockIsWrong: readOnly?.startsWith('The clock') ?? false,
    problems: (await recentProblems(gharry.db, dayAgo)).map(({ table, ...row }) => ({ ...row, name: names[table] })),
    backups: backups.state,
    backupsOff: backups.off,
    slow: slowOf(all),
    old: await oldMonths(gharry.db),
    versions: { gharry: version, node: process.version, ...(await formAndEngine(gharry.db)) },
  }
}

function backupsOf(gharry: Application, now: Date) {
  const off = !gharry.settings.keepsBackups
  const state = readBackupState(gharry.settings.dataDir)
  const concern = (): string | null => {
    // PostgreSQL's own tools keep its books: whoever runs it knows.
    if (isPostgres(gharry.db)) return null
    if (off) return 'No backups are made: GHARRY_BACKUPS is none.'
    if (!state?.newest) return state?.problem ?? 'There is no backup yet: is the keeper of the backups started?'
    if (state.problem !== null) return state.problem
    const since = now.getTime() - Date.parse(state.at)
    return since > staleBackupMs ? 'The keeper of the backups has said nothing for some minutes: start it.' : null
  }
  return { off, state, concern: concern() }
}

async function restoredOf(gharry: Application) {
  const books = await restoredBooks(gharry)
  if (!books) return null
  const accounts = new Map((await carrierConnections(gharry.db)).map(({ id, name }) => [id, name]))
  const since = `${books.until.slice(0, 16).replace('T', ' ')} UTC`
  const concerns: Concern[] = [
    ...(books.done
      ? []
      : [
          {
            sentence: 'The books were restored. Nothing is bought until the carriers have said what was bought since.',
          },
        ]),
    ...books.open.map(({ trackingNumber, account, reference, why }) => ({
      sentence: `Label ${trackingNumber} of ${accounts.get(account) ?? account}, for order ${reference}, was bought before the books were restored. ${why}`,
    })),
    ...books.without.map((account) => ({
      sentence: `${accounts.get(account) ?? account} cannot list what was bought: look there for labels since ${since}.`,
    })),
  ]
  return { concerns, toSettle: books.done && books.open.length + books.without.length > 0 }
}

async function sizesOf({ db, settings: { dataDir } }: Application) {
  const sizeOf = (name: string): number => statSync(join(dataDir, name), { throwIfNoEntry: false })?.size ?? 0
  const files = join(dataDir, 'files')
  return {
    ...diskOf(dataDir),
    books: (await databaseBytes(db)) ?? sizeOf('gharry.db'),
    log: sizeOf('gharry.db-wal'),
    files: existsSync(files) ? readdirSync(files).reduce((sum, name) => sum + sizeOf(join('files', name)), 0) : 0,
  }
}

/** The slowest statements of all processes. */
function slowOf(processes: readonly ProcessRow[]) {
  const others = processes.flatMap(({ kind, slow }) => (kind === 'worker' ? slow.map((one) => ({ ...one, kind })) : []))
  return [...slowestStatements().map((one) => ({ ...one, kind: 'server' as const })), ...others]
    .sort((a, b) => b.ms - a.ms)
    .slice(0, 10)
}

/** Says that this machine's clock is right now, after it has jumped. */
export async function sayClockIsRight(gharry: Application): Promise<Answer<object>> {
  await trustClock(gharry.db, gharry.machineTime().toISOString())
  await gharry.lookAgain()
  return { ok: true }
}
