import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { writeWhole } from '../shared/disk'

/** How the backups are, for people to see: beside the books, as writing it there would be one more thing to back up. */
const backupState = z.object({
  /** When this was written last. */
  at: z.iso.datetime(),
  place: z.string(),
  /** What the backup key is called. */
  key: z.string(),
  /** The newest whole backup. */
  newest: z.object({ name: z.string(), made: z.string(), bytes: z.number(), seconds: z.number() }).nullable(),
  /** All that was written until then is in the place. */
  until: z.string().nullable(),
  /** Parts that the place does not have yet. */
  waiting: z.number(),
  problem: z.string().nullable(),
})
export type BackupState = z.output<typeof backupState>

const fileOf = (dataDir: string): string => join(dataDir, 'backup-state.json')

/** Null where no backups are made, or none were yet. */
export function readBackupState(dataDir: string): BackupState | null {
  try {
    return backupState.parse(JSON.parse(readFileSync(fileOf(dataDir), 'utf8')))
  } catch {
    return null
  }
}

export function writeBackupState(dataDir: string, state: BackupState): void {
  writeWhole(fileOf(dataDir), JSON.stringify(state, null, 1))
}
