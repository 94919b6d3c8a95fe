import { createReadStream, existsSync } from 'node:fs'
import { copyFile, mkdir, readdir, rename, rm, stat } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { type FileStore, safeName } from './fileStore'

/** Files in a folder of this machine, or of a disk that all machines share. */
export function folderStore(folder: string): FileStore {
  const pathOf = (name: string): string => join(folder, safeName(name))
  return {
    put: async (name, path) => {
      const place = pathOf(name)
      await mkdir(dirname(place), { recursive: true, mode: 0o700 })
      try {
        await rename(path, place)
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error
        // The folder is on another disk: nobody sees it before it is whole.
        await copyFile(path, `${place}.part`)
        await rename(`${place}.part`, place)
        await rm(path)
      }
    },
    read: (name) => Promise.resolve(existsSync(pathOf(name)) ? createReadStream(pathOf(name)) : null),
    local: async (name, work) => (existsSync(pathOf(name)) ? work(pathOf(name)) : null),
    drop: (name) => rm(pathOf(name), { force: true }),
    list: async (within) => {
      const names = await readdir(join(folder, within), { withFileTypes: true }).catch(() => [])
      const found = names
        .filter((entry) => entry.isFile() && !entry.name.endsWith('.part'))
        .map(async ({ name }) => ({
          name: `${within}/${name}`,
          changedAt: (await stat(join(folder, within, name))).mtime,
        }))
      // One that another process has just taken away is not there.
      return (await Promise.allSettled(found)).flatMap((each) => (each.status === 'fulfilled' ? [each.value] : []))
    },
  }
}
