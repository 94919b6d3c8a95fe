import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { backupKey, type BackupPlace, folderPlace, sftpPlace } from '@/adapters'
import { readEnvironment } from '../shared/environment'

/** Where the books are, where backups of them go, and under which key. */
export interface BackupHouse {
  readonly dataDir: string
  readonly books: string
  /** Null where none are made. */
  readonly place: BackupPlace | null
  /** Copies from before an upgrade stay on this machine. */
  readonly local: BackupPlace
  /** The key that seals; made where there is none. */
  readonly key: () => Buffer
  /** Whether there is one. */
  readonly hasKey: () => boolean
  /** So often a whole copy is made. */
  readonly everyHours: number
  /** What was written is in the place so many seconds later. */
  readonly everySeconds: number
}

const environment = z.object({
  GHARRY_DATA: z.string().default('data'),
  /** Books in PostgreSQL are kept by its own tools. */
  GHARRY_DATABASE: z.string().optional(),
  /** A folder, `sftp://user@host:port/folder`, or `none`. Without it, backups are in the data folder itself. */
  GHARRY_BACKUPS: z.string().default(''),
  GHARRY_BACKUPS_PASSWORD: z.string().default(''),
  /** The fingerprint of the SFTP server's host key. */
  GHARRY_BACKUPS_HOST_KEY: z.string().default(''),
  /** Under which backups are sealed: 32 bytes in base64. Without it there is a key file in the data folder. */
  GHARRY_BACKUP_KEY: z.string().optional(),
  GHARRY_BACKUP_HOURS: z.coerce.number().min(0.01).max(720).default(24),
  GHARRY_BACKUP_SECONDS: z.coerce.number().min(0.2).max(60).default(20),
})

/** The house as the environment says; a wrong variable is named. */
export function backupHouse(env: Record<string, string | undefined> = process.env, from?: string): BackupHouse {
  const vars = readEnvironment(environment, env)
  const wanted = from ?? vars.GHARRY_BACKUPS
  return {
    dataDir: vars.GHARRY_DATA,
    books: join(vars.GHARRY_DATA, 'gharry.db'),
    place:
      wanted === 'none' || vars.GHARRY_DATABASE !== undefined
        ? null
        : placeOf(wanted || join(vars.GHARRY_DATA, 'backups'), vars),
    local: folderPlace(join(vars.GHARRY_DATA, 'backups')),
    key: () => backupKey(vars.GHARRY_DATA, vars.GHARRY_BACKUP_KEY),
    hasKey: () => vars.GHARRY_BACKUP_KEY !== undefined || existsSync(join(vars.GHARRY_DATA, 'backup.key')),
    everyHours: vars.GHARRY_BACKUP_HOURS,
    everySeconds: vars.GHARRY_BACKUP_SECONDS,
  }
}

function placeOf(wanted: string, vars: z.output<typeof environment>): BackupPlace {
  if (!wanted.startsWith('sftp://')) return folderPlace(wanted)
  const address = URL.canParse(wanted) ? new URL(wanted) : null
  if (!address?.hostname || !address.username || address.password !== '')
    throw new Error(
      'The environment variable GHARRY_BACKUPS is wrong: write sftp://user@host:port/folder; the password goes into GHARRY_BACKUPS_PASSWORD.',
    )
  if (!/^SHA256:[A-Za-z0-9+/]{43}$/.test(vars.GHARRY_BACKUPS_HOST_KEY))
    throw new Error(
      'The environment variable GHARRY_BACKUPS_HOST_KEY is wrong: it must be the fingerprint of the server’s host key, SHA256: and 43 signs.',
    )
  return sftpPlace(
    {
      host: address.hostname,
      port: Number(address.port) || 22,
      user: decodeURIComponent(address.username),
      password: vars.GHARRY_BACKUPS_PASSWORD,
      hostKey: vars.GHARRY_BACKUPS_HOST_KEY,
      folder: decodeURIComponent(address.pathname),
    },
    // The place of the backups is the operator's own choice: it may be a machine of the house.
    { timeoutMs: 20_000, privateAddresses: true, pauseMs: 1000 },
  )
}
