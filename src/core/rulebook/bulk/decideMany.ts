import { type Day, localTime } from '@/core/calendar'
import type { Grams } from '@/core/units'
import {
  type Case,
  correctedWeight,
  openCase,
  takeUp,
  type Decisions,
  defaults,
  type Routed,
  type Stage,
  stages,
} from '@/core/rulebook/language'
import type { Program } from '@/core/rulebook/compile'
import { type Flow, flowCounter, flowOfMany } from './ruleFlow'
import {
  route,
  amountToInsure,
  heldBy,
  leavesAt,
  missingForCustoms,
  offersReturn,
  shipFrom,
} from '@/core/rulebook/decide'
import { firstZone, rowWeighs } from '@/core/world'
import { keptDecisions } from './keptDecisions'
import type { GivenOrder, NumberedRow, OrderBlock, OrderMemory } from './orderBlocks'
import { manyPacker } from './packMany'
import { manyPlacer } from './placeMany'
import { manyServer } from './serveMany'
import { stageMatcher, type StageMatcher } from './stageOfMany'
import { type Carried, nothingCarried, type Said } from './stageOutcomes'

/** What is decided for one of many orders: as `Routed`, without the trail. */
export interface Decided extends Pick<
  Routed,
  'decisions' | 'holdUntil' | 'parcels' | 'location' | 'quote' | 'daysLate'
> {
  /** A person has to look: it has a problem. */
  readonly stuck: boolean
}

export interface ManyDecider {
  readonly memory: OrderMemory
  /** Decides for all orders of a block, from the first on. */
  readonly decide: (block: OrderBlock, each: (order: number, decided: Decided) => void) => void
  /** The same as a list. */
  readonly all: (block: OrderBlock) => Decided[]
  /** The flow through the rules, of all orders decided so far. */
  readonly flow: () => Readonly<Record<string, Flow>>
}

/**
 * Decides for many orders, without trails: the same as `route` for each of them. Facts are read once per block, equal
 * baskets are packed once, and what rules that match together come to is worked out once. Orders with hand pins, which
 * are few, are routed one by one.
 */
