import { compileRulebook, manyDecider, orderMemory, readyWorld } from '@/core/rulebook'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'
import { demoWorld } from '../demo/world'
import { demoRulebook } from '../demo/rulebook'
import { realisticRulebook } from './realistic'
const now = Date.parse('2026-11-25T09:00:00Z')
const ready = readyWorld(demoWorld)
const orders = [...demoOrders('large', 5, '2026-11-25')].slice(0, 20_000).map((order) => ({ order: normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', ready.cards), now }))
for (const count of [demoRulebook.rules.length, 300, 1000]) {
  const program = compileRulebook(realisticRulebook(count), demoWorld.rates)
  const memory = orderMemory(ready)
  const decider = manyDecider(program, memory)
  let [x, y, z] = [0, 0, 0]
  for (let r = 0; r < 15; r++) {
    const a = performance.now()
    const block = memory.read(orders)
    const b = performance.now()
    decider.decide(block, () => {})
    const c = performance.now()
    decider.decide(block, () => {})
    const d = performance.now()
    x = Math.max(x, orders.length / (b - a) * 1000); y = Math.max(y, orders.length / (c - b) * 1000); z = Math.max(z, orders.length / (d - c) * 1000)
  }
  console.log(count, 'read', Math.round(x), 'decide', Math.round(y), 'again', Math.round(z))
}
