import { oldMonths, orderIdsByNumber } from '@/data'
import { type OrderView, showOrder } from '../desk/showOrder'
import type { Application } from '../shared/application'
import { type MovedOut, moveOut } from './moveOut'

/** Moves what is older than so many months now, all of it; and how much is in files by month. */
export async function moveOutNow(
  gharry: Application,
  months: number,
): Promise<MovedOut & { readonly months: Awaited<ReturnType<typeof oldMonths>> }> {
  let [written, takenOut] = [0, 0]
  for (;;) {
    const moved = await moveOut(gharry, months, () => Promise.resolve(true))
    written += moved.written
    takenOut += moved.takenOut
    if (moved.written + moved.takenOut === 0) return { ...moved, written, takenOut, months: await oldMonths(gharry.db) }
  }
}

/** Orders of a number, from the books or from the files of old months. */
export async function ordersNumbered(gharry: Application, number: string): Promise<OrderView[]> {
  const found: OrderView[] = []
  for (const id of await orderIdsByNumber(gharry.db, number)) {
    const view = await showOrder(gharry, id)
    if (view) found.push(view)
  }
  return found
}
