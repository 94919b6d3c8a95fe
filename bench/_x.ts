import { compileRulebook, manyDecider, orderMemory, readyWorld } from '@/core/rulebook'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'
const now = Date.parse('2026-11-25T09:00:00Z')
const ready = readyWorld(demoWorld)
const orders = [...demoOrders('large', 5, '2026-11-25')].slice(0, 20_000).map((order) => normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', ready.cards))
for (const count of process.argv.slice(2).map(Number)) {
  const program = compileRulebook(realisticRulebook(count || demoRulebook.rules.length), demoWorld.rates)
  const memory = orderMemory(ready)
  const decider = manyDecider(program, memory)
  const given = orders.map((order) => ({ order, now }))
  let decided = 0
  const block = memory.read(given)
  for (const [stage, p] of Object.entries(program.stages)) console.log(stage, p.rules.length, 'rules', p.words, 'words', p.rules.filter((r) => r.rest).length, 'rest', p.classifiers.map((c) => `${c.reach}:${c.key.slice(0, 30)}`).join(' | ').slice(0, 600))
  const times = Array.from({ length: 25 }, () => { const b = performance.now(); decider.decide(block, () => { decided++ }); return performance.now() - b }).sort((a, b) => a - b)
  console.log(count, 'baskets', memory.basketCount(), Math.round(20_000 / times[12]! * 1000), 'best', Math.round(20_000 / times[0]! * 1000), decided)
}
