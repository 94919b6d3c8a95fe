import { grams } from '@/core/units'
import { compileRulebook, withoutRules } from '@/core/rulebook/compile'
import { type Routed, type Rule, type Rulebook } from '@/core/rulebook/language'
import { manyDecider, orderMemory } from '@/core/rulebook/bulk'
import { readyWorld, type World } from '@/core/world'
import type { Box } from './box'
import { decide, type Ground, type LogicFinding } from './findings'
import { type Witness, witnessOf } from './witness'

const shaping = new Set([
  'barred',
  'allowed',
  'picks',
  'needs',
  'within',
  'ceiling',
  'signature',
  'insurance',
  'duties',
  'location',
  'preset',
  'dimensions',
])
const noService = new Set(['no-service', 'no-pick', 'nothing-allowed'])
const maxCandidates = 1500
const perStep = 500

/**
 * Orders for which rules leave no service although, without a rule, there would be one. Each rule that shapes the
 * choice is tried with orders to every kind of destination, light and heavy, to homes and to post-office boxes; what is
 * told is what the engine found.
 */
export function* gapSteps(ground: Ground, dead: ReadonlySet<Rule>): Generator<void, LogicFinding[]> {
  const rules = ground.rulebook.rules.filter(
    (rule) => rule.on && !dead.has(rule) && rule.then.some((action) => shaping.has(action.set)),
  )
  const places = destinations(ground.world)
  const each = Math.max(3, Math.floor(maxCandidates / Math.max(1, rules.length)))
  const told = new Set<string>()
  const found: LogicFinding[] = []
  const tried = rules.map((rule) => ({ rule, witnesses: [...candidates(rule, places, each, ground)] }))
  for (const { rule, witnesses } of yield* stuckOf(tried, ground)) {
    yield
    if (told.has(rule.id)) continue
    for (const witness of witnesses) {
      const routed = decide(witness, ground)
      if (!gap(routed) || !matches(routed, rule.id)) continue
      const culprits = culpritsOf(witness, routed, ground)
      if (culprits.length === 0 || told.has(culprits[0]!.id)) continue
      told.add(culprits[0]!.id)
      const [first] = routed.problems.filter((problem) => noService.has(problem.code))
      found.push({
        kind: 'gap',
        rule: culprits[0]!.id,
        others: culprits.slice(1).map(({ id }) => id),
        witness,
        sentence: `Leaves no service for some orders, such as one to ${witness.order.shipTo.country} ${witness.order.shipTo.postcode}${
          culprits.length > 1
            ? ` (together with ${culprits
                .slice(1)
                .map(({ name }) => `“${name}”`)
                .join(', ')})`
            : ''
        }: ${first!.sentence}`,
      })
      break
    }
  }
  return found
}

interface Tried {
  readonly rule: Rule
  readonly witnesses: readonly Witness[]
}

/**
 * Those of the orders with which something is wrong, decided many at once: most have nothing, and no trail is needed
 * for them.
 */
function* stuckOf(tried: readonly Tried[], { program, ready }: Ground): Generator<void, Tried[]> {
  const memory = orderMemory(ready)
  const decider = manyDecider(program, memory)
  const witnesses = tried.flatMap((one) => one.witnesses)
  const stuck: boolean[] = []
  while (stuck.length < witnesses.length) {
    yield
    decider.decide(memory.read(witnesses.slice(stuck.length, stuck.length + perStep)), (_, decided) =>
      stuck.push(decided.stuck),
    )
  }
  let at = 0
  return tried.map(({ rule, witnesses: own }) => ({ rule, witnesses: own.filter(() => stuck[at++]!) }))
}

/** Only the choice of a service fails: nothing else is wrong with the order. */
const gap = (routed: Routed): boolean =>
  routed.problems.length > 0 && routed.problems.every((problem) => noService.has(problem.code))
const matches = (routed: Routed, rule: string): boolean =>
  routed.trail.stages.some((stage) => stage.matched.includes(rule))

/**
 * The fewest rules, the lowest first, without which there would be a service; empty when there would be none anyway.
 */
