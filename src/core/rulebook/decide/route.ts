import { dayOf, localTime } from '@/core/calendar'
import type { Order, OrderProblem } from '@/core/order'
import { chooseQuote, type Quote, quoteAll, type Refusal, type RefusalCode } from '@/core/rating'
import { formatMoney, grams, type Grams, money, toHome } from '@/core/units'
import {
  type Case,
  correctedWeight,
  type DecisionId,
  type Decisions,
  decisionsOf,
  defaults,
  openCase,
  type Pins,
  promiseChance,
  type Routed,
  setParcels,
  type Stage,
  stages,
  type StageTrail,
  type Trail,
} from '@/core/rulebook/language'
import { type Claims, claimsFor, type Meant } from './claims'
import type { Program, StageProgram } from '@/core/rulebook/compile'
import {
  amountToInsure,
  cheapestPacking,
  heldBy,
  leavesAt,
  lacks,
  locationBy,
  missingForCustoms,
  neededOffers,
  offersReturn,
  shipFrom,
  shipmentOf,
  wayBetween,
} from './settle'
import { firstLocation, type WordingMeaning, wordingRow, type WordingRow, type ReadyWorld } from '@/core/world'

export interface Circumstances {
  /** Milliseconds since 1970, UTC: the core has no clock. */
  readonly now: number
  readonly pins?: Pins
  /** Only as far as the decisions of this stage; with Service, no service is asked yet. All stages without it. */
  readonly until?: Stage
}

/**
 * Decides for one order: `{ decisions, trail }` and what follows from them. Pure: the same order, program, world and
 * circumstances give the same answer everywhere. It never throws; what cannot be settled becomes a problem with a
 * sentence, and the order waits for a person.
 */
export function route(order: Order, program: Program, ready: ReadyWorld, circumstances: Circumstances): Routed {
  const routing = new Routing(order, program, ready, circumstances)
  for (const stage of stages) {
    routing.work(stage)
    if (stage === circumstances.until) break
  }
  return routing.outcome()
}

const refusalOrder: readonly RefusalCode[] = [
  'barred',
  'not-allowed',
  'switched-off',
  'too-dear',
  'too-slow',
  'no-cover',
  'no-signature',
  'no-offer',
  'unprotected',
  'unknown-carrier',
  'collects-less',
  'late-for-channel',
  'dangerous-goods',
  'post-office-box',
  'too-many',
  'too-voluminous',
  'too-big',
  'too-long',
  'too-heavy',
  'no-band',
  'no-price',
  'no-rate',
  'no-tariff',
  'domestic-only',
  'not-covered',
]

const names = (list: readonly string[], quote: Quote): boolean =>
  list.includes(quote.service) || list.includes(quote.carrier)

/** The state of one order between the stages; it lives for one call of `route`. */
class Routing {
  private readonly c: Case
  private readonly claims: Claims
  private readonly stageTrails: StageTrail[] = []
  private readonly problems: OrderProblem[]
  private readonly decided: { -readonly [K in keyof Decisions]: Decisions[K] } = { ...defaults }
  private quotes: readonly Quote[] = []
  private refusals: readonly Refusal[] = []
  private packings: Trail['packings']
  private holdEnds: number | null = null
  /** The row of the wording table that fits; undefined until it is asked for. */
  private meaning: WordingRow | null | undefined

  constructor(
    private readonly order: Order,
    private readonly program: Program,
    private readonly ready: ReadyWorld,
    private readonly circumstances: Circumstances,
  ) {
    this.claims = claimsFor(circumstances.pins, ready.servicesOf)
    this.c = openCase(order, ready, circumstances.now)
    this.problems = [...order.problems, ...lacks(order)]
    if (this.c.value === undefined && !this.has('unknown-currency'))
      this.problem('no-rate', `There is no exchange rate for ${order.value.currency}: add one, then route again.`)
  }

  work(stage: Stage): void {
    this.collectClaims(stage)
    switch (stage) {
      case 'triage':
        return this.triage()
      case 'packing':
        return this.packing()
      case 'origin':
        return this.origin()
      case 'protection':
        return this.protection()
      case 'service':
        return this.service()
      case 'papers':
        return this.papers()
    }
  }

