import { copyFileSync, existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { type BackupPlace, isBackupName, isPartName, PlaceProblem } from './place'

/** Backups in a folder: of this machine, or one that is mounted here. */
export function folderPlace(folder: string): BackupPlace {
  /** The system's own words name paths; these say what to do. */
  const doing = async <T>(work: () => T): Promise<T> => {
    try {
      return await Promise.resolve(work())
    } catch (error) {
      throw new PlaceProblem(sentenceOf((error as NodeJS.ErrnoException).code))
    }
  }
  return {
    words: folder,
    list: () => doing(() => (existsSync(folder) ? readdirSync(folder).filter(isBackupName).sort() : [])),
    parts: (backup) =>
      doing(() =>
        readdirSync(join(folder, backup))
          .filter(isPartName)
          .sort()
          .map((name) => ({ name, bytes: statSync(join(folder, backup, name)).size })),
      ),
    take: (backup, name, file) =>
      doing(() => {
        mkdirSync(join(folder, backup), { recursive: true, mode: 0o700 })
        const there = join(folder, backup, name)
        try {
          renameSync(file, there)
        } catch (error) {
          if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error
          // Another disk: copied under another name first, so that half a part is none.
          copyFileSync(file, `${there}.half`)
          renameSync(`${there}.half`, there)
          rmSync(file)
        }
      }),
    fetch: (backup, name, file) => doing(() => copyFileSync(join(folder, backup, name), file)),
    remove: (backup) => doing(() => rmSync(join(folder, backup), { recursive: true, force: true })),
  }
}

function sentenceOf(code: string | undefined): string {
  if (code === 'ENOSPC' || code === 'EDQUOT') return 'The disk of the backups is full: make room there.'
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return 'The folder of the backups may not be written: give Gharry the right to it.'
  if (code === 'ENOENT' || code === 'ENOTDIR') return 'A folder or part of the backups is missing: is its disk mounted?'
  return `The folder of the backups cannot be used (${code ?? 'unknown reason'}).`
}
