import { renameSync, statfsSync, writeFileSync } from 'node:fs'

/** Free bytes, and all, of the disk that a folder is on. */
export function diskOf(folder: string): { readonly free: number; readonly whole: number } {
  const { bavail, blocks, bsize } = statfsSync(folder)
  return { free: bavail * bsize, whole: blocks * bsize }
}

/** Writes a file for its owner alone: it is there whole, as it was or as it is now, whatever dies in between. */
export function writeWhole(file: string, content: string | Buffer): void {
  writeFileSync(`${file}.half`, content, { mode: 0o600, flush: true })
  renameSync(`${file}.half`, file)
}
