import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { shopRawOrder } from '@/adapters'
import { addChannel, addEdition, addWorld, openDatabase, type Database } from '@/data'
import type { Application } from '@/usecases/shared/application'
import { rulebookInForce } from '@/usecases/shared/rulebookInForce'
import { storeOrders } from '@/usecases/intake/storeOrders'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

/** Import → facts → rules → rating → stored with trail, for `count` orders in portions of 500. */
export async function benchIntake(
  count: number,
  then?: (db: Database, folder: string) => Promise<void>,
): Promise<{ orders: number; seconds: number; perSecond: number; peakMb: number }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-bench-'))
  const db = await openDatabase(join(folder, 'gharry.db'))
  const at = '2026-11-20T08:00:00.000Z'
  await addChannel(db, {
    id: 'mossgill-shop',
    name: 'Mossgill Shop',
    kind: 'keyed-shop',
    tellWhen: 'bought',
    everyMinutes: 0,
  })
  await addWorld(db, demoWorld, at)
  await addEdition(db, demoRulebook, '', 'bench', at)
  const inForce = (await rulebookInForce({ db, now: () => new Date(at) } as unknown as Application))!
  let peak = 0
  let seconds = 0
  let done = 0
  const source = demoOrders('large', 7, '2026-11-20')
  while (done < count) {
    // What the shop would send over the wire; making it is not part of the time.
    const wire = JSON.stringify([...take(source, Math.min(500, count - done))])
    const began = performance.now()
    const portion = (JSON.parse(wire) as unknown[]).map((order) => shopRawOrder(order)!)
    await db.transaction((trx) => storeOrders(trx, 'mossgill-shop', portion, inForce, new Date(at)))
    seconds += (performance.now() - began) / 1000
    done += portion.length
    peak = Math.max(peak, process.memoryUsage().rss)
  }
  await then?.(db, folder)
  await db.destroy()
  rmSync(folder, { recursive: true })
  return {
    orders: done,
    seconds: Number(seconds.toFixed(1)),
    perSecond: Math.round(done / seconds),
    peakMb: Math.round(peak / 1e6),
  }
}

function* take<T>(from: Generator<T>, count: number): Generator<T> {
  for (; count > 0; count--) {
    const next = from.next()
    if (next.done) return
    yield next.value
  }
}
