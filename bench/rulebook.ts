import {
  type Column,
  countOf,
  manyDecider,
  matchesOf,
  movedMatches,
  orderColumns,
  type OrderColumns,
  orderMemory,
} from '@/core/rulebook/bulk'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { type Condition, factById, facts, openCase, readRulebook, writeRulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'

const now = Date.parse('2026-11-25T09:00:00Z')

function median(times: readonly number[]): number {
  return [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!
}

function timed(work: () => unknown, rounds: number): number {
  return median(
    Array.from({ length: rounds }, () => {
      const began = performance.now()
      work()
      return performance.now() - began
    }),
  )
}

/** Reading and compiling, and deciding with realistic rulebooks. */
export function benchRulebook(say: (line: string) => void): void {
  const text = writeRulebook(realisticRulebook(1000))
  say(
    `reading and compiling 1,000 rules from YAML (${(text.length / 1024).toFixed(0)} kB): ${timed(() => {
      const read = readRulebook(text)
      if (read.ok) compileRulebook(read.rulebook, demoWorld.rates)
    }, 5).toFixed(0)} ms`,
  )
  const ready = readyWorld(demoWorld)
  const orders = [...demoOrders('large', 5, '2026-11-25')]
    .slice(0, 20_000)
    .map((order) => normaliseOrder(shopRawOrder(order)!, 'mossgill-shop', ready.cards))
  for (const count of [demoRulebook.rules.length, 300, 1000]) {
    const program = compileRulebook(realisticRulebook(count), demoWorld.rates)
    for (const order of orders.slice(0, 3000)) route(order, program, ready, { now })
    const ms = timed(() => {
      for (const order of orders) route(order, program, ready, { now })
    }, 3)
    say(
      `deciding with trail, packing and rating, ${count} rules: ${Math.round((orders.length / ms) * 1000).toLocaleString('en')} orders/s, ${((ms / orders.length) * 1000).toFixed(1)} µs an order`,
    )
    const memory = orderMemory(ready)
    const decider = manyDecider(program, memory)
    const given = orders.map((order) => ({ order, now }))
    let decided = 0
    const fresh = timed(
      () =>
        decider.decide(memory.read(given), () => {
          decided++
        }),
      9,
    )
    const block = memory.read(given)
    decider.decide(block, () => {
      decided++
    })
    const again = timed(
      () =>
        decider.decide(block, () => {
          decided++
        }),
      25,
    )
    const perSecond = (time: number): string => Math.round((orders.length / time) * 1000).toLocaleString('en')
    say(
      `deciding without trail, ${count} rules: ${perSecond(fresh)} orders/s with reading, packing and rating; ${perSecond(again)} orders/s where the same orders were packed and rated before (${decided.toLocaleString('en')} decided)`,
    )
  }
  const cases = orders.map((order) => openCase(order, ready, now))
  const some = orderColumns(
    orders.length,
    facts.filter((fact) => !fact.settledBy).map((fact) => fact.id),
    (i, fact) => factById.get(fact)!.read(cases[i]!),
    (i) => orders[i]!.items,
    now,
    'Europe/Brussels',
  )
  for (const count of [100_000, 1_000_000]) {
    const many = tiled(some, count)
    const edit = (limit: number): Condition => ({
      all: [
        { fact: 'country', op: 'is one of', value: ['BE', 'NL', 'DE'] },
        { fact: 'items weight', op: 'between', value: [200, limit] },
        {
          any: [
            { fact: 'wording', op: 'contains', value: 'exp' },
            { items: 'any', where: { fact: 'item tags', op: 'has any', value: ['live'] } },
          ],
        },
        { fact: 'placed', op: 'weekday is', value: ['Wednesday', 'Thursday'] },
      ],
    })
    const before = matchesOf({ when: edit(4000) }, demoRulebook, many, demoWorld.rates)
    let matches = 0
    const ms = timed(() => {
      const mask = matchesOf({ when: edit(5000) }, demoRulebook, many, demoWorld.rates)
      matches = countOf(mask)
      movedMatches(before, mask)
    }, 9)
    say(
      `as typed, one rule of five tests over ${count.toLocaleString('en')} orders: ${ms.toFixed(1)} ms (${matches.toLocaleString('en')} match)`,
    )
  }
}

/** The same orders again and again, until there are `count`. */
function tiled({ columns, baskets, now: at, zone }: OrderColumns, count: number): OrderColumns {
  const tile = (codes: Uint32Array): Uint32Array =>
    Uint32Array.from({ length: count }, (_, i) => codes[i % codes.length]!)
  return {
    count,
    now: at,
    zone,
    baskets: { ...baskets, codes: tile(baskets.codes) },
    columns: new Map(
      [...columns].map(([fact, column]): [string, Column] => [
        fact,
        { codes: tile(column.codes), values: column.values },
      ]),
    ),
  }
}
