import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { shopRawOrder } from '@/adapters'
import { addChannel, addEdition, addWorld, openDatabase } from '@/data'
import type { Gharry } from '@/usecases/gharry'
import { rulebookInForce } from '@/usecases/rulebookInForce'
import { storeOrders } from '@/usecases/storeOrders'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

/** Import → facts → rules → rating → stored with trail, for `count` orders in portions of 500. */
export async function benchIntake(count: number): Promise<{ orders: number; seconds: number; perSecond: number; peakMb: number }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-bench-'))
  const db = await openDatabase(join(folder, 'gharry.db'))
  const at = '2026-11-20T08:00:00.000Z'
  await addChannel(db, { id: 'mossgill-shop', name: 'Mossgill Shop', kind: 'shop', base_url: '', tell_when: 'bought', every_minutes: 0 })
  await addWorld(db, demoWorld, at)
  await addEdition(db, demoRulebook, '', 'bench', at)
  const inForce = (await rulebookInForce({ db } as unknown as Gharry))!
  const wire = [...take(demoOrders('large', 7, '2026-11-20'), count)].map((order) => JSON.stringify(order))
  let peak = 0
  const began = performance.now()
  for (let i = 0; i < wire.length; i += 500) {
    const portion = wire.slice(i, i + 500).map((text) => shopRawOrder(JSON.parse(text))!)
    await db.transaction((trx) => storeOrders(trx, 'mossgill-shop', portion, inForce, new Date(at)))
    peak = Math.max(peak, process.memoryUsage().rss)
  }
  const seconds = (performance.now() - began) / 1000
  await db.destroy()
  rmSync(folder, { recursive: true })
  return { orders: wire.length, seconds, perSecond: Math.round(wire.length / seconds), peakMb: Math.round(peak / 1e6) }
}

function* take<T>(from: Generator<T>, count: number): Generator<T> {
  for (const value of from) {
    if (count-- <= 0) return
    yield value
  }
}

if (process.argv[1]?.endsWith('intake.ts')) console.log(await benchIntake(Number(process.argv[2] ?? 10_000)))
