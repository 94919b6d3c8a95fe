import { type Day, localTime } from '@/core/calendar'
import { sumParcels } from '@/core/packing'
import type { Pick as Choice } from '@/core/rating'
import { type Grams, toHome } from '@/core/units'
import {
  type Case,
  correctedWeight,
  openCase,
  takeUp,
  originWays,
  type Decisions,
  defaults,
  type Routed,
  type Stage,
  stages,
} from '@/core/rulebook/language'
import type { Program } from '@/core/rulebook/compile'
import { type Flow, flowCounter } from './ruleFlow'
import {
  route,
  amountToInsure,
  cheapestPacking,
  heldBy,
  leavesAt,
  locationBy,
  missingForCustoms,
  neededOffers,
  offersReturn,
  shipFrom,
} from '@/core/rulebook/decide'
import { firstLocation, firstZone, rowWeighs, type WordingMeaning } from '@/core/world'
import { bitKeys } from './bitKeys'
import type { GivenOrder, NumberedRow, OrderBlock, OrderMemory, PackedFor, Terms } from './orderBlocks'
import { serviceChooser } from './prices'
import { type Carried, nothingCarried, type Said, stageMatcher, type StageMatcher } from './stageOfMany'

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
  const services = serviceChooser(memory)
  const pinned = flowCounter(program.rulebook)
  /** The order at hand; see takeUp. */
  let c!: Case
  /**
   * Decisions by what they follow from: what the stages said, the wording's meaning, and whether it is held. Equal
   * ones are one object.
   */
  let decided = bitKeys(8)
  const decisions: Decisions[] = []
  const key = new Int32Array(8)
  /** By basket, whether customs would ask for something that is not known. */
  const lacking: boolean[] = []
  const pickOf = new Map<WordingMeaning, readonly Choice[]>()

  return { memory, decide, all, flow }

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
    if (filled && !packInto(second, preset, correction, block, i)) stuck = true

    outcome = origin.match(i, c, today, packing.after[outcome]!, first)
    const third = origin.said[outcome]!
    const from = fromOf(third)
    const location = from >= 0 ? locations[from]! : null
    if (location) {
      shipFrom(location, c, memory.way(from, block.places[i]!))
      if (c.zone !== zone) today = localTime(now, c.zone).day
    } else stuck = true

    outcome = protection.match(i, c, today, origin.after[outcome]!, first)
    const fourth = protection.said[outcome]!
    const terms = termsOf(fourth, from)
    c.signature = fourth.values.signature
    c.residential = terms.residential
    c.within = fourth.values.within
    c.needs = terms.needs
    const insured = amountToInsure(fourth.values.insurance, c.value, ready)
    if (insured === null) stuck = true
    else c.insured = insured

    outcome = service.match(i, c, today, protection.after[outcome]!, first)
    const fifth = service.said[outcome]!
    const picks = (fifth.settled.picks ?? (meaning?.pick ? picksBy(meaning) : defaults.picks)) as readonly Choice[]
    const allowed = fifth.values.allowed
    if (allowed?.length === 0) stuck = true
    let lane = -1
    if (c.packed && location && block.bound[i] === 1) {
      services.ask(block, i, c, from, terms.number)
      lane = serve(fifth, picks, block.promised[i]!)
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
    const known = decided.find(key)
    const own =
      known >= 0
        ? decisions[known]!
        : keepDecisions({
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

  function keepDecisions(made: Decisions): Decisions {
    if (decided.count() === maxDecisions) {
      decided = bitKeys(8)
      decisions.length = 0
    }
    decided.add(key)
    decisions.push(made)
    return made
  }

  /** What the wording tables say, of the rows about the order's wording and country. */
  function meantBy(rows: readonly NumberedRow[]): NumberedRow | null {
    for (let r = 0; r < rows.length; r++) if (rowWeighs(rows[r]!.row, c.weight, c.value)) return rows[r]!
    return null
  }

  /** Packs an order as it is wanted, unless it was packed so before; false when it cannot be. */
  function packInto(said: Said, preset: string | null, correction: number, block: OrderBlock, i: number): boolean {
    const { settled, values } = said
    const wishes = (said.wishes ??= memory.same([
      JSON.stringify([settled.dimensions, settled.apart, settled.parcelLimits, values.split]),
    ])[0]!)
    const added = correction + (said.inserts ??= values.inserts.reduce((sum, { weight }) => sum + weight, 0))
    let packed = block.packed[i]
    if (
      packed?.wishes !== wishes ||
      packed.preset !== preset ||
      packed.added !== added ||
      (packed.leaves !== null && packed.leaves !== c.leaves)
    )
      packed = block.packed[i] = packedFor(values, wishes, preset, added, block.baskets[i]!)
    c.parcels = packed.parcels
    c.packed = packed.sums
    return packed.sums !== null
  }

  function packedFor(
    { dimensions, apart, parcelLimits, split }: Decisions,
    wishes: string,
    preset: string | null,
    added: number,
    basket: number,
  ): PackedFor {
    const { ways, only } = memory.pack(
      basket,
      c.order.items,
      { preset, dimensions, apart, limits: parcelLimits, added },
      split,
      wishes,
    )
    if (only) return only
    const { parcels } = cheapestPacking(c, ready, ways)
    return { wishes, preset, added, leaves: c.leaves, parcels, sums: sumParcels(parcels) }
  }

  /**
   * The number of the location that Origin wants; −1 when there is none. One that is named is the same for all orders.
   */
  function fromOf(said: Said): number {
    if (said.from !== undefined) return said.from
    const wanted = said.values.location ?? firstLocation(world)?.id
    const found = locationBy(wanted, c, ready)
    const from = found ? locations.indexOf(found) : -1
    // One that is switched off gives way to another, order by order.
    if (!originWays.some((way) => way === wanted) && (!found || found.id === wanted)) said.from = from
    return from
  }

  function termsOf({ terms: known, values }: Said, from: number): Terms {
    const variant = 4 * (from + 1) + (c.atHome ? 2 : 0) + (c.trade === 'export' ? 1 : 0)
    let found = known[variant]
    if (!found) {
      const { addressKind, signature, within } = values
      const residential = addressKind === 'as the address says' ? c.atHome : addressKind === 'home'
      found = known[variant] = memory.terms(from, residential, signature, within, neededOffers(values, c))
    }
    return found
  }

  /** Chooses the service and takes it into the facts; −1 when none is left. */
  function serve(said: Said, picks: readonly Choice[], promised: Day): number {
    const { ceiling } = said.values
    if (said.most === undefined) said.most = ceiling === null ? Infinity : toHome(ceiling, world.rates)
    const lane = services.choose(picks, (said.open ??= openLanes(said)), said.most ?? Infinity, promised)
    if (lane < 0) return lane
    c.quote = services.quote(lane)
    if (promised !== Infinity) c.daysLate = services.arrival(lane) - promised
    if (asksRunnerUp) {
      const other = services.runnerUp(lane)
      c.runnerUp = other < 0 ? null : services.quote(other)
    }
    return lane
  }

  function openLanes({ settled }: Said): Uint8Array {
    const barred = (settled.barred ?? []) as readonly string[]
    const allowed = settled.allowed as readonly string[] | undefined
    return Uint8Array.from(lanes, ({ service: { id, carrier } }) =>
      barred.includes(id) ||
      barred.includes(carrier) ||
      (allowed && !allowed.includes(id) && !allowed.includes(carrier))
        ? 0
        : 1,
    )
  }

  function picksBy(meaning: WordingMeaning): readonly Choice[] {
    let found = pickOf.get(meaning)
    if (!found) pickOf.set(meaning, (found = memory.same([meaning.pick!])))
    return found
  }

  function lacksPaper(said: Said): boolean {
    const { slip, documents } = said.values
    return (said.lacking ??= (slip !== null && !slipIds.has(slip)) || !documents.every((id) => slipIds.has(id)))
  }

  function flow(): Readonly<Record<string, Flow>> {
    const flows = Object.fromEntries(Object.entries(pinned.counts).map(([rule, counts]) => [rule, { ...counts }]))
    for (const stage of stages) {
      const ended = new Map<string, number>()
      let left = 0
      for (const [number, { matched, finishedBy, deciding }] of matchers[stage].outcomes.entries()) {
        const orders = matchers[stage].ordersOf(number)
        left += orders
        if (finishedBy !== undefined) ended.set(finishedBy, (ended.get(finishedBy) ?? 0) + orders)
        for (const rule of matched) flows[rule]!.matched += orders
        for (const rule of deciding) flows[rule]!.decided += orders
      }
      for (const { rule } of program.stages[stage].rules) {
        flows[rule.id]!.came += left
        left -= ended.get(rule.id) ?? 0
      }
    }
    return flows
  }
}

// Past this many they are let go and made again.
const maxDecisions = 50_000