  outcome(): Routed {
    return {
      decisions: this.decided,
      holdUntil: this.holdEnds === null ? null : new Date(this.holdEnds).toISOString(),
      parcels: this.c.parcels,
      location: this.c.location?.id ?? null,
      residential: this.c.residential,
      trade: this.c.trade ?? null,
      quote: this.c.quote,
      runnerUp: this.c.runnerUp,
      daysLate: this.c.daysLate ?? null,
      problems: this.problems,
      trail: {
        stages: this.stageTrails,
        decisions: this.claims.entries,
        quotes: this.quotes,
        refusals: this.refusals,
        ...(this.packings ? { packings: this.packings } : {}),
      },
    }
  }

  private collectClaims(stage: Stage): void {
    const program = this.program.stages[stage]
    const matched: string[] = []
    let finishedBy: string | undefined
    const mask = matchMask(program, this.c)
    // The day is the location's; the first one's until Origin has settled it.
    const today = localTime(this.c.now, this.c.zone).day
    let asked = -1
    scan: for (let word = 0; word < program.words; word++) {
      let bits = mask[word]!
      while (bits !== 0) {
        const low = bits & -bits
        bits ^= low
        const place = program.ruleAt[(word << 5) + 31 - Math.clz32(low)]
        // The same rule may hold in several ways.
        if (place === undefined || place === asked) continue
        asked = place
        const entry = program.rules[place]!
        if (today < entry.from || today > entry.until || (entry.rest && !entry.rest(this.c))) continue
        const { rule } = entry
        matched.push(rule.id)
        for (const { decision, value } of entry.actions) this.claims.add(decision, { rule: rule.id, value })
        if (rule.finishStage) {
          finishedBy = rule.id
          break scan
        }
      }
    }
    if (matched.length > 0) this.stageTrails.push(finishedBy ? { stage, matched, finishedBy } : { stage, matched })
  }

  /** Settles the decisions of a stage, in their order. */
  private settle(stage: Stage): void {
    for (const kind of decisionsOf[stage]) this.decided[kind.id] = this.settled(kind) as never
  }

  private settled(kind: (typeof decisionsOf)[Stage][number]): unknown {
    if (kind.id === 'preset' && this.ownSize()) return this.claims.overruled('preset', 'dimensions')
    return this.claims.settled(kind, kind.meaning && this.meant(kind.meaning))
  }

  /** Own dimensions, by a person or a rule above, go before a preset. */
  private ownSize(): boolean {
    return this.claims.goesBefore('dimensions', 'preset')
  }

  private triage(): void {
    const { c } = this
    this.settle('triage')
    // The decision keeps the reason alone, and only while the hold lasts.
    const held = heldBy(this.decided.hold, c)
    this.decided.hold = held.reason
    this.holdEnds = held.ends
    c.leaves = leavesAt(this.decided.shipOn, held, c)
    c.tags = this.decided.tags
    c.held = held.reason !== null
    c.weight = this.weight()
    c.speed = this.decided.speed
    c.priority = this.decided.priority
    // A person has said what it weighs: then a missing item weight is in nobody's way. A rule that adds some grams
    // has not.
    if (this.decided.weight > 0 && this.weighedByHand()) this.drop('no-weight')
    else if (c.weight === 0 && this.order.items.length > 0 && !this.has('no-weight'))
      this.problem('no-weight', 'The order weighs nothing: correct its weight.')
  }

  private packing(): void {
    this.settle('packing')
    if (this.order.items.length === 0) return
    const wishes = {
      preset: this.decided.preset,
      dimensions: this.decided.dimensions,
      apart: this.decided.apart,
      limits: this.decided.parcelLimits,
      added: grams(this.decided.weight + this.decided.inserts.reduce((sum, insert) => sum + insert.weight, 0)),
    }
    const { packed, others } = this.ready.pack(this.order.items, wishes, this.decided.split === 'when cheaper')
    if (!packed.ok)
      return this.problem(
        packed.code,
        packed.sentence + this.blame(packed.cause === 'preset' && this.ownSize() ? 'dimensions' : packed.cause),
      )
    if (others.length === 0) return setParcels(this.c, packed.parcels)
    const ways = [packed.parcels, ...others]
    const { parcels, costs } = cheapestPacking(this.c, this.ready, ways)
    this.packings = ways.map((way, i) => ({
      presets: way.map((parcel) => parcel.preset),
      cost: costs[i] === Infinity ? null : costs[i]!,
    }))
    setParcels(this.c, parcels)
  }

