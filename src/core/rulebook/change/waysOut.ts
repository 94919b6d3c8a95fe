import type { MinorUnits } from '@/core/units'
import { type Address, type Order } from '@/core/order'
import { correctAll, withAddressAccepted, withAddressChecked } from '@/core/address'
import { dayText, localTime } from '@/core/calendar'
import { mayHoldEach } from '@/core/packing'
import type { RefusalCode } from '@/core/rating'
import type { Program } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { defaults, type DecisionId, type Pins, type Routed } from '@/core/rulebook/language'
import { firstZone, type ReadyWorld } from '@/core/world'
import type { HandEdit } from './handEdits'

/** A smallest change that would let an order go which needs attention, tried by the engine. */
export interface WayOut {
  /** The same for the same change, of whichever order. */
  readonly key: string
  /** What is changed: “from Poznań”, “without the signature”. */
  readonly words: string
  /** What a person decides by hand; none where the address is what changes. */
  readonly edits: readonly HandEdit[]
  readonly address: 'corrected' | 'as it is' | null
  readonly service: string
  readonly carrier: string
  /** Minor units of the home currency. */
  readonly cost: MinorUnits
  readonly arrivesOn: string
  /** Days after the promised day; null without one. */
  readonly daysLate: number | null
  /** It waits until then first (ISO 8601); null when it goes at once. */
  readonly holdUntil: string | null
}

/** What orders are decided by, and when (milliseconds since 1970, UTC). */
export interface Deciding {
  readonly program: Program
  readonly ready: ReadyWorld
  readonly now: number
}

interface Candidate {
  readonly key: string
  readonly words: string
  readonly edits: readonly HandEdit[]
  readonly address?: 'corrected' | 'as it is'
}

const mostPairs = 20
const mostWays = 6

/**
 * The ways out of an order's problems, cheapest first: each alone, or two together where none alone helps. Each is
 * decided by the engine as it would be; none is offered that leaves a problem. Empty when nothing helps, or there is no
 * problem.
 */
export function waysOut(order: Order, routed: Routed, pins: Pins, deciding: Deciding): readonly WayOut[] {
  if (routed.problems.length === 0) return []
  const singles = candidatesFor(order, routed, pins, deciding)
  const tried = singles.flatMap((one) => attempt(order, pins, [one], deciding) ?? [])
  return cheapest(
    tried.length > 0 ? tried : pairsOf(singles).flatMap((two) => attempt(order, pins, two, deciding) ?? []),
  )
}

/** What may help together with something else: another place to send from, a bar lifted, the address. */
const together: ReadonlySet<string> = new Set(['location', 'barred', 'allowed', 'address'])

function pairsOf(singles: readonly Candidate[]): (readonly Candidate[])[] {
  const pairs = singles.flatMap((one, i) =>
    thingsOf(one).some((thing) => together.has(thing))
      ? singles.flatMap((other, k) => (k === i || touches(one, other) ? [] : [[one, other]]))
      : [],
  )
  return pairs.slice(0, mostPairs)
}

const thingsOf = ({ edits, address }: Candidate): readonly string[] => [
  ...edits.flatMap((edit) => (edit.do === 'pin' ? [edit.decision] : [])),
  ...(address ? ['address'] : []),
]

/** Whether two changes are of the same thing. */
const touches = (one: Candidate, other: Candidate): boolean =>
  thingsOf(one).some((thing) => thingsOf(other).includes(thing))

/** The cheapest first, each change once. */
function cheapest(ways: readonly WayOut[]): readonly WayOut[] {
  const sorted = [...ways].sort(
    (a, b) => a.cost - b.cost || a.arrivesOn.localeCompare(b.arrivesOn) || a.edits.length - b.edits.length,
  )
  return [...new Map(sorted.map((way) => [way.key, way])).values()].slice(0, mostWays)
}

