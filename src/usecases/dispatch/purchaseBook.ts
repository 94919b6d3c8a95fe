import type { BoughtLabel } from '@/adapters'
import { type LabelPaper, type LabelRow, releaseWaiting } from '@/data'
import type { Application } from '../shared/application'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'
import { recordPurchases } from './buyLabels'

/** What a carrier gave for a label, to be written down. */
export interface Purchase extends Pick<BoughtLabel, 'parcels' | 'charged'> {
  readonly label: LabelRow
  /** What the carrier drew itself. */
  readonly papers: readonly LabelPaper[]
}

/** Writes purchases down; each comes back once it is in the books, or why it is not. */
export type PurchaseBook = (purchase: Purchase) => Promise<void>

interface Waiting {
  readonly purchase: Purchase
  readonly done: () => void
  readonly failed: (why: unknown) => void
}

/** So many are written in one transaction, and no more: others want to write, too. */
const most = 40
/** What comes within so many milliseconds is written together. */
const gathered = 20

/**
 * Writes down together what carriers gave at about the same time, in one transaction: most of what one costs is the
 * same for all of them. One that cannot be written is no reason for the others: then each is written by itself.
 */
export function purchaseBook(gharry: Application): PurchaseBook {
  const waiting: Waiting[] = []
  let writing = false
  const writeAll = async (): Promise<void> => {
    writing = true
    while (waiting.length > 0) {
      if (waiting.length < most) await new Promise((resolve) => setTimeout(resolve, gathered))
      await writeSome(gharry, waiting.splice(0, most))
    }
    writing = false
  }
  return (purchase) =>
    new Promise((done, failed) => {
      waiting.push({ purchase, done, failed })
      if (!writing) void writeAll()
    })
}

/** Never throws: what goes wrong is told to whom it concerns. */
async function writeSome(gharry: Application, some: readonly Waiting[]): Promise<void> {
  const purchases = some.map(({ purchase }) => purchase)
  const record = (list: readonly Purchase[], inForce: InForce | null): Promise<void> =>
    gharry.db.transaction((trx) => recordPurchases(gharry, trx, list, inForce))
  try {
    const inForce = await rulebookInForce(gharry)
    try {
      await record(purchases, inForce)
      some.forEach(({ done }) => done())
    } catch (error) {
      if (some.length === 1) throw error
      for (const { purchase, done, failed } of some) await record([purchase], inForce).then(done, failed)
    }
    // They answer again: what else waits for them need not wait longer.
    for (const carrier of new Set(purchases.map(({ label }) => label.carrier)))
      await releaseWaiting(gharry.db, 'labels', { carrier }, gharry.now())
  } catch (error) {
    some.forEach(({ failed }) => failed(error))
  }
}
