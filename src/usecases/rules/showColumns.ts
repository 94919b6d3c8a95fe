import type { Order } from '@/core/order'
import { type Column, orderColumns, type OrderColumns } from '@/core/rulebook/bulk'
import { settledCase } from '@/core/rulebook/decide'
import { facts, type FactValue, openCase } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { monthOfOrders, newestWorld } from '@/data'
import type { Application } from '../shared/application'

/** The head of the columns as they travel; the codes follow it, 32 bits each, column by column, the baskets last. */
export interface ColumnsHead {
  readonly count: number
  readonly days: number
  readonly now: number
  readonly zone: string
  readonly columns: readonly { readonly fact: string; readonly values: readonly (FactValue | null)[] }[]
  readonly lists: readonly (readonly number[])[]
  readonly items: Order['items']
}

const days = 30
const keptFor = 300_000
const kept = new WeakMap<object, { at: number; bytes: Promise<Uint8Array> }>()

/**
 * The facts of all orders of the last 30 days as columns, for counting in the browser. What stages settle stands as it
 * was decided last. Made once in five minutes, in portions, so that others get their turn.
 */
export function showColumns(gharry: Application): Promise<Uint8Array> {
  const now = gharry.now().getTime()
  const before = kept.get(gharry.db)
  if (before && now - before.at < keptFor) return before.bytes
  const bytes = pack(gharry, now)
  kept.set(gharry.db, { at: now, bytes })
  bytes.catch(() => kept.delete(gharry.db))
  return bytes
}

async function pack(gharry: Application, now: number): Promise<Uint8Array> {
  const world = (await newestWorld(gharry.db))?.world
  const rows: { items: Order['items']; values: FactValue[] }[] = []
  if (world) {
    const ready = readyWorld({ ...world, items: [] })
    for await (const { order, settled } of monthOfOrders(
      gharry.db,
      new Date(now - days * 86_400_000).toISOString(),
      500,
    )) {
      const c = settled ? settledCase(order, settled, ready, now) : openCase(order, ready, now)
      rows.push({ items: order.items, values: facts.map((fact) => fact.read(c)) })
      if (rows.length % 500 === 0) await new Promise((resolve) => setImmediate(resolve))
    }
  }
  const place = new Map(facts.map(({ id }, i) => [id, i]))
  return toBytes(
    orderColumns(
      rows.length,
      [...place.keys()],
      (i, fact) => rows[i]!.values[place.get(fact)!],
      (i) => rows[i]!.items,
      now,
      world?.locations[0]?.timeZone ?? 'UTC',
    ),
  )
}

function toBytes({ count, columns, baskets, now, zone }: OrderColumns): Uint8Array {
  const list = [...columns]
  const head: ColumnsHead = {
    count,
    days,
    now,
    zone,
    columns: list.map(([fact, column]: [string, Column]) => ({
      fact,
      values: column.values.map((value) => value ?? null),
    })),
    lists: baskets.lists,
    items: baskets.items,
  }
  const text = new TextEncoder().encode(JSON.stringify(head))
  const begin = 4 + Math.ceil(text.length / 4) * 4
  const bytes = new Uint8Array(begin + 4 * count * (list.length + 1))
  new DataView(bytes.buffer).setUint32(0, text.length, true)
  bytes.set(text, 4)
  const codes = new Uint32Array(bytes.buffer, begin)
  list.forEach(([, column], i) => codes.set(column.codes, i * count))
  codes.set(baskets.codes, list.length * count)
  return bytes
}