function culpritsOf(witness: Witness, routed: Routed, ground: Ground): Rule[] {
  const matched = new Set(routed.trail.stages.flatMap((stage) => stage.matched))
  const suspects = ground.rulebook.rules.filter(
    (rule) => matched.has(rule.id) && rule.then.some((action) => shaping.has(action.set)),
  )
  const works = (without: readonly Rule[]): boolean =>
    decide(witness, {
      program: withoutRules(ground.program, new Set(without.map(({ id }) => id))),
      ready: ground.ready,
    }).quote !== null
  for (const suspect of [...suspects].reverse()) if (works([suspect])) return [suspect]
  let guilty = [...suspects].reverse()
  if (guilty.length === 0 || !works(guilty)) return []
  for (const suspect of [...guilty].reverse()) {
    const fewer = guilty.filter((rule) => rule !== suspect)
    if (fewer.length > 0 && works(fewer)) guilty = fewer
  }
  return guilty
}

/** One country with a postcode for each way in which services serve a place. */
function destinations({ services }: World): { country: string; postcode: string }[] {
  const ways = new Map<string, { country: string; postcode: string }>()
  const countries = new Set(services.flatMap((service) => service.zones.map((zone) => zone.to)))
  for (const country of countries) {
    const prefixes = new Set(
      services.flatMap((service) =>
        service.zones.flatMap((zone) => (zone.to === country ? (zone.prefixes ?? []) : [])),
      ),
    )
    for (const postcode of ['', ...prefixes]) {
      const way = services
        .map((service) =>
          service.zones
            .filter(
              (zone) =>
                zone.to === country && (!zone.prefixes || zone.prefixes.some((prefix) => postcode.startsWith(prefix))),
            )
            .map((zone) => `${zone.from}${zone.zone}`)
            .join(),
        )
        .join('|')
      const ordinary =
        ['1000', '3300', '7400', '9900'].find(
          (candidate) => ![...prefixes].some((prefix) => candidate.startsWith(prefix)),
        ) ?? '1000'
      if (!ways.has(way)) ways.set(way, { country, postcode: postcode === '' ? ordinary : postcode.padEnd(4, '0') })
    }
  }
  return [...ways.values()]
}

/** Orders that the rule may match, to several places, as light and as heavy as services know them. */
function* candidates(
  rule: Rule,
  places: readonly { country: string; postcode: string }[],
  most: number,
  ground: Ground,
): Generator<Witness> {
  const { space, world, now } = ground
  const heaviest = Math.max(0, ...world.presets.map((preset) => preset.limit))
  const limited = (box: Box, fact: string): boolean =>
    [...box.keys()].some((index) => space.sources[index]!.fact === fact)
  let made = 0
  for (const box of space.ruleBoxes(rule)?.slice(0, 4) ?? []) {
    const base = witnessOf(box, space, world, now)
    if (!base) continue
    const { order } = base
    for (const place of limited(box, 'country') ? placesIn(box, places, ground, order.shipTo) : places)
      for (const box2 of limited(box, 'post-office box') ? [false] : [false, true])
        for (const heavy of limited(box, 'items weight') || limited(box, 'weight') ? [false] : [false, true]) {
          if (made++ >= most) return
          yield {
            now: base.now,
            order: {
              ...order,
              shipTo: {
                ...order.shipTo,
                country: place.country,
                ...(limited(box, 'postcode') ? {} : { postcode: place.postcode }),
                lines: box2 ? ['PO Box 12'] : order.shipTo.lines,
              },
              items:
                heavy && order.items[0]
                  ? [{ ...order.items[0], quantity: 1, unitWeight: grams(heaviest * 0.9) }, ...order.items.slice(1)]
                  : order.items,
            },
          }
        }
  }
}

/** Of the places those that the box allows. */
function placesIn(
  box: Box,
  places: readonly { country: string; postcode: string }[],
  { space }: Ground,
  own: { country: string; postcode: string },
): readonly { country: string; postcode: string }[] {
  const index = [...box.keys()].find((at) => space.sources[at]!.key === 'fact country')
  if (index === undefined) return [own]
  const { values } = space.sources[index]!.domain
  const { most } = box.get(index)!
  const allowed = new Set(values.filter((_, at) => (most[at >>> 5]! & (1 << (at & 31))) !== 0))
  return [own, ...places.filter((place) => place.country !== own.country && allowed.has(place.country))]
}

/** Gaps of a draft that another rulebook does not have: for its witness the other one finds a service. */
export function newGaps(findings: readonly LogicFinding[], against: Rulebook, world: World): LogicFinding[] {
  const gaps = findings.filter((finding) => finding.kind === 'gap')
  if (gaps.length === 0) return []
  const engine = { program: compileRulebook(against, world.rates), ready: readyWorld(world) }
  return gaps.filter(({ witness }) => witness !== null && decide(witness, engine).quote !== null)
}
