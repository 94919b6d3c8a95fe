import { channelKindOf } from '@/adapters'
import { memberLine, type Order } from '@/core/order'
import { came } from '@/core/returns'
import {
  addPosts,
  changeReturn,
  channelById,
  type Database,
  membersOf,
  orderRow,
  returnById,
  type ReturnRow,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'

/** Has the channels pay back, each for its own order; gives whether they do. */
export async function payBack(trx: Database, row: ReturnRow, order: Order, now: string): Promise<boolean> {
  if (row.amount === 0) return true
  const shares = await sharesOf(trx, row, order)
  let told = true
  for (const { orderId, amount } of shares) {
    const own = (await orderRow(trx, orderId))!
    const channel = await channelById(trx, own.channelId)
    if (!channel || !channelKindOf(channel.kind)?.can.refunds) told = false
    else
      await addPosts(
        trx,
        [
          {
            ...{ kind: 'refund', orderId, labelId: row.labelId, parcel: 1, channelId: own.channelId, amount },
            ...{ returnId: row.id, key: `refund-${row.id}-${orderId}` },
          },
        ],
        now,
      )
  }
  return told
}

/**
 * What each order of a shipment gets of what is paid back, by what its pieces are worth; all of them together get all.
 */
async function sharesOf(
  trx: Database,
  row: ReturnRow,
  order: Order,
): Promise<readonly { readonly orderId: number; readonly amount: number }[]> {
  const members = await membersOf(trx, row.orderId)
  if (members.length === 0) return [{ orderId: row.orderId, amount: row.amount }]
  const worth = new Map<number, number>()
  for (const { item, quantity } of (row.found ?? []).filter(came)) {
    const { line, unitPrice } = order.items[item]!
    const { member } = memberLine(line)
    worth.set(member, (worth.get(member) ?? 0) + quantity * unitPrice.minor)
  }
  const all = [...worth.values()].reduce((sum, n) => sum + n, 0)
  let [left, rest] = [row.amount, all]
  return [...worth].map(([orderId, own]) => {
    const amount = rest === 0 ? left : Math.round((left * own) / rest)
    ;[left, rest] = [left - amount, rest - own]
    return { orderId, amount }
  })
}

/** The channel's lines of what came back of one order. */
export function linesBack(
  row: ReturnRow,
  orderId: number,
  shipment: Order,
): readonly { readonly line: string; readonly quantity: number }[] {
  const sums = new Map<string, number>()
  for (const { item, quantity } of (row.found ?? []).filter(came)) {
    const { line } = shipment.items[item]!
    const own = orderId === row.orderId ? { member: orderId, line } : memberLine(line)
    if (own.member === orderId) sums.set(own.line, (sums.get(own.line) ?? 0) + quantity)
  }
  return [...sums].map(([line, quantity]) => ({ line, quantity }))
}

/** A person has paid back what its channel does not pay. */
export async function paidByHand(gharry: Application, { id }: { readonly id: number }): Promise<Answer<object>> {
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const row = await returnById(trx, id)
    if (row?.state !== 'checked' || row.amount === 0) return refuse('not-found', 'There is nothing to be paid back.')
    if (row.paidByHandAt !== null) return refuse('taken-before', 'That was said already.')
    const at = gharry.now().toISOString()
    await changeReturn(trx, id, ['checked'], { paidByHandAt: at })
    const sentence = 'The buyer was paid back by hand'
    await writeLog(trx, [{ order: row.orderId, at, author: gharry.settings.author, sentence }])
    return { ok: true }
  })
}