  private origin(): void {
    this.settle('origin')
    const wanted = this.decided.location ?? firstLocation(this.ready.world)?.id
    const location = locationBy(wanted, this.c, this.ready)
    if (!location)
      return this.problem(
        'unknown-location',
        `The location "${wanted ?? ''}" does not exist: choose another one.${this.blame('location')}`,
      )
    shipFrom(location, this.c, wayBetween(location, this.order.shipTo, this.ready))
  }

  private protection(): void {
    this.settle('protection')
    this.c.signature = this.decided.signature
    if (this.decided.addressKind !== 'as the address says') this.c.residential = this.decided.addressKind === 'home'
    this.c.within = this.decided.within
    this.c.needs = neededOffers(this.decided, this.c)
    const amount = amountToInsure(this.decided.insurance, this.c.value, this.ready)
    if (amount === null) {
      if (!this.has('no-rate') && !this.has('unknown-currency'))
        this.problem('no-rate', 'The amount to insure has no exchange rate: add one, then route again.')
    } else this.c.insured = amount
  }

  private service(): void {
    this.settle('service')
    if (this.decided.allowed?.length === 0 && !(this.circumstances.pins && 'allowed' in this.circumstances.pins))
      this.problem('nothing-allowed', 'The rules that say which services may be used leave none: see the trail.')
    const { parcels, location } = this.c
    const { order } = this
    if (this.circumstances.until === 'service' || parcels.length === 0 || !location || !order.shipTo.country) return
    const all = quoteAll(this.ready.rateBook, shipmentOf(this.c, this.ready, parcels, location))
    const refusals = [...all.refusals]
    const ceiling = this.ceilingInHome()
    this.quotes = all.quotes.filter((quote) => {
      const barred = names(this.decided.barred, quote)
      const outside = this.decided.allowed !== null && !names(this.decided.allowed, quote)
      if (barred)
        refusals.push({
          service: quote.service,
          carrier: quote.carrier,
          code: 'barred',
          sentence: `barred${this.barredBy(quote)}`,
        })
      else if (outside)
        refusals.push({
          service: quote.service,
          carrier: quote.carrier,
          code: 'not-allowed',
          sentence: 'not among the services that rules allow',
        })
      const dear = !barred && !outside && quote.cost > ceiling
      if (dear)
        refusals.push({
          service: quote.service,
          carrier: quote.carrier,
          code: 'too-dear',
          sentence: `costs ${this.inHome(quote.cost)}, ${this.inHome(quote.cost - ceiling)} above the ceiling`,
        })
      return !barred && !outside && !dear
    })
    this.refusals = refusals
    const choice = chooseQuote(this.quotes, this.decided.picks, order.promisedBy, (quote) =>
      promiseChance(this.c, quote),
    )
    if (!choice) return this.noService()
    this.c.quote = choice.quote
    this.c.runnerUp = choice.runnerUp
    if (order.promisedBy) this.c.daysLate = dayOf(choice.quote.arrivesOn) - dayOf(order.promisedBy)
  }

  /**
   * The ceiling in minor units of the home currency; Infinity when there is none. One without an exchange rate lets
   * nothing pass unseen: it is a problem.
   */
  private ceilingInHome(): number {
    const { ceiling } = this.decided
    if (ceiling === null) return Infinity
    const minor = toHome(ceiling, this.ready.world.rates)
    if (minor === null)
      this.problem(
        'no-rate',
        `There is no exchange rate for the cost ceiling in ${ceiling.currency}: add one, then route again.`,
      )
    return minor ?? Infinity
  }

  private inHome(minor: number): string {
    return formatMoney(money(minor, this.ready.world.rates.home))
  }

  private barredBy(quote: Quote): string {
    const claim = this.claims
      .of('barred')
      .find(({ value }) => (value as readonly string[]).some((id) => id === quote.service || id === quote.carrier))
    const rule = claim && this.program.rulebook.rules.find((candidate) => candidate.id === claim.rule)
    return rule ? ` by the rule "${rule.name}"` : ' by hand'
  }