function attempt(order: Order, pins: Pins, candidates: readonly Candidate[], deciding: Deciding): WayOut | null {
  const address = candidates.find((one) => one.address)?.address ?? null
  const edits = candidates.flatMap((one) => one.edits)
  const next: Record<string, unknown> = { ...pins }
  for (const edit of edits) if (edit.do === 'pin') next[edit.decision] = edit.value
  const { problems, quote, daysLate, holdUntil } = route(
    address === null ? order : withAddress(order, address),
    deciding.program,
    deciding.ready,
    { now: deciding.now, pins: next },
  )
  if (problems.length > 0 || !quote) return null
  return {
    key: candidates.map(({ key }) => key).join(' and '),
    words: candidates.map(({ words }) => words).join(', and '),
    ...{ edits, address, service: quote.service, carrier: quote.carrier, cost: quote.cost },
    ...{ arrivesOn: quote.arrivesOn, daysLate, holdUntil },
  }
}

/** The order with its address as proposed, or taken as it is. */
function withAddress(order: Order, way: 'corrected' | 'as it is'): Order {
  const accepted = withAddressAccepted(order)
  return way === 'as it is' ? accepted : withAddressChecked({ ...accepted, shipTo: correctAll(order.shipTo) })
}

const pin = (decision: DecisionId, value: unknown, words: string): Candidate => ({
  ...{ key: `${decision} ${JSON.stringify(value)}`, words },
  edits: [{ do: 'pin', decision, value }],
})

/** What a person could change, by what is wrong; the least of a change first. */
function candidatesFor(order: Order, routed: Routed, pins: Pins, deciding: Deciding): readonly Candidate[] {
  const codes = new Set(routed.problems.map(({ code }) => code))
  const refused = new Set(routed.trail.refusals.map(({ code }) => code))
  const has = (...list: readonly string[]): boolean => list.some((code) => codes.has(code))
  const is = (...list: readonly RefusalCode[]): boolean =>
    has('no-service', 'nothing-allowed') && list.some((code) => refused.has(code))
  const { decisions } = routed
  const candidates = [
    ...(routed.problems.some(({ code }) => code.startsWith('address-')) ? addressWays(order) : []),
    ...(has('no-pick') ? [pin('picks', defaults.picks, 'the cheapest that arrives in time')] : []),
    ...(has('no-return-label') ? [pin('returnLabel', false, 'without a return label')] : []),
    ...(has('unknown-slip')
      ? [pin('slip', null, 'with the usual slip'), pin('documents', [], 'without further documents')]
      : []),
    ...(has('nothing-allowed') ? [pin('allowed', null, 'by any service')] : []),
    ...(is('barred', 'not-allowed') ? barWays(routed, deciding) : []),
    ...(is('too-dear') ? [pin('ceiling', null, 'above the cost ceiling')] : []),
    ...(is('too-slow') ? [pin('within', null, 'longer on the way than wanted')] : []),
    ...(is('no-signature') && decisions.signature ? [pin('signature', false, 'without the signature')] : []),
    ...(is('no-cover') ? [pin('insurance', { cover: 'none' }, 'without insurance')] : []),
    ...(is('no-offer') && decisions.needs.length > 0
      ? [pin('needs', [], `without ${decisions.needs.join(', ')}`)]
      : []),
    ...(is('no-offer') && decisions.duties === 'DDP' ? [pin('duties', 'DAP', 'with duties for the buyer (DAP)')] : []),
    ...(has('no-service', 'no-pick', 'no-customs-data', 'unknown-location') ? locationWays(routed, deciding) : []),
    ...(has('no-preset', 'too-full', 'unknown-preset', 'too-many-parcels') ? looserPacking(routed) : []),
    ...(has('no-preset', 'too-full', 'unknown-preset') || is(...ofSize) ? presetWays(order, routed, deciding) : []),
    ...(has('too-full') || is(...ofSize) ? apartWays(order, routed) : []),
    ...(is('too-slow') ? laterWays(deciding) : []),
  ]
  // What a person has decided so already helps nobody.
  return candidates.filter(
    ({ edits }) => !edits.some((edit) => edit.do === 'pin' && same(pins[edit.decision], edit.value)),
  )
}

