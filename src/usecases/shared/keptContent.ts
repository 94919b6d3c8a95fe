import { createHash } from 'node:crypto'
import { writeFile } from 'node:fs/promises'
import { buffer } from 'node:stream/consumers'
import type { KeptContent } from '@/data'
import type { Application } from './application'

/*
 * Papers and pictures are in their rows; where a place for files is named that is not the books, they are there, and the
 * rows name the file.
 */

/** Keeps a content under a name of a folder; what is told apart by words has a hash for a name. */
export async function keepContent(
  { files, working, settings }: Application,
  folder: 'papers' | 'pictures' | 'logos',
  name: string,
  content: Buffer,
): Promise<KeptContent> {
  if (!settings.keepsFilesOutside) return { content, file: null }
  const file = `${folder}/${/^[\w-][\w.-]{0,80}$/.test(name) ? name : createHash('sha256').update(name).digest('hex')}`
  const path = working.path()
  await writeFile(path, content, { mode: 0o600 })
  await files.put(file, path)
  return { content: Buffer.alloc(0), file }
}

/** The content, from wherever it is. */
export async function contentOf(
  { files }: Pick<Application, 'files'>,
  { content, file }: KeptContent,
): Promise<Buffer> {
  if (file === null) return content
  const kept = await files.read(file)
  if (!kept) throw new Error(`The file ${file} is not where files are kept (GHARRY_FILES).`)
  return buffer(kept)
}
