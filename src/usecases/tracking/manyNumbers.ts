import { ordersNumbered, type Database } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { readOwnNumbers, recordOwnNumbersIn } from './ownNumbers'

/** A line of a list: under which number an order left, and with whom, where that is said. */
export interface NumberLine {
  readonly order: string
  readonly number: string
  readonly carrier: string
}

export interface NumbersTaken {
  /** Orders that have, or would have, their numbers. */
  readonly orders: number
  readonly numbers: number
  /** Lines that cannot be taken, the first of them, with why. */
  readonly bad: readonly { readonly line: number; readonly order: string; readonly sentence: string }[]
  readonly badLines: number
}

const mostLines = 50_000
const mostSaid = 200
const atOnce = 100

/**
 * Takes a list of numbers, or only looks at it. Lines of the same order are its parcels. What is wrong in one line is
 * no harm to the others.
 */
export async function takeNumbers(
  gharry: Application,
  lines: readonly NumberLine[],
  take: boolean,
): Promise<Answer<NumbersTaken>> {
  if (lines.length > mostLines)
    return refuse('too-large', `A list has at most ${mostLines.toLocaleString('en')} lines: split it.`)
  const byOrder = new Map<string, { readonly lines: number[]; readonly numbers: string[]; carrier: string }>()
  lines.forEach(({ order, number, carrier }, i) => {
    const known = byOrder.get(order) ?? { lines: [], numbers: [], carrier }
    known.lines.push(i + 1)
    known.numbers.push(number)
    if (known.carrier === '') known.carrier = carrier
    byOrder.set(order, known)
  })
  const bad: { line: number; order: string; sentence: string }[] = []
  let [orders, numbers] = [0, 0]
  const all = [...byOrder]
  for (let from = 0; from < all.length; from += atOnce) {
    await gharry.db.transaction(async (trx) => {
      for (const [order, given] of all.slice(from, from + atOnce)) {
        const sentence = await one({ ...gharry, db: trx }, trx, order, given, take)
        if (sentence !== null) for (const line of given.lines) bad.push({ line, order, sentence })
        else {
          orders++
          numbers += given.numbers.length
        }
      }
    })
    // Others want the processor too while a long list is taken.
    await new Promise((resolve) => setImmediate(resolve))
  }
  bad.sort((a, b) => a.line - b.line)
  return { ok: true, orders, numbers, bad: bad.slice(0, mostSaid), badLines: bad.length }
}

/** Why the numbers of one order cannot be taken; null when they are, or could be. */
async function one(
  gharry: Application,
  trx: Database,
  number: string,
  given: { readonly numbers: readonly string[]; readonly carrier: string },
  take: boolean,
): Promise<string | null> {
  const found = await ordersNumbered(trx, number)
  if (found.length === 0) return `There is no order ${number.slice(0, 60)}.`
  if (found.length > 1) return `${found.length} orders have the number ${number}: enter it on the order itself.`
  const [row] = found
  const own = { carrier: given.carrier, numbers: given.numbers }
  if (take) {
    const recorded = await recordOwnNumbersIn(gharry, trx, row!.id, own, gharry.settings.author)
    return recorded.ok ? null : recorded.sentence
  }
  const read = readOwnNumbers(own, (await currentWorld(trx)).world)
  if (!read.ok) return read.sentence
  if (row!.labelled) return 'This order has a label already: void it first, or leave it as it is.'
  return ['cancelled', 'combined'].includes(row!.state) ? `The order is ${row!.state}.` : null
}
