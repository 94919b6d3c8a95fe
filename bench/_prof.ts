import { compileRulebook, readyWorld, route } from '@/core/rulebook'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'
const now = Date.parse('2026-11-25T09:00:00Z')
const ready = readyWorld(demoWorld)
const orders = [...demoOrders('large', 5, '2026-11-25')].slice(0, 20_000).map((order) => normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', ready.cards))
const program = compileRulebook(realisticRulebook(300), demoWorld.rates)
for (let r = 0; r < 4; r++) { const b = performance.now(); for (const o of orders) route(o, program, ready, { now }); console.log(Math.round(orders.length/(performance.now()-b)*1000)) }
