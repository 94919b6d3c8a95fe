import { moveOutNow, ordersNumbered } from '@/usecases/oldMonths/showOld'
import { OldFileProblem } from '@/usecases/shared/oldOrders'
import { withBooks } from './withBooks'

/** Moves old months into files now; says what was moved, what waits, and what stays. */
export const moveOldMonths = (keep: string | undefined): Promise<number> =>
  withBooks(async (gharry) => {
    const months = keep === undefined ? gharry.settings.monthsInBooks : Number(keep)
    if (!Number.isSafeInteger(months) || months < 1) {
      console.error('Say how many months stay in the books: --keep 13, or GHARRY_MONTHS_IN_BOOKS.')
      return 2
    }
    const moved = await moveOutNow(gharry, months)
    console.log(`${moved.written} files were written, ${moved.takenOut} were taken out of the books.`)
    if (moved.waiting > 0) console.log(`${moved.waiting} files wait until a backup has them.`)
    if (moved.named > 0)
      console.log(
        `${moved.named} orders stay, as they still say whose they were: set in Privacy after how many days that is taken out.`,
      )
    for (const { month, orders, bytes } of moved.months)
      console.log(`${month}: ${orders} orders in files of ${(bytes / 1e6).toFixed(1)} MB`)
    return 0
  })

/** Prints orders of a number with all that is known of them, as JSON; from the books or from old months. */
export const printOrder = (number: string): Promise<number> =>
  withBooks(async (gharry) => {
    try {
      const orders = await ordersNumbered(gharry, number)
      if (orders.length === 0) {
        console.error(`There is no order ${number}.`)
        return 3
      }
      for (const order of orders) console.log(JSON.stringify(order, null, 1))
      return 0
    } catch (error) {
      if (!(error instanceof OldFileProblem)) throw error
      console.error(error.message)
      return 3
    }
  })
