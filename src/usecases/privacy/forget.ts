import { appendFileSync, existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { withoutBuyer } from '@/core/order'
import {
  addForgetting,
  type ForgettingRow,
  forgetOrders,
  paperFilesOf,
  remoteIdsOf,
  stillKnown,
  type TakenOut,
  writeLog,
} from '@/data'
import type { Application } from '../shared/application'

/** So many orders are taken out in one transaction. */
export const atOnce = 100

/**
 * Takes what says whose these orders were out of the books, with a receipt. What was asked for is remembered outside of
 * the books too, by what the channel calls the order: books that are restored forget it again.
 */
export async function forgetThese(
  gharry: Application,
  ids: readonly number[],
  { author, why, proof = null }: Pick<ForgettingRow, 'author' | 'why'> & { readonly proof?: string | null },
): Promise<{ readonly receipt: number; readonly takenOut: TakenOut }> {
  const { db } = gharry
  const at = gharry.now().toISOString()
  const known = await remoteIdsOf(db, ids)
  // First: should the machine stop in between, it is done again.
  if (why === 'asked') remember(gharry, known, at)
  for (const file of await paperFilesOf(db, ids)) await gharry.files.drop(file)
  return db.transaction(async (trx) => {
    const takenOut = await forgetOrders(trx, ids, withoutBuyer, at)
    await writeLog(
      trx,
      ids.map((order) => ({
        order,
        at,
        author,
        sentence: 'What said whose order this was is taken out of the books.',
      })),
    )
    const receipt = await addForgetting(trx, { at, author, why, orders: ids.length, takenOut, proof })
    return { receipt, takenOut }
  })
}

interface Remembered {
  readonly at: string
  readonly channelId: string
  readonly remoteId: string
}
/** The file of what was forgotten because somebody asked: no names in it. */
export const forgottenFile = 'forgotten.jsonl'

function remember(
  gharry: Application,
  orders: readonly { readonly channelId: string; readonly remoteId: string }[],
  at: string,
): void {
  const lines = orders.map(
    ({ channelId, remoteId }) => `${JSON.stringify({ at, channelId, remoteId } satisfies Remembered)}\n`,
  )
  appendFileSync(join(gharry.settings.dataDir, forgottenFile), lines.join(''), { mode: 0o600, flush: true })
}

/** After a restore: forgets again what was asked for after the backup was made. Gives how many orders. */
export async function forgetAgain(gharry: Application): Promise<number> {
  const file = join(gharry.settings.dataDir, forgottenFile)
  if (!existsSync(file)) return 0
  const lines = readFileSync(file, 'utf8').split('\n').filter(Boolean)
  const ids = await stillKnown(
    gharry.db,
    lines.map((line) => JSON.parse(line) as Remembered),
  )
  for (let i = 0; i < ids.length; i += atOnce)
    await forgetThese(gharry, ids.slice(i, i + atOnce), { author: 'Gharry', why: 'asked' })
  return ids.length
}
