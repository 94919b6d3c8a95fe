import { randomUUID } from 'node:crypto'
import { open, rm, stat } from 'node:fs/promises'
import { Readable } from 'node:stream'
import type { Database } from './database'

/* Files in the books, in parts: for several machines that share nothing else. */

const partBytes = 1_000_000

/** Keeps a file of this machine under a name, over what was there. Nobody sees it before all of its parts are in. */
export async function putFile(db: Database, name: string, path: string, now: Date): Promise<void> {
  const key = randomUUID()
  const madeAt = now.toISOString()
  const { size } = await stat(path)
  const file = await open(path, 'r')
  try {
    for (let part = 0; part * partBytes < size; part++) {
      const content = Buffer.alloc(Math.min(partBytes, size - part * partBytes))
      await file.read(content, 0, content.length, part * partBytes)
      await db('stored_parts').insert({ key, part, content, madeAt })
    }
  } finally {
    await file.close()
  }
  await db.transaction(async (trx) => {
    const before = (await trx('stored_files').where({ name }).first('key')) as { key: string } | undefined
    await trx('stored_files').insert({ name, key, bytes: size, madeAt }).onConflict('name').merge()
    if (before) await trx('stored_parts').where({ key: before.key }).delete()
  })
  await rm(path, { force: true })
}

/** What is kept under a name, read part by part; null when there is nothing. */
export async function readFileParts(db: Database, name: string): Promise<Readable | null> {
  const file = (await db('stored_files').where({ name }).first('key', 'bytes')) as
    { key: string; bytes: number } | undefined
  if (!file) return null
  const parts = async function* (): AsyncGenerator<Buffer> {
    for (let part = 0; part * partBytes < file.bytes; part++) {
      const row = (await db('stored_parts').where({ key: file.key, part }).first('content')) as
        { content: Buffer } | undefined
      if (!row) throw new Error(`The file ${name} was written over while it was read.`)
      yield row.content
    }
  }
  return Readable.from(parts(), { objectMode: false })
}

/** Takes a file away; nothing happens where there is none. */
export async function dropFile(db: Database, name: string): Promise<void> {
  await db.transaction(async (trx) => {
    const row = (await trx('stored_files').where({ name }).first('key')) as { key: string } | undefined
    if (!row) return
    await trx('stored_files').where({ name }).delete()
    await trx('stored_parts').where({ key: row.key }).delete()
  })
}

/** The files of a folder. */
export async function listFiles(db: Database, folder: string): Promise<{ name: string; changedAt: Date }[]> {
  const rows = (await db('stored_files')
    .where('name', '>=', `${folder}/`)
    .where('name', '<', `${folder}0`)
    .select('name', 'madeAt')) as { name: string; madeAt: string }[]
  return rows.map(({ name, madeAt }) => ({ name, changedAt: new Date(madeAt) }))
}

/** Forgets parts of files that were never whole: whoever wrote them died. */
export async function forgetLooseParts(db: Database, before: string): Promise<void> {
  await db('stored_parts').where('made_at', '<', before).whereNotIn('key', db('stored_files').select('key')).delete()
}
