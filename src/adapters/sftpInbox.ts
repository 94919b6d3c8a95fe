import type { FileInfo } from 'ssh2-sftp-client'
import { z } from 'zod'
import type { SftpFolder } from './sftp'

/** A room that others put files into, and where its files go once they were read. */
export interface Inbox {
  readonly room: string
  readonly wanted: RegExp
  /** For files that made sense, and for those that did not. */
  readonly done: string
  readonly refused: string
}

export interface NextFile {
  readonly file: FileInfo
  /** Null when it is too large. */
  readonly content: Buffer | null
  readonly more: boolean
}

/** Which files were read, as they were then; they are put away once what they say is in the books. */
const cursorShape = z.object({
  read: z.array(
    z.object({ name: z.string(), good: z.boolean(), size: z.number().optional(), changedAt: z.number().optional() }),
  ),
})

/** The cursor when this file was read. */
export const afterFile = ({ name, size, modifyTime: changedAt }: FileInfo, good: boolean): string =>
  JSON.stringify({ read: [{ name, good, size, changedAt }] })

/** The cursor when nothing is there to be read. */
export const afterAll = JSON.stringify({ read: [] })

/**
 * The oldest file that was not read yet, or null. Those that the cursor names are put away; one that was written anew
 * since (a sender may use one name for ever) is another file, and is read.
 */
export async function nextFile(folder: SftpFolder, inbox: Inbox, cursor: string): Promise<NextFile | null> {
  const { read } = cursorShape.safeParse(JSON.parse(cursor || afterAll)).data ?? { read: [] }
  const left: FileInfo[] = []
  for (const file of await folder.files(inbox.room, inbox.wanted)) {
    const before = read.find(
      ({ name, size = file.size, changedAt = file.modifyTime }) =>
        name === file.name && size === file.size && changedAt === file.modifyTime,
    )
    if (before) await folder.move(inbox.room, file.name, before.good ? inbox.done : inbox.refused)
    else left.push(file)
  }
  const [file] = left
  return file ? { file, content: await folder.content(inbox.room, file), more: left.length > 1 } : null
}
