import { createRequire } from 'node:module'
import { join } from 'node:path'
import { manyDecider, orderMemory, type OrderBlock, type OrderMemory } from '@/core/rulebook/bulk'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { Condition, Rulebook } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { normaliseOrder, type Order } from '@/core/order'
import { money } from '@/core/units'
import { seeded } from '../demo/random'
import { demoWorld } from '../demo/world'

/*
 * The same N rules of two or three conditions (country in a list, weight between, wording is, value above) over the
 * same orders: who gives the first rule that matches? All must give the same answers.
 */
const peers = createRequire(join(process.cwd(), 'bench/package.json'))
const countries = [
  'BE',
  'NL',
  'DE',
  'FR',
  'PL',
  'GB',
  'AT',
  'CH',
  'ES',
  'IT',
  'DK',
  'SE',
  'NO',
  'US',
  'FI',
  'IE',
  'PT',
  'CZ',
  'HU',
  'GR',
]
const wordings = Array.from({ length: 40 }, (_, i) => `wording ${i}`)

interface Plain {
  country?: string[]
  weight?: [number, number]
  wording?: string
  value?: number
}
interface Facts {
  country: string
  weight: number
  wording: string
  value: number
}

function makeRules(n: number): Plain[] {
  const random = seeded(n)
  return Array.from({ length: n }, () => {
    const rule: Plain = {}
    const kinds = ['country', 'weight', 'wording', 'value']
      .sort(() => random.next() - 0.5)
      .slice(0, random.chance(0.5) ? 2 : 3)
    for (const kind of kinds) {
      if (kind === 'country') rule.country = Array.from({ length: 1 + random.below(4) }, () => random.pick(countries))
      else if (kind === 'weight') {
        const low = random.below(25_000)
        rule.weight = [low, low + 200 + random.below(1500)]
      } else if (kind === 'wording') rule.wording = random.pick(wordings)
      else rule.value = 20_000 + random.below(30_000)
    }
    // A rule of this work is narrow: otherwise the first few would take every order.
    if (!rule.wording && !rule.weight) rule.wording = random.pick(wordings)
    return rule
  })
}

function makeFacts(n: number): Facts[] {
  const random = seeded(99)
  return Array.from({ length: n }, () => ({
    country: random.pick(countries),
    weight: 1 + random.below(30_000),
    wording: random.pick(wordings),
    value: random.below(50_000),
  }))
}

const toRulebook = (rules: readonly Plain[]): Rulebook => ({
  name: 'bench',
  groups: [],
  rules: rules.map((rule, i) => {
    const all: Condition[] = []
    if (rule.country) all.push({ fact: 'country', op: 'is one of', value: rule.country })
    if (rule.weight) all.push({ fact: 'items weight', op: 'between', value: rule.weight })
    if (rule.wording) all.push({ fact: 'wording', op: 'is', value: rule.wording })
    if (rule.value !== undefined) all.push({ fact: 'order value', op: '>', value: money(rule.value, 'EUR') })
    return {
      id: `r${i}`,
      stage: 'triage' as const,
      name: `R${i}`,
      on: true,
      when: { all },
      then: [{ set: 'hold', to: `r${i}` }],
    }
  }),
})

type Decide = (facts: readonly Facts[]) => Int32Array | Promise<Int32Array>

/**
 * What a trial does with each draft: every order decided through all six stages, packed and rated (baskets and prices
 * are remembered from before, as on the page of Rules). The peers only find the first rule that matches.
 */
function ours(rules: readonly Plain[]): Decide {
  const program = compileRulebook(toRulebook(rules), demoWorld.rates)
  return (facts) => {
    const { memory, block } = readOnce(facts)
    const winners = new Int32Array(facts.length)
    manyDecider(program, memory).decide(block, (i, { decisions }) => {
      winners[i] = decisions.hold === null ? -1 : Number(decisions.hold.slice(1))
    })
    return winners
  }
}

const bench = Date.parse('2026-11-20T08:00:00Z')
const blocks = new WeakMap<readonly Facts[], { memory: OrderMemory; block: OrderBlock }>()

/** Orders are read once, whatever rulebooks run over them. */
function readOnce(facts: readonly Facts[]): { memory: OrderMemory; block: OrderBlock } {
  const known = blocks.get(facts)
  if (known) return known
  const memory = orderMemory(readyWorld(demoWorld))
  const read = { memory, block: memory.read(facts.map((one, i) => ({ order: orderOf(one, i), now: bench }))) }
  blocks.set(facts, read)
  return read
}

const orderOf = (facts: Facts, i: number): Order =>
  normaliseOrder(
    {
      id: String(i),
      number: String(i),
      placedAt: '2026-11-20T08:00:00Z',
      wording: facts.wording,
      value: (facts.value / 100).toFixed(2),
      shipTo: { name: 'A', lines: ['B 1'], city: 'C', postcode: '1000', country: facts.country },
      items: [{ sku: 'X', quantity: 1, weight: facts.weight, size: [200, 100, 50] }],
    },
    'shop',
    new Map(),
  )

