import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { hasLabel, newestLabel } from '@/data'
import { askCarriersSince } from '../backups/afterRestore'
import type { Application } from '../shared/application'
import { writeWhole } from '../shared/disk'
import { restoredBooks, seenFile } from '../shared/restoredBooks'

/*
 * Books in PostgreSQL are put back by its own tools, and a file may be copied back by hand: nobody need tell Gharry. A
 * worker remembers the newest label that it has seen. Once the books do not have it any more, they are those of an
 * earlier moment, and the carriers are asked what was bought since, before anything else is bought.
 */

const seenShape = z.object({ id: z.number(), madeAt: z.string() })
type Seen = z.output<typeof seenShape>
/** Without any label in the books, what was bought so long before the one that is missing is asked for. */
const longestMs = 30 * 86_400_000

/** The newest label that a process has seen, by its books. */
const memories = new WeakMap<object, { seen: Seen | null }>()

/** Whether nothing may be bought yet, as the books were put back and the carriers' lists are not compared. */
export async function waitsForCarriers(gharry: Application): Promise<boolean> {
  const books = await restoredBooks(gharry)
  const waits = books !== null && !books.done
  return (await wentBack(gharry, waits)) || waits
}

async function wentBack(gharry: Application, known: boolean): Promise<boolean> {
  const { db, settings } = gharry
  const memory = memories.get(db) ?? { seen: seenBefore(settings.dataDir) }
  memories.set(db, memory)
  const newest = await newestLabel(db)
  const { seen } = memory
  if (seen && !isSame(newest, seen) && !(await hasLabel(db, seen))) {
    memory.seen = null
    if (known) return true
    const until = newest?.madeAt ?? new Date(Date.parse(seen.madeAt) - longestMs).toISOString()
    gharry.log.error({ until, missing: seen.id }, 'the books are those of an earlier moment')
    await askCarriersSince(gharry, until)
    return true
  }
  if (newest && !isSame(newest, seen)) {
    writeWhole(join(settings.dataDir, seenFile), JSON.stringify(newest))
    memory.seen = newest
  }
  return false
}

const isSame = (one: Seen | null | undefined, other: Seen | null): boolean =>
  one?.id === other?.id && one?.madeAt === other?.madeAt

function seenBefore(dataDir: string): Seen | null {
  const file = join(dataDir, seenFile)
  return existsSync(file) ? (seenShape.safeParse(JSON.parse(readFileSync(file, 'utf8'))).data ?? null) : null
}
