import { randomUUID } from 'node:crypto'
import type { Order } from '@/core/order'
import { type Coming, piecesOf, returnedValue, type ReturnReason, returnReasons } from '@/core/returns'
import type { Source } from '@/core/rulebook/language'
import {
  addReturn,
  addReturnFile,
  labelById,
  type LabelRow,
  ordersById,
  parcelsOfLabels,
  pinsOf,
  returnById,
  returnsOf,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { labelByLink } from '../../shared/links'
import { decide } from '../../shared/routeOrders'
import { type InForce, rulebookInForce } from '../../shared/rulebookInForce'
import { acceptReturn, refuseReturn, type ReturnAnswer } from './answerReturn'
import { oneLine } from '../customerWords'
import { returnable } from './pieces'

/** What somebody wants to send back. */
export interface AskedReturn {
  readonly pieces: readonly Coming[]
  readonly reason: string
  readonly words: string
  /** A photograph, drawn anew; null without one. */
  readonly photo: Buffer | null
}

const mostOpen = 20
const longest = 1000

/** A customer asks on the page of a parcel to send something back. Refusals are keys of the page's texts. */
export async function askReturn(gharry: Application, token: string, asked: AskedReturn): Promise<Answer<object>> {
  const label = await labelByLink(gharry.db, token)
  if (!label) return refuse('not-found', 'not-found')
  return openReturn(gharry, label, asked, 'customer')
}

/** The same, for somebody on the telephone. */
export async function askReturnFor(
  gharry: Application,
  { label: id, ...asked }: Omit<AskedReturn, 'photo'> & { readonly label: number },
): Promise<Answer<object>> {
  const label = await labelById(gharry.db, id)
  if (!label) return refuse('not-found', 'There is no such label.')
  const answer = await openReturn(gharry, label, { ...asked, photo: null }, gharry.settings.author)
  return answer.ok ? answer : refuse(answer.code, inFull[answer.sentence] ?? answer.sentence)
}

const inFull: Readonly<Record<string, string>> = {
  'not-found': 'There is nothing to send back of it.',
  'which-pieces': 'Say what is to come back: nothing is chosen.',
  'too-many-pieces': 'That is more than has arrived, and is not on its way back.',
  'choose-reason': 'Choose why it comes back.',
  'too-long': 'Write at most 1,000 characters.',
  'too-many': 'There are too many returns of this order: look at those first.',
}

async function openReturn(
  gharry: Application,
  label: LabelRow,
  { pieces, reason, words, photo }: AskedReturn,
  by: string,
): Promise<Answer<object>> {
  const { db } = gharry
  const [stored] = await ordersById(db, [label.orderId])
  const inForce = await rulebookInForce(gharry)
  if (!stored || !inForce || label.state !== 'bought') return refuse('not-found', 'not-found')
  if (!(returnReasons as readonly string[]).includes(reason)) return refuse('bad-value', 'choose-reason')
  const text = oneLine(words)
  if (text.length > longest) return refuse('bad-value', 'too-long')
  const wanted = pieces.filter(({ quantity }) => quantity > 0)
  if (wanted.length === 0) return refuse('incomplete', 'which-pieces')
  const answered = await answerByRules(gharry, inForce, label, stored.order, wanted, reason as ReturnReason)
  return db.transaction(async (trx): Promise<Answer<object>> => {
    const rows = await returnsOf(trx, { labelId: label.id })
    if (rows.length >= mostOpen) return refuse('too-many-tries', 'too-many')
    const parcels = (await parcelsOfLabels(trx, [label.id])).get(label.id) ?? []
    const left = returnable(stored.order, label, parcels, rows)
    const sums = piecesOf(stored.order.items.length, [wanted])
    if (wanted.some(({ item }) => item >= left.length) || sums.some((n, i) => n > left[i]!))
      return refuse('bad-value', 'too-many-pieces')
    const now = gharry.now().toISOString()
    const id = await addReturn(
      trx,
      {
        ...{ orderId: label.orderId, labelId: label.id, state: 'asked', reason, words: text, pieces: wanted },
        ...{ askedBy: by, location: label.location, key: `return-${label.id}-${randomUUID()}` },
      },
      now,
    )
    if (photo) await addReturnFile(trx, { returnId: id!, what: 'photo', type: 'image/jpeg', content: photo })
    const what = wanted.map(({ item, quantity }) => `${quantity} × ${stored.order.items[item]!.sku}`).join(', ')
    const author = by === 'customer' ? 'Customer' : by
    await writeLog(trx, [{ order: label.orderId, at: now, author, sentence: `Wants to send back ${what}: ${reason}` }])
    const row = (await returnById(trx, id!))!
    if (answered.take === true) await acceptReturn(gharry, trx, row, answered)
    if (answered.take === false) await refuseReturn(gharry, trx, row, answered.why)
    return { ok: true }
  })
}

/** Asks the rulebook in force: with the return as facts, and what was bought as it was. */
async function answerByRules(
  gharry: Application,
  inForce: InForce,
  label: LabelRow,
  order: Order,
  pieces: readonly Coming[],
  reason: ReturnReason,
): Promise<ReturnAnswer> {
  const now = gharry.now()
  const since = label.deliveredAt === null ? undefined : now.getTime() - Date.parse(label.deliveredAt)
  const comesBack = {
    reason,
    ...(since === undefined ? {} : { days: Math.max(0, Math.floor(since / 86_400_000)) }),
    value: returnedValue(order, piecesOf(order.items.length, [pieces])),
  }
  const pins = {
    ...(await pinsOf(gharry.db, [label.orderId])).get(label.orderId),
    ...{ location: label.location, picks: [{ by: 'service' as const, service: label.service }] },
  }
  const { decisions, trail } = decide({ ...order, comesBack }, inForce, now, pins)
  const by = trail.decisions.find(({ decision }) => decision === 'returns')?.by
  return {
    take: decisions.returns,
    services: decisions.returnServices,
    paidByBuyer: decisions.returnPaidByBuyer,
    why: by ? sourceWords(by, inForce) : '',
  }
}

function sourceWords(by: Source, { rulebook }: InForce): string {
  if (by.kind !== 'rule') return by.kind === 'pin' ? 'pinned by hand' : 'the rulebook'
  return rulebook.rules.find(({ id }) => id === by.rule)?.name ?? by.rule
}
