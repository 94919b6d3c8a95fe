import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import type { Application } from './application'
import { writeWhole } from './disk'

/**
 * The file of the data folder that a restore leaves: what is to be compared with the carriers before anything is
 * bought.
 */
export const restoredMark = 'restored.json'
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

const fileIn = (dataDir: string): string => join(dataDir, restoredMark)

/** Null where the books were not restored. */
export function restoredBooks(dataDir: string): RestoredBooks | null {
  const file = fileIn(dataDir)
  return existsSync(file) ? restored.parse(JSON.parse(readFileSync(file, 'utf8'))) : null
}

/** Whether nothing may be bought yet, as the carriers' lists are not compared. */
export const waitsForCarriers = (gharry: Application): boolean => {
  const books = restoredBooks(gharry.settings.dataDir)
  return books !== null && !books.done
}

/** Order numbers for which a label was found that no order has taken over: they are not bought anew. */
export const ordersWithFoundLabels = (gharry: Application): ReadonlySet<string> =>
  new Set(restoredBooks(gharry.settings.dataDir)?.open.map(({ reference }) => reference) ?? [])

/** Keeps how far it is. */
export function keepRestored(gharry: Application, books: RestoredBooks): void {
  writeWhole(fileIn(gharry.settings.dataDir), JSON.stringify(books, null, 1))
}
