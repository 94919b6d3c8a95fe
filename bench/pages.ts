import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { ShopOrder } from '../standins/channels/shop'
import { demoOrders } from '../demo/orders'

/** Writes what channels would send: `pages.ts FOLDER ORDERS CHANNELS` makes page-CHANNEL-PAGE.json of 500 orders each. */
const [folder = '', orders = '0', channels = '1'] = process.argv.slice(2)
const perPage = 500
const pages = Math.ceil(Number(orders) / perPage)
let page: ShopOrder[] = []
let written = 0
for (const order of demoOrders('large', 7, '2026-11-20')) {
  page.push(order)
  if (page.length < perPage && written * perPage + page.length < Number(orders)) continue
  const [channel, number] = [written % Number(channels), Math.floor(written / Number(channels))]
  const more = written + Number(channels) < pages
  writeFileSync(join(folder, `page-${channel}-${number}.json`), JSON.stringify({ orders: page, more }))
  page = []
  if (++written === pages) break
}
