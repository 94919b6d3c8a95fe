import type { Day } from '@/core/calendar'
import { sumParcels } from '@/core/packing'
import { reopen, type Case } from '../case'
import { arrivesAt, askedOf, costOf, costSize, noQuote, quoteOne, type Location, type Offer, type Pick as Choice, type Quote } from '@/core/rating'
import { toHome } from '@/core/units'
import type { Need, Speed } from '../catalogue'
import type { Program } from '../compile'
import { defaults, type Decisions, type Hold, type Routed } from '../decisions'
import { flowCounter, type Flow } from '../flow'
import { route } from '../route'
import { stages, type Stage } from '../rulebook'
import { amountToInsure, cheapestPacking, heldBy, locationBy, missingForCustoms, offersReturn, shipFrom, shipmentOf } from '../settle'
import { rowAmong, type WordingMeaning } from '../wordings'
import { byBits } from './byBits'
import type { OrderBlock, OrderMemory, PackedFor, Rated } from './orders'
import { nothingCarried, stageMatcher, type Carried, type Said, type StageMatcher } from './stage'

/** What is decided for one of many orders: as `Routed`, without the trail. */
export interface Decided extends Pick<Routed, 'decisions' | 'holdUntil' | 'parcels' | 'location' | 'quote' | 'daysLate'> {
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
  const { world, rateBook } = ready
  const { lanes } = rateBook
  const laneOf = new Map(lanes.map((lane, i) => [lane.service.id, i]))
  const slipIds = new Set(world.slips.map(({ id }) => id))
  const carriers = new Map<string, Carried>()
  const [triage, packing, origin, protection, service, papers] = [matcher('triage'), matcher('packing'), matcher('origin'), matcher('protection'), matcher('service'), matcher('papers')]
  const matchers = { triage, packing, origin, protection, service, papers }
  const asksRunnerUp = program.stages.papers.classifiers.some(({ key }) => key === 'fact runner-up') || program.stages.papers.rules.some(({ rest }) => rest)
  const pinned = flowCounter(program.rulebook)
  const out = new Float64Array(costSize)
  /** What the services are asked just now. */
  const question: Question = { rated: {} as Rated, ends: [], open: new Uint8Array(0), most: Infinity }
  /** Decisions by what they follow from: what the stages said, the wording's meaning, and whether it is held. Equal ones are one object. */
  let decided = byBits<Decisions>(8)
  const key = new Int32Array(8)
  const meanings = new Map<WordingMeaning, number>()
  /** By basket, whether customs would ask for something that is not known. */
  const lacking: boolean[] = []
  const withDuties = new Map<readonly Need[], readonly Offer[]>()

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
    for (const stage of stages) matchers[stage].open(block)
    for (let i = 0; i < block.cases.length; i++) {
      const { order, now, pins } = block.given[i]!
      if (pins === undefined) each(i, decideOne(block, i))
      else {
        const routed = route(order, program, ready, { now, pins })
        pinned.add(routed.trail)
        each(i, { ...routed, stuck: routed.problems.length > 0 })
      }
    }
  }

  function decideOne(block: OrderBlock, i: number): Decided {
    const c = block.cases[i]!
    const { order } = c
    reopen(c, ready)
    const today: Day = Math.floor(c.now / 86_400_000)
    const filled = block.filled[i] === 1
    let stuck = block.troubled[i] === 1

    let outcome = triage.match(i, c, today, nothingCarried, null)
    const first = outcome.said
    const held = heldBy((first.settled.hold ?? null) as Hold | null, c)
    const correction = first.values.weight
    c.leaves = Math.max(c.now, held.ends ?? 0)
    c.tags = first.values.tags
    c.held = held.reason !== null
    c.weight = Math.max(0, c.basket.itemsWeight + correction)
    const rows = block.wordingRows[i]!
    const meaning = rows.length === 0 ? undefined : rowAmong(rows, order.shipTo.country, c.weight, c.value)?.gives
    c.speed = (first.settled.speed ?? meaning?.speed ?? null) as Speed | null
    c.priority = first.values.priority
    if (c.weight === 0 && filled) stuck = true

    outcome = packing.match(i, c, today, outcome.after, first)
    const second = outcome.said
    const preset = (second.settled.preset ?? meaning?.preset ?? null) as string | null
    if (filled && !packInto(second, preset, correction, block, i)) stuck = true

    outcome = origin.match(i, c, today, outcome.after, first)
    const third = outcome.said
    const wanted = third.values.location
    const location = locationBy(wanted ?? world.locations[0]?.id, c, ready)
    const from = location ? world.locations.indexOf(location) : -1
    if (location) shipFrom(location, c, memory.way(from, block.places[i]!))
    else stuck = true

    outcome = protection.match(i, c, today, outcome.after, first)
    const fourth = outcome.said
    const duties = fourth.values.duties
    const addressKind = fourth.values.addressKind
    const needs = fourth.values.needs
    c.signature = fourth.values.signature
    if (addressKind !== 'as the address says') c.residential = addressKind === 'home'
    c.within = fourth.values.within
    c.needs = duties === 'DDP' && c.trade === 'export' && !needs.includes('duties paid') ? dutiesToo(needs) : needs
    const insured = amountToInsure(fourth.values.insurance, c, ready)
    if (insured === null) stuck = true
    else c.insured = insured

    outcome = service.match(i, c, today, outcome.after, first)
    const fifth = outcome.said
    const picks = (fifth.settled.picks ?? (meaning?.pick ? memory.same([meaning.pick]) : defaults.picks)) as readonly Choice[]
    const allowed = fifth.values.allowed
    if (allowed?.length === 0) stuck = true
    if (c.parcels.length > 0 && location && block.bound[i] === 1 && !serve(fifth, picks, ratedFor(block, i, location, from), block.promised[i]!, c)) stuck = true

    outcome = papers.match(i, c, today, outcome.after, first)
    const sixth = outcome.said
    const slip = sixth.values.slip
    const documents = sixth.values.documents
    if ((slip !== null && !slipIds.has(slip)) || !documents.every((id) => slipIds.has(id)) || (c.trade === 'export' && (lacking[block.baskets[i]!] ??= missingForCustoms(order).length > 0)) || (sixth.values.returnLabel && c.quote && !offersReturn(c.quote.service, ready))) stuck = true

    if (decided.all.length === mostDecisions) decided = byBits(8)
    key[0] = first.number
    key[1] = second.number
    key[2] = third.number
    key[3] = fourth.number
    key[4] = fifth.number
    key[5] = sixth.number
    key[6] = meaning ? numberOf(meaning) : 0
    key[7] = held.reason === null ? 0 : 1
    const decisions: Decisions = decided.find(key) ?? decided.add(key, {
      tags: c.tags, hold: held.reason, weight: correction, speed: c.speed, priority: c.priority, combine: first.values.combine,
      preset, dimensions: second.values.dimensions, inserts: second.values.inserts, apart: second.values.apart, parcelLimits: second.values.parcelLimits, split: second.values.split,
      location: wanted, insurance: fourth.values.insurance, signature: c.signature, duties, addressKind, needs, within: c.within,
      picks, barred: fifth.values.barred, allowed, ceiling: fifth.values.ceiling,
      slip, documents, reference: sixth.values.reference, buyByItself: sixth.values.buyByItself, returnLabel: sixth.values.returnLabel, notice: sixth.values.notice, tellWhen: sixth.values.tellWhen,
    })
    return { decisions, holdUntil: held.ends === null ? null : new Date(held.ends).toISOString(), parcels: c.parcels, location: location?.id ?? null, quote: c.quote, daysLate: c.daysLate ?? null, stuck }
  }

  /** Packs an order as it is wanted, unless it was packed so before; false when it cannot be. */
  function packInto(said: Said, preset: string | null, correction: number, block: OrderBlock, i: number): boolean {
    const c = block.cases[i]!
    const { inserts, split } = said.values
    const wishes = (said.kept.wishes ??= memory.same([JSON.stringify([said.settled.dimensions, said.settled.apart, said.settled.parcelLimits, split])])[0]!)
    let added = correction
    for (let k = 0; k < inserts.length; k++) added += inserts[k]!.weight
    let packed = block.packed[i]
    if (packed?.wishes !== wishes || packed.preset !== preset || packed.added !== added || packed.leaves !== c.leaves) packed = block.packed[i] = packedFor(said, wishes, preset, added, block.baskets[i]!, c)
    c.parcels = packed.parcels
    c.packed = packed.sums
    return packed.parcels.length > 0
  }

  function packedFor({ values }: Said, wishes: string, preset: string | null, added: number, basket: number, c: Case): PackedFor {
    const { ways, sums } = memory.pack(basket, c.order.items, { preset, dimensions: values.dimensions, apart: values.apart, limits: values.parcelLimits, added }, values.split, `${basket} ${added} ${preset ?? ''} ${wishes}`)
    const parcels = ways.length > 1 ? cheapestPacking(c, ready, ways).parcels : (ways[0] ?? [])
    return { wishes, preset, added, leaves: c.leaves, parcels, sums: ways.length > 1 ? sumParcels(parcels) : sums }
  }

  function numberOf(meaning: WordingMeaning): number {
    let number = meanings.get(meaning)
    if (number === undefined) meanings.set(meaning, (number = meanings.size + 1))
    return number
  }

  function dutiesToo(needs: readonly Need[]): readonly Offer[] {
    let found = withDuties.get(needs)
    if (!found) withDuties.set(needs, (found = memory.same([...needs, 'duties paid'])))
    return found
  }

  /** The answers to what is asked now of services for an order: those that are known, when the same was asked before. */
  function ratedFor(block: OrderBlock, i: number, location: Location, from: number): RatedFrom {
    const c = block.cases[i]!
    const { parcels, residential, signature, insured, within, leaves, needs } = c
    const ends = memory.ends(from, block.places[i]!)
    const known = block.rated[i]
    if (known && known.parcels === parcels && known.location === location && known.residential === residential && known.signature === signature && known.insured === insured && known.within === within && known.leaves === leaves && known.needs === needs) return { rated: known, ends }
    const rated = { parcels, location, residential, signature, insured, within, leaves, needs, asked: askedOf(shipmentOf(c, ready, parcels, location)), costs: new Int32Array(lanes.length).fill(unasked), arrivals: new Int32Array(lanes.length), quotes: [] }
    block.rated[i] = rated
    return { rated, ends }
  }

  /** Chooses the service; false when none is left. Services are asked for their price only as far as the picks need it. */
  function serve(said: Said, picks: readonly Choice[], { rated, ends }: RatedFrom, promised: Day, c: Case): boolean {
    const { ceiling } = said.values
    const most = ceiling === null ? Infinity : toHome(ceiling, world.rates)
    question.rated = rated
    question.ends = ends
    question.open = said.kept.open ??= openLanes(said)
    question.most = most ?? Infinity
    const found = chosen(picks, promised)
    if (found < 0) return false
    c.quote = quoteOf(found)
    if (promised !== Infinity) c.daysLate = rated.arrivals[found]! - promised
    if (asksRunnerUp) {
      const other = best(cheaper, Infinity, found)
      c.runnerUp = other < 0 ? null : quoteOf(other)
    }
    // A ceiling without an exchange rate lets nothing pass unseen.
    return most !== null
  }

  function openLanes({ settled }: Said): Uint8Array {
    const barred = (settled.barred ?? []) as readonly string[]
    const allowed = settled.allowed as readonly string[] | undefined
    return Uint8Array.from(lanes, ({ service: { id, carrier } }) => (barred.includes(id) || barred.includes(carrier) || (allowed && !allowed.includes(id) && !allowed.includes(carrier)) ? 0 : 1))
  }

  function chosen(picks: readonly Choice[], promised: Day): number {
    for (const pick of picks) {
      const found = pick.by === 'service' ? named(pick.service) : pick.by === 'fastest' ? best(faster, Infinity) : best(cheaper, pick.by === 'cheapest' ? Infinity : promised)
      if (found >= 0) return found
    }
    return -1
  }

  function named(id: string): number {
    const lane = laneOf.get(id) ?? -1
    return lane >= 0 && takes(lane) ? lane : -1
  }

  /** The best of the services that arrive by a day, besides one; the first among equals. */
  function best(before: Before, by: Day, besides = -1): number {
    const { rated } = question
    let found = -1
    for (let lane = 0; lane < lanes.length; lane++) if (lane !== besides && takes(lane) && rated.arrivals[lane]! <= by && (found < 0 || before(rated, lane, found))) found = lane
    return found
  }

  /** Whether a service carries what is asked for the most that may be spent. */
  function takes(lane: number): boolean {
    if (question.open[lane] === 0) return false
    const { costs, arrivals, asked } = question.rated
    if (costs[lane] === unasked) {
      costs[lane] = costOf(rateBook, lanes[lane]!, question.ends[lane]!, asked, out)
      arrivals[lane] = out[arrivesAt]!
    }
    return costs[lane] !== noQuote && costs[lane]! <= question.most
  }

  function quoteOf(lane: number): Quote {
    const { rated } = question
    return (rated.quotes[lane] ??= quoteOne(rateBook, lanes[lane]!, rated.asked, rated.location) as Quote)
  }

  function flow(): Readonly<Record<string, Flow>> {
    const flows = Object.fromEntries(Object.entries(pinned.counts).map(([rule, counts]) => [rule, { ...counts }]))
    for (const stage of stages) {
      const ended = new Map<string, number>()
      let left = 0
      for (const { orders, matched, finishedBy, deciding } of matchers[stage].outcomes()) {
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

const unasked = -2
// Past this many they are let go and made anew.
const mostDecisions = 50_000

interface RatedFrom {
  readonly rated: Rated
  readonly ends: ReturnType<OrderMemory['ends']>
}

interface Question {
  rated: Rated
  ends: ReturnType<OrderMemory['ends']>
  /** By service: 1 when no rule bars it. */
  open: Uint8Array
  /** The most that may be spent. */
  most: number
}

type Before = (rated: Rated, a: number, b: number) => boolean
const cheaper: Before = ({ costs, arrivals }, a, b) => costs[a]! < costs[b]! || (costs[a] === costs[b] && arrivals[a]! < arrivals[b]!)
const faster: Before = ({ costs, arrivals }, a, b) => arrivals[a]! < arrivals[b]! || (arrivals[a] === arrivals[b] && costs[a]! < costs[b]!)