/** What a programmer would write by hand: each fact read where it is tested. */
const handWritten = (rules: readonly Plain[]): Decide =>
  generated(rules, { country: 'f.country', weight: 'f.weight', wording: 'f.wording', value: 'f.value' })
/** The same with each fact read once, which the engine that runs it keeps optimised for longer. */
const tuned = (rules: readonly Plain[]): Decide =>
  generated(
    rules,
    { country: 'c', weight: 'w', wording: 't', value: 'v' },
    'const c = f.country, w = f.weight, t = f.wording, v = f.value',
  )

function generated(rules: readonly Plain[], name: Record<keyof Plain, string>, begin = ''): Decide {
  const lines = rules.map((rule, i) => {
    const tests = [
      rule.country && `(${rule.country.map((country) => `${name.country} === '${country}'`).join(' || ')})`,
      rule.weight && `${name.weight} >= ${rule.weight[0]} && ${name.weight} <= ${rule.weight[1]}`,
      rule.wording && `${name.wording} === '${rule.wording}'`,
      rule.value !== undefined && `${name.value} > ${rule.value}`,
    ].filter(Boolean)
    return `if (${tests.join(' && ')}) return ${i}`
  })
  // The peer that a person would write by hand: code made of the rules.
  // eslint-disable-next-line @typescript-eslint/no-implied-eval
  const decide = new Function('f', [begin, ...lines, 'return -1'].join('\n')) as (facts: Facts) => number
  return (facts) => Int32Array.from(facts, decide)
}

function jsonLogic(rules: readonly Plain[]): Decide {
  const { LogicEngine } = peers('json-logic-engine') as {
    LogicEngine: new () => { build: (logic: unknown) => (data: Facts) => number }
  }
  const branches = rules.flatMap((rule, i) => {
    const and: unknown[] = []
    if (rule.country) and.push({ in: [{ var: 'country' }, rule.country] })
    if (rule.weight) and.push({ '<=': [rule.weight[0], { var: 'weight' }, rule.weight[1]] })
    if (rule.wording) and.push({ '===': [{ var: 'wording' }, rule.wording] })
    if (rule.value !== undefined) and.push({ '>': [{ var: 'value' }, rule.value] })
    return [{ and }, i]
  })
  const decide = new LogicEngine().build({ if: [...branches, -1] })
  return (facts) => Int32Array.from(facts, (one) => decide(one))
}

function decisionTable(rules: readonly Plain[]): Decide {
  const { ZenEngine } = peers('@gorules/zen-engine') as {
    ZenEngine: new () => {
      createDecision: (content: Buffer) => { evaluate: (context: Facts) => Promise<{ result: { winner?: number } }> }
    }
  }
  const table = {
    hitPolicy: 'first',
    inputs: ['country', 'weight', 'wording', 'value'].map((field) => ({ id: field, name: field, field })),
    outputs: [{ id: 'winner', name: 'winner', field: 'winner' }],
    rules: rules.map((rule, i) => ({
      _id: `r${i}`,
      country: rule.country ? rule.country.map((country) => `"${country}"`).join(', ') : '',
      weight: rule.weight ? `[${rule.weight[0]}..${rule.weight[1]}]` : '',
      wording: rule.wording ? `"${rule.wording}"` : '',
      value: rule.value === undefined ? '' : `> ${rule.value}`,
      winner: String(i),
    })),
  }
  const decision = new ZenEngine().createDecision(
    Buffer.from(
      JSON.stringify({
        nodes: [
          { id: 'in', type: 'inputNode', name: 'in', position: { x: 0, y: 0 } },
          { id: 't', type: 'decisionTableNode', name: 't', position: { x: 0, y: 0 }, content: table },
          { id: 'out', type: 'outputNode', name: 'out', position: { x: 0, y: 0 } },
        ],
        edges: [
          { id: 'a', sourceId: 'in', targetId: 't', type: 'edge' },
          { id: 'b', sourceId: 't', targetId: 'out', type: 'edge' },
        ],
      }),
    ),
  )
  return async (facts) => {
    const winners = new Int32Array(facts.length)
    for (let i = 0; i < facts.length; i++) winners[i] = (await decision.evaluate(facts[i]!)).result.winner ?? -1
    return winners
  }
}

