import { createWriteStream, lstatSync, realpathSync, statSync } from 'node:fs'
import { rename, rm } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'

/** Where a command writes to. `write` is false when nobody reads any more. */
export interface Output {
  readonly write: (text: string) => Promise<boolean>
  readonly done: () => Promise<void>
  readonly drop: () => Promise<void>
}

/** Whether two paths name one file, also through links. One that is not there yet is nobody else. */
export function sameFile(one: string, other: string): boolean {
  const place = (path: string): string | null => {
    try {
      return realpathSync(path)
    } catch {
      try {
        return join(realpathSync(dirname(path)), basename(path))
      } catch {
        return null
      }
    }
  }
  const [a, b] = [place(one), place(other)]
  if (a !== null && a === b) return true
  try {
    const [first, second] = [statSync(one), statSync(other)]
    return first.ino === second.ino && first.dev === second.dev
  } catch {
    return false
  }
}

/**
 * Standard output, or a file. A plain file is written beside its place and put there when it is whole, so that a call
 * that fails leaves what was there.
 */
export async function outputTo(path: string | undefined): Promise<Output> {
  if (path === undefined) return streamed(process.stdout)
  const there = kindOf(path)
  if (there === 'folder') throw Object.assign(new Error('It is a folder.'), { code: 'EISDIR', path })
  // A device or a pipe has no place beside it.
  const partial = there === 'other' ? path : join(dirname(path), `.${basename(path)}.${process.pid}.part`)
  const stream = createWriteStream(partial)
  const opened = new Promise<void>((resolve, reject) => stream.once('open', () => resolve()).once('error', reject))
  await opened
  const failed = new Promise<never>(
    (_, reject) => void stream.once('error', (error) => reject(Object.assign(error, { path }))),
  )
  failed.catch(() => undefined)
  return {
    write: async (text) => {
      if (!stream.write(text))
        await Promise.race([failed, new Promise<void>((resolve) => void stream.once('drain', () => resolve()))])
      return true
    },
    done: async () => {
      await Promise.race([failed, new Promise<void>((resolve) => void stream.end(() => resolve()))])
      if (partial !== path) await rename(partial, path)
    },
    drop: async () => {
      stream.destroy()
      if (partial !== path) await rm(partial, { force: true })
    },
  }
}

function kindOf(path: string): 'folder' | 'other' | 'file' {
  try {
    const found = lstatSync(path).isSymbolicLink() ? statSync(path) : lstatSync(path)
    if (found.isDirectory()) return 'folder'
    return found.isFile() ? 'file' : 'other'
  } catch {
    return 'file'
  }
}

function streamed(stream: NodeJS.WriteStream): Output {
  return {
    write: async (text) => {
      if (!stream.writable) return false
      if (!stream.write(text)) await new Promise<void>((resolve) => void stream.once('drain', () => resolve()))
      return stream.writable
    },
    done: () => Promise.resolve(),
    drop: () => Promise.resolve(),
  }
}
