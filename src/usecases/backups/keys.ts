import { existsSync, readFileSync } from 'node:fs'
import { backupKeyName, keyIn } from '@/adapters'
import type { BackupHouse } from './house'
import { BackupProblem } from './oneBackup'

/**
 * The keys to open backups with: that of a file, and that of the house, where there is one. A lost key is not made
 * anew.
 */
export function keysToOpen(house: BackupHouse, file?: string): Buffer[] {
  const keys: Buffer[] = []
  if (file !== undefined) {
    if (!existsSync(file)) throw new BackupProblem(`There is no file "${file}".`)
    keys.push(keyIn(readFileSync(file, 'utf8'), `The key in ${file}`))
  }
  if (house.hasKey()) keys.push(house.key())
  if (keys.length === 0)
    throw new BackupProblem(
      'The backup key is not in this data folder: give it with --key FILE, or as GHARRY_BACKUP_KEY.',
    )
  return keys
}

/** The key that seals, for its owner to keep elsewhere; and what it is called. */
export function keyToKeep(house: BackupHouse): { readonly key: string; readonly name: string } {
  const key = house.key()
  return { key: key.toString('base64'), name: backupKeyName(key) }
}
