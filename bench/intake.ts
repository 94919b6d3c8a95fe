import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type ChannelClient, shopRawOrder } from '@/adapters'
import { addChannel, addEdition, addWorld, type Database } from '@/data'
import { requestImport } from '@/usecases/intake/importOrders'
import { orderThread } from '@/usecases/intake/orderThread'
import { type Application, openApplication } from '@/usecases/shared/application'
import { workerScript } from '@/usecases/tests/builtPrograms'
import { workImport } from '@/usecases/worker/work'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'

const channels = ['mossgill-shop', 'tallow-lane', 'quillmart', 'trade-desk']

/** Import → facts → rules → rating → stored with trail, of `count` orders in pages of 500, from four channels at once. */
export async function benchIntake(
  count: number,
  then?: (db: Database, folder: string) => Promise<void>,
): Promise<{ orders: number; seconds: number; perSecond: number; peakMb: number }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-bench-'))
  // What channels would send over the wire; making it takes neither time nor memory of this process.
  execFileSync('node', ['scripts/run.mjs', 'bench/pages.ts', folder, String(count), String(channels.length)])
  const opened = await openApplication({ GHARRY_DATA: folder, GHARRY_LOG: 'silent', GHARRY_STANDINS: 'none' })
  const gharry: Application = {
    ...opened,
    channel: (id) => Promise.resolve(pagesOf(folder, channels.indexOf(id))),
    orderThread: orderThread(workerScript(), opened.settings.books),
  }
  const { db } = gharry
  const at = gharry.now().toISOString()
  await addWorld(db, demoWorld, at)
  await addEdition(db, demoRulebook, '', 'bench', at)
  for (const id of channels) {
    await addChannel(db, { ...{ id, name: id, kind: 'keyed-shop' }, ...{ tellWhen: 'bought', everyMinutes: 0 } })
    await requestImport(gharry, id)
  }
  let peak = 0
  const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 20)
  const began = performance.now()
  await Promise.all(channels.map(() => workImport(gharry)))
  const seconds = (performance.now() - began) / 1000
  clearInterval(watch)
  const [{ n }] = (await db('orders').count({ n: '*' })) as [{ n: number }]
  await gharry.orderThread!.end()
  await then?.(db, folder)
  await gharry.close()
  rmSync(folder, { recursive: true })
  return {
    orders: n,
    seconds: Number(seconds.toFixed(1)),
    perSecond: Math.round(n / seconds),
    peakMb: Math.round(peak / 1e6),
  }
}

/** A channel whose pages are files. */
function pagesOf(folder: string, channel: number): ChannelClient {
  const fetchOrders: ChannelClient['fetchOrders'] = (cursor) => {
    const page = cursor === '' ? 0 : Number(cursor)
    const { orders, more } = JSON.parse(readFileSync(join(folder, `page-${channel}-${page}.json`), 'utf8')) as {
      orders: unknown[]
      more: boolean
    }
    const body = { orders: orders.map((order) => shopRawOrder(order)!), bad: [], cursor: String(page + 1), more }
    return Promise.resolve({ ok: true, body })
  }
  return { fetchOrders } as ChannelClient
}