  private noService(): void {
    const serviceOf = (id: string): string => this.ready.world.services.find((service) => service.id === id)?.name ?? id
    if (this.quotes.length > 0) {
      const wanted = this.decided.picks.map((pick) => {
        if (pick.by !== 'service')
          return pick.by === 'cheapest by promise'
            ? `nothing arrives by the promised day${pick.chance === undefined ? '' : ` with ${pick.chance} %`}`
            : pick.by
        const refusal = this.refusals.find((candidate) => candidate.service === pick.service)
        return refusal
          ? `${serviceOf(pick.service)} ${refusal.sentence}`
          : `the service "${pick.service}" does not exist`
      })
      return this.problem(
        'no-pick',
        `No wanted service can be used (${wanted.join('; ') || 'none is named'}); ${this.quotes.length} others could carry it.${this.blame('picks')}`,
      )
    }
    // What a person could change stands first; that a service never goes there at all, last.
    const reasons = this.refusals
      .filter((refusal) => refusal.code !== 'location')
      .sort((a, b) => refusalOrder.indexOf(a.code) - refusalOrder.indexOf(b.code))
      .slice(0, 4)
      .map((refusal) => `${serviceOf(refusal.service)} ${refusal.sentence}`)
    this.problem(
      'no-service',
      `No service: ${reasons.join('; ') || `none collects in ${this.c.location?.name ?? 'this location'}`}.`,
    )
  }

  private papers(): void {
    this.settle('papers')
    for (const id of this.decided.documents)
      if (!this.ready.world.slips.some((template) => template.id === id))
        this.problem(
          'unknown-slip',
          `The slip template "${id}", which is to be printed besides, does not exist: choose another one.`,
        )
    const { quote } = this.c
    const service =
      this.decided.returnLabel && quote ? this.ready.world.services.find(({ id }) => id === quote.service) : undefined
    if (service && !offersReturn(service))
      this.problem(
        'no-return-label',
        `${service.name} gives no return labels: choose another service, or send it without.${this.blame('returnLabel')}`,
      )
    // What customs will ask of an item is asked now, before a label is bought.
    if (this.c.trade === 'export')
      for (const sentence of missingForCustoms(this.order)) this.problem('no-customs-data', sentence)
    const { slip } = this.decided
    if (slip !== null && !this.ready.world.slips.some((template) => template.id === slip))
      this.problem(
        'unknown-slip',
        `The slip template "${slip}" does not exist: choose another one.${this.blame('slip')}`,
      )
  }

  private weighedByHand(): boolean {
    return this.circumstances.pins !== undefined && 'weight' in this.circumstances.pins
  }

  /** Grams of the items with the correction, which is settled. */
  private weight(): Grams | undefined {
    return correctedWeight(this.c.basket, this.decided.weight, this.weighedByHand())
  }

  /** What the wording table gives for a decision. */
  private meant(of: keyof WordingMeaning): Meant | undefined {
    if (this.meaning === undefined) this.meaning = this.rowOfWording()
    if (!this.meaning) return undefined
    const { gives, wording } = this.meaning
    const given = gives[of]
    return given === undefined ? undefined : { value: of === 'pick' ? [given] : given, wording }
  }

  private rowOfWording(): WordingRow | null {
    const { channel, wording, shipTo } = this.order
    const { value } = this.c
    return wordingRow(this.ready.wordings, { channel, wording, country: shipTo.country, weight: this.weight(), value })
  }

  /** Which rule is to blame for a decision, as the end of a sentence. */
  private blame(id: DecisionId): string {
    const entry = this.claims.entries.find((candidate) => candidate.decision === id)
    if (!entry || entry.by.kind === 'default' || entry.value === null) return ''
    if (entry.by.kind === 'pin') return ' (Pinned by hand.)'
    const { by } = entry
    const rule =
      by.kind === 'rule' ? this.program.rulebook.rules.find((candidate) => candidate.id === by.rule) : undefined
    if (rule) return ` (Rule "${rule.name}".)`
    return by.kind === 'wording table' ? ` (Wording table, "${by.wording}".)` : ''
  }

  private problem(code: string, sentence: string): void {
    this.problems.push({ code, sentence })
  }

  private has(code: string): boolean {
    return this.problems.some((problem) => problem.code === code)
  }

  private drop(code: string): void {
    for (let i = this.problems.length - 1; i >= 0; i--) if (this.problems[i]!.code === code) this.problems.splice(i, 1)
  }
}

/** The bits of the stage (`StageProgram.ruleAt`): set when every part that rests on a single source holds. */
export function matchMask(program: StageProgram, c: Case): Int32Array {
  const mask = new Int32Array(program.words).fill(-1)
  for (const { row, says } of program.classifiers) {
    const bits = row(c)
    for (const word of says) mask[word]! &= bits[word]!
  }
  return mask
}