export function manyDecider(program: Program, memory: OrderMemory): ManyDecider {
  const { ready } = memory
  const {
    world,
    rateBook: { lanes },
  } = ready
  const { locations } = world
  const zone = firstZone(world)
  const slipIds = new Set(world.slips.map(({ id }) => id))
  const carriers = new Map<string, Carried>()
  const [triage, packing, origin, protection, service, papers] = [
    matcher('triage'),
    matcher('packing'),
    matcher('origin'),
    matcher('protection'),
    matcher('service'),
    matcher('papers'),
  ]
  const matchers = { triage, packing, origin, protection, service, papers }
  const asksRunnerUp =
    program.stages.papers.classifiers.some(({ key }) => key === 'fact runner-up') ||
    program.stages.papers.rules.some(({ rest }) => rest)
  const pack = manyPacker(memory)
  const { fromOf, termsOf } = manyPlacer(memory)
  const { ask, picksOf, serve } = manyServer(memory, asksRunnerUp)
  const pinned = flowCounter(program.rulebook)
  /** The order at hand; see takeUp. */
  let c!: Case
  /** By what the stages said, the wording's meaning, and whether it is held. */
  const kept = keptDecisions(8)
  const { key } = kept
  /** By basket, whether customs would ask for something that is not known. */
  const lacking: boolean[] = []

  return { memory, decide, all, flow: () => flowOfMany(program, pinned.counts, matchers) }

  function all(block: OrderBlock): Decided[] {
    const decided: Decided[] = []
    decide(block, (_, next) => decided.push(next))
    return decided
  }

  function matcher(stage: Stage): StageMatcher {
    return stageMatcher(stage, program.stages[stage], memory, carry)
  }

  function carry(claims: Carried['claims'], counted: Carried['counted']): Carried {
    if (claims.length === 0) return nothingCarried
    const key = JSON.stringify([claims, [...counted]])
    let found = carriers.get(key)
    if (!found) carriers.set(key, (found = { id: carriers.size + 1, claims, counted }))
    return found
  }

  function decide(block: OrderBlock, each: (order: number, decided: Decided) => void): void {
    if (block.cases.length === 0) return
    for (const stage of stages) matchers[stage].open(block)
    c ??= openCase(block.given[0]!.order, ready, 0, block.cases[0]!.basket)
    for (let i = 0; i < block.cases.length; i++)
      each(i, block.pinned[i] === 1 ? routeOne(block.given[i]!) : decideOne(block, i))
  }

  function routeOne({ order, now, pins }: GivenOrder): Decided {
    const routed = route(order, program, ready, { now, pins: pins! })
    pinned.add(routed.trail)
    return { ...routed, stuck: routed.problems.length > 0 }
  }

  // The one path that a hundred thousand orders take: kept in one piece, as calls would cost more than they explain.
  // eslint-disable-next-line complexity
  function decideOne(block: OrderBlock, i: number): Decided {
    const now = block.now[i]!
    let today: Day = localTime(now, zone).day
    const filled = block.filled[i] === 1
    const itemsWeight = block.itemsWeight[i] as Grams
    let stuck = block.troubled[i] === 1
    takeUp(c, block.cases[i]!, now, itemsWeight, zone)

    let outcome = triage.match(i, c, today, nothingCarried, null)
    const first = triage.said[outcome]!
    const held = heldBy(first.values.hold, c)
    const correction = first.values.weight
    c.leaves = leavesAt(first.values.shipOn, held, c)
    c.tags = first.values.tags
    c.held = held.reason !== null
    c.weight = correctedWeight(block.cases[i]!.basket, correction, false)
    const row = meantBy(block.wordingRows[i]!)
    const meaning = row?.row.gives
    c.speed = first.values.speed ?? meaning?.speed ?? null
    c.priority = first.values.priority
    if (c.weight === 0 && filled) stuck = true

    outcome = packing.match(i, c, today, triage.after[outcome]!, first)
    const second = packing.said[outcome]!
    const preset = second.ownSize ? null : (second.values.preset ?? meaning?.preset ?? null)
    if (filled && !pack(c, second, preset, correction, block, i)) stuck = true

    outcome = origin.match(i, c, today, packing.after[outcome]!, first)
    const third = origin.said[outcome]!
    const from = fromOf(c, third)
    const location = from >= 0 ? locations[from]! : null
    if (location) {
      shipFrom(location, c, memory.way(from, block.places[i]!))
      if (c.zone !== zone) today = localTime(now, c.zone).day
    } else stuck = true

    outcome = protection.match(i, c, today, origin.after[outcome]!, first)
    const fourth = protection.said[outcome]!
    const terms = termsOf(c, fourth, from)
    c.signature = fourth.values.signature
    c.residential = terms.residential
    c.within = fourth.values.within
    c.needs = terms.needs
    const insured = amountToInsure(fourth.values.insurance, c.value, ready)
    if (insured === null) stuck = true
    else c.insured = insured

    outcome = service.match(i, c, today, protection.after[outcome]!, first)
    const fifth = service.said[outcome]!
    const picks = picksOf(fifth, meaning)
    const allowed = fifth.values.allowed
    if (allowed?.length === 0) stuck = true
    let lane = -1
    if (c.packed && location && block.bound[i] === 1) {
      ask(block, i, c, from, terms.number)
      lane = serve(c, fifth, picks, block.promised[i]!)
      // A ceiling without an exchange rate lets nothing pass unseen.
      if (lane < 0 || fifth.most === null) stuck = true
    }

    outcome = papers.match(i, c, today, service.after[outcome]!, first)
    const sixth = papers.said[outcome]!
    if (
      lacksPaper(sixth) ||
      (c.trade === 'export' && (lacking[block.baskets[i]!] ??= missingForCustoms(c.order).length > 0)) ||
      (sixth.values.returnLabel && lane >= 0 && !offersReturn(lanes[lane]!.service))
    )
      stuck = true

    key[0] = first.number
    key[1] = second.number
    key[2] = third.number
    key[3] = fourth.number
    key[4] = fifth.number
    key[5] = sixth.number
    key[6] = row ? row.number : 0
    key[7] = held.reason === null ? 0 : 1
    const own =
      kept.find() ??
      kept.keep({
        ...defaults,
        ...first.settled,
        ...second.settled,
        ...third.settled,
        ...fourth.settled,
        ...fifth.settled,
        ...sixth.settled,
        // What does not follow from the rules of its stage alone.
        hold: held.reason,
        speed: c.speed,
        preset,
        picks,
      } as Decisions)
    return {
      decisions: own,
      holdUntil: held.ends === null ? null : new Date(held.ends).toISOString(),
      parcels: c.parcels,
      location: location ? location.id : null,
      quote: c.quote,
      daysLate: c.daysLate ?? null,
      stuck,
    }
  }

  /** What the wording tables say, of the rows about the order's wording and country. */
  function meantBy(rows: readonly NumberedRow[]): NumberedRow | null {
    for (let r = 0; r < rows.length; r++) if (rowWeighs(rows[r]!.row, c.weight, c.value)) return rows[r]!
    return null
  }

  function lacksPaper(said: Said): boolean {
    const { slip, documents } = said.values
    return (said.lacking ??= (slip !== null && !slipIds.has(slip)) || !documents.every((id) => slipIds.has(id)))
  }
}
