import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { type Database, keepRestore, lastRestore } from '@/data'

/**
 * The file of the data folder that a restore leaves: what is to be compared with the carriers before anything is
 * bought. Whoever opens the books first takes it into them.
 */
export const restoredMark = 'restored.json'
/** The file of the data folder that names the newest label that a worker has seen. */
export const seenFile = 'seen-label.json'
/** Names what a restore that was cut off still has to do; nobody opens the books while it is there. */
export const restoreMark = 'restore-under-way.json'

const foundLabel = z.object({
  ...{ account: z.string(), carrier: z.string(), key: z.string(), reference: z.string(), service: z.string() },
  ...{ trackingNumber: z.string(), charged: z.object({ minor: z.number(), currency: z.string() }) },
  /** Why it is in no order's books yet. */
  why: z.string(),
})
const restored = z.object({
  backup: z.string(),
  /** The books are as they were then. */
  until: z.iso.datetime(),
  restoredAt: z.iso.datetime(),
  /** Accounts whose lists were compared. */
  compared: z.array(z.string()).default([]),
  /** Accounts whose interface has no list: a person has to look there. */
  without: z.array(z.string()).default([]),
  /** Labels of orders that the books do not have, or not so. */
  open: z.array(foundLabel).default([]),
  taken: z.number().default(0),
  /** Top-ups that the books did not have, and have now. */
  toppedUp: z.number().default(0),
  /** What buyers had asked to be forgotten is forgotten again. */
  forgotten: z.boolean().default(false),
  /** All was compared; what is still open is for a person. */
  done: z.boolean().default(false),
})
/** How far the comparison after a restore is. */
export type RestoredBooks = z.output<typeof restored>

interface Books {
  readonly db: Database
}

/** A comparison that has not begun. */
export const newRestored = (of: z.input<typeof restored>): RestoredBooks => restored.parse(of)

/** Null where the books were never put back to an earlier moment. */
export async function restoredBooks({ db }: Books): Promise<RestoredBooks | null> {
  const state = await lastRestore(db)
  return state === undefined ? null : restored.parse(JSON.parse(state))
}

/** Keeps how far it is. */
export const keepRestored = ({ db }: Books, books: RestoredBooks): Promise<void> =>
  keepRestore(db, books.restoredAt, JSON.stringify(books))

/** Takes the mark that a restore left into the books, before anybody works with them. */
export async function takeRestoredMark(db: Database, dataDir: string): Promise<void> {
  const file = join(dataDir, restoredMark)
  if (!existsSync(file)) return
  await keepRestored({ db }, newRestored(JSON.parse(readFileSync(file, 'utf8')) as z.input<typeof restored>))
  rmSync(file, { force: true })
  // The labels seen before are those of other books.
  rmSync(join(dataDir, seenFile), { force: true })
}