function rulesEngine(rules: readonly Plain[]): Decide {
  const { Engine } = peers('json-rules-engine') as {
    Engine: new () => {
      addRule: (rule: unknown) => void
      run: (facts: Facts) => Promise<{ events: { type: string }[] }>
    }
  }
  const engine = new Engine()
  rules.forEach((rule, i) => {
    const all: unknown[] = []
    if (rule.country) all.push({ fact: 'country', operator: 'in', value: rule.country })
    if (rule.weight)
      all.push(
        { fact: 'weight', operator: 'greaterThanInclusive', value: rule.weight[0] },
        { fact: 'weight', operator: 'lessThanInclusive', value: rule.weight[1] },
      )
    if (rule.wording) all.push({ fact: 'wording', operator: 'equal', value: rule.wording })
    if (rule.value !== undefined) all.push({ fact: 'value', operator: 'greaterThan', value: rule.value })
    engine.addRule({ conditions: { all }, event: { type: String(i) }, priority: 1 })
  })
  return async (facts) => {
    const winners = new Int32Array(facts.length)
    for (let i = 0; i < facts.length; i++) {
      const { events } = await engine.run(facts[i]!)
      winners[i] = events.length === 0 ? -1 : Math.min(...events.map((event) => Number(event.type)))
    }
    return winners
  }
}

async function speed(decide: Decide, facts: readonly Facts[], seconds: number): Promise<number> {
  await decide(facts.slice(0, Math.min(facts.length, 200)))
  await decide(facts)
  let done = 0
  const began = performance.now()
  while (performance.now() - began < seconds * 1000) {
    await decide(facts)
    done += facts.length
  }
  return (done / (performance.now() - began)) * 1000
}

/** Orders per second of Gharry and its peers, by number of rules; throws when any answer differs. */
export async function benchRules(say: (line: string) => void): Promise<void> {
  const facts = makeFacts(20_000)
  for (const n of [200, 1000, 5000]) {
    const rules = makeRules(n)
    const began = performance.now()
    const gharry = ours(rules)
    const compiled = performance.now() - began
    const wanted = await handWritten(rules)(facts)
    const contenders: readonly (readonly [string, Decide, number])[] = [
      ['Gharry', gharry, 20_000],
      ['if/else by hand', handWritten(rules), 20_000],
      ['if/else, tuned', tuned(rules), 20_000],
      ...(n > 1000 ? [] : [['json-logic-engine', jsonLogic(rules), 20_000] as const]),
      ['zen-engine', decisionTable(rules), n > 1000 ? 300 : 2000],
      ['json-rules-engine', rulesEngine(rules), n > 1000 ? 5 : 40],
    ]
    const speeds: [string, number][] = []
    for (const [name, decide, count] of contenders) {
      const some = count === 20_000 ? facts : facts.slice(0, count)
      const got = await decide(some)
      const differs = got.findIndex((winner, i) => winner !== wanted[i])
      if (differs >= 0)
        throw new Error(`${name} says ${got[differs]} for order ${differs}, ${wanted[differs]} is right`)
      speeds.push([name, await speed(decide, some, 1.5)])
    }
    const own = speeds[0]![1]
    say(
      `rules, ${n}: ${speeds.map(([name, perSecond]) => `${name} ${Math.round(perSecond).toLocaleString('en')} orders/s${name === 'Gharry' ? '' : ` (Gharry ${(own / perSecond).toFixed(1)} ×)`}`).join(', ')}; compiled in ${compiled.toFixed(0)} ms; ${wanted.filter((winner) => winner >= 0).length} of 20,000 match`,
    )
  }
  say(`rules, from 200 to 5,000: ${(await growth(facts)).toFixed(1)} times the cost of an order`)
  const single = benchSingle(1000)
  say(
    `rules, one order at a time with the full trail, packing and rating, 1,000 rules: median ${single.median.toFixed(0)} µs, p95 ${single.p95.toFixed(0)} µs`,
  )
}

/**
 * By how much an order costs more with 5,000 rules than with 200: in turns, as the machine is not equally fast all the
 * time.
 */
async function growth(facts: readonly Facts[]): Promise<number> {
  const [few, many] = [ours(makeRules(200)), ours(makeRules(5000))]
  const timed = async (decide: Decide): Promise<number> => {
    const began = performance.now()
    await decide(facts)
    return performance.now() - began
  }
  const ratios: number[] = []
  for (let i = 0; i < 430; i++) {
    const one = await timed(few)
    const ratio = (await timed(many)) / one
    if (i >= 30) ratios.push(ratio)
  }
  return ratios.sort((a, b) => a - b)[ratios.length >> 1]!
}

/** `route` for one order, with everything: microseconds. */
function benchSingle(n: number): { median: number; p95: number } {
  const program = compileRulebook(toRulebook(makeRules(n)), demoWorld.rates)
  const ready = readyWorld(demoWorld)
  const orders = makeFacts(5000).map(orderOf)
  for (const order of orders) route(order, program, ready, { now: bench })
  const times = orders
    .map((order) => {
      const began = performance.now()
      route(order, program, ready, { now: bench })
      return (performance.now() - began) * 1000
    })
    .sort((a, b) => a - b)
  return { median: times[2500]!, p95: times[4750]! }
}