const locationWays = ({ location }: Routed, { ready }: Deciding): Candidate[] =>
  ready.world.locations
    .filter(({ id, retired, off }) => id !== location && !retired && off === undefined)
    .map(({ id, name }) => pin('location', id, `from ${name}`))

const ofSize = ['too-long', 'too-big', 'too-heavy', 'too-voluminous', 'no-band'] as const

const same = (a: unknown, b: unknown): boolean => a !== undefined && JSON.stringify(a) === JSON.stringify(b)

function addressWays(order: Order): Candidate[] {
  const corrected: Address = correctAll(order.shipTo)
  const asItIs = {
    key: 'address as it is',
    words: 'with the address as it is',
    edits: [],
    address: 'as it is',
  } as const
  return corrected === order.shipTo
    ? [asItIs]
    : [{ key: 'address corrected', words: 'with the address corrected', edits: [], address: 'corrected' }, asItIs]
}

/** A bar is lifted for one service, or one more is allowed, for this order alone. */
function barWays({ decisions, trail }: Routed, { ready }: Deciding): Candidate[] {
  const nameOf = (id: string): string => ready.world.services.find((service) => service.id === id)?.name ?? id
  return trail.refusals.flatMap(({ service, carrier, code }) => {
    if (code === 'barred') {
      const others = (ready.servicesOf.get(carrier) ?? []).filter((id) => id !== service)
      const left = decisions.barred.flatMap((id) => {
        if (id === service) return []
        return id === carrier ? others : [id]
      })
      return [pin('barred', left, `with ${nameOf(service)}, which a rule bars`)]
    }
    if (code !== 'not-allowed' || !decisions.allowed) return []
    return [pin('allowed', [...decisions.allowed, service], `with ${nameOf(service)}, which the rules leave out`)]
  })
}

/** Wishes about packing are let go. */
const looserPacking = ({ decisions }: Routed): Candidate[] => [
  ...(decisions.preset !== null ? [pin('preset', null, 'in the smallest package that fits')] : []),
  ...(decisions.dimensions !== null ? [pin('dimensions', null, 'without its own dimensions')] : []),
  ...(decisions.parcelLimits !== null ? [pin('parcelLimits', null, 'without the limits of a parcel')] : []),
  ...(decisions.apart.length > 0 ? [pin('apart', [], 'with all items together')] : []),
]

const presetWays = ({ items }: Order, { decisions }: Routed, { ready }: Deciding): Candidate[] =>
  ready.presets
    .filter((preset) => preset.id !== decisions.preset && mayHoldEach(preset, items))
    .map(({ id, name }) => pin('preset', id, `in ${name}`))

/** Some of the items go in a parcel of their own. */
function apartWays({ items }: Order, { decisions }: Routed): Candidate[] {
  const pieces = items.reduce((sum, { quantity }) => sum + quantity, 0)
  if (pieces < 2 || pieces > 60) return []
  const tags = [...new Set(items.flatMap((item) => item.tags))].filter(
    (tag) => !decisions.apart.includes(tag) && !items.every((item) => item.tags.includes(tag)),
  )
  return [
    ...tags.map((tag) => pin('apart', [...decisions.apart, tag], `with what is tagged ${tag} sent apart`)),
    ...[Math.ceil(pieces / 2), 1]
      .filter((most, i, list) => list.indexOf(most) === i)
      .map((most) =>
        pin('parcelLimits', { pieces: most }, most === 1 ? 'with each piece in its own parcel' : 'in two parcels'),
      ),
  ]
}

/** It leaves on a later day, so that less of its way is a weekend. */
function laterWays({ ready, now }: Deciding): Candidate[] {
  const today = localTime(now, firstZone(ready.world)).day
  return Array.from({ length: 6 }, (_, i) => {
    const day = dayText(today + i + 1)
    return pin('shipOn', { day }, `on ${day}`)
  })
}
