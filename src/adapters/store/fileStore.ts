import { createWriteStream } from 'node:fs'
import { rm } from 'node:fs/promises'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'

/** A file that is kept. */
export interface StoredFile {
  readonly name: string
  readonly changedAt: Date
}

/**
 * Where files are kept that all servers and workers must reach: uploads, print files, papers. A name has a folder and a
 * name in it, `prints/…`; a file is kept whole, or not at all.
 */
export interface FileStore {
  /** Keeps a file of this machine under a name, over what was there; the file itself is gone then. */
  readonly put: (name: string, path: string) => Promise<void>
  /** What is kept under a name; null when there is nothing. */
  readonly read: (name: string) => Promise<Readable | null>
  /** Does something with a file where it can be opened on this machine; null when there is nothing under the name. */
  readonly local: <T>(name: string, work: (path: string) => Promise<T>) => Promise<T | null>
  readonly drop: (name: string) => Promise<void>
  /** What is in a folder. */
  readonly list: (folder: string) => Promise<readonly StoredFile[]>
}

/** Refuses a name that would lead elsewhere. */
export function safeName(name: string): string {
  if (!/^[\w-]+\/[\w-][\w.-]*$/.test(name)) throw new Error(`"${name}" is no name of a file that is kept.`)
  return name
}

/** How a store whose files are elsewhere opens one on this machine: by a copy at a temporary path, for as long as it takes. */
export const byCopy =
  (read: FileStore['read'], temporary: () => string): FileStore['local'] =>
  async (name, work) => {
    const content = await read(name)
    if (!content) return null
    const path = temporary()
    try {
      await pipeline(content, createWriteStream(path, { mode: 0o600 }))
      return await work(path)
    } finally {
      await rm(path, { force: true })
    }
  }
