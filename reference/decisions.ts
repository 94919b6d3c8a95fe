import type { Order } from '@/core/order'
import type { Pins } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { pattern } from './passes'
import { atHome, beginOf, nextDay, plain, shown } from './plain'

/* What the wishes of rules come to: hand pins first, then rules, then what the buyer's wording means, then the usual. */

export interface Wish {
  readonly id: string
  readonly value: unknown
  readonly rule: string
}
/** What is known when a stage decides. */
export interface Told {
  readonly order: Order
  readonly world: World
  readonly now: number
  readonly pins: Pins
  readonly wishes: readonly Wish[]
  /** Grams of the items; undefined where one of them is not known. */
  readonly goods: number | undefined
  readonly zone: () => string
}

type StageName = 'triage' | 'packing' | 'origin' | 'protection' | 'service' | 'papers'

/** Each decision: where it is made, and what it is while nobody wishes otherwise. */
const decisions: Readonly<Record<string, readonly [stage: StageName, standard: unknown]>> = {
  tags: ['triage', []],
  hold: ['triage', null],
  shipOn: ['triage', null],
  weight: ['triage', 0],
  speed: ['triage', null],
  priority: ['triage', 'normal'],
  combine: ['triage', false],
  preset: ['packing', null],
  dimensions: ['packing', null],
  inserts: ['packing', []],
  apart: ['packing', []],
  parcelLimits: ['packing', null],
  split: ['packing', 'when needed'],
  location: ['origin', null],
  insurance: ['protection', { cover: 'none' }],
  signature: ['protection', false],
  duties: ['protection', 'DAP'],
  addressKind: ['protection', 'as the address says'],
  needs: ['protection', []],
  within: ['protection', null],
  picks: ['service', [{ by: 'cheapest by promise' }, { by: 'cheapest' }]],
  barred: ['service', []],
  allowed: ['service', null],
  ceiling: ['service', null],
  slip: ['papers', null],
  handOver: ['papers', null],
  documents: ['papers', []],
  reference: ['papers', '{number}'],
  buyByItself: ['papers', false],
  returnLabel: ['papers', false],
  returns: ['papers', null],
  returnServices: ['papers', []],
  returnPaidByBuyer: ['papers', false],
  notice: ['papers', true],
  textMessage: ['papers', true],
  toldSteps: ['papers', []],
  tellWhen: ['papers', null],
}
export const standard: Readonly<Record<string, unknown>> = Object.fromEntries(
  Object.entries(decisions).map(([id, [, value]]) => [id, value]),
)
export const decisionsOf = (stage: StageName): string[] =>
  Object.keys(decisions).filter((id) => decisions[id]![0] === stage)
const sets = ['tags', 'inserts', 'apart', 'needs', 'barred', 'documents', 'toldSteps']

/** What is decided, by the identifier of the decision. */
export function decide(id: string, told: Told): unknown {
  const { wishes, world } = told
  const pinned = told.pins as Readonly<Record<string, unknown>>
  if (id === 'hold')
    return heldNow(told, id in pinned ? pinned[id] : (wishes.find((wish) => wish.id === id)?.value ?? null))
  if (id === 'preset' && sizeGoesFirst(pinned, wishes)) return null
  if (id in pinned) return pinned[id]
  const wanted = wishes.filter((wish) => wish.id === id)
  if (id === 'weight') return wanted.reduce((sum, { value }) => sum + (value as number), 0)
  if (sets.includes(id)) return membersOf(id, wanted)
  if (id === 'allowed')
    return narrowed(
      wanted.map(({ value }) => value as readonly string[]),
      world,
    )
  if (wanted[0]) return wanted[0].value
  const row = wordingRow(told)
  if (id === 'speed' && row?.gives.speed) return row.gives.speed
  if (id === 'preset' && row?.gives.preset) return row.gives.preset
  if (id === 'picks' && row?.gives.pick) return [row.gives.pick]
  return standard[id]
}

/** Each member once, in the order in which rules name them. */
function membersOf(id: string, wanted: readonly Wish[]): unknown[] {
  const members: unknown[] = []
  const name = (member: unknown): string => {
    if (typeof member === 'string') return id === 'tags' || id === 'apart' ? plain(member) : member
    return `${plain((member as { name: string }).name)}|${(member as { weight: number }).weight}`
  }
  for (const member of wanted.flatMap(({ value }) => value as unknown[]))
    if (!members.some((other) => name(other) === name(member))) members.push(member)
  return members
}

function sizeGoesFirst(pinned: Readonly<Record<string, unknown>>, wishes: readonly Wish[]): boolean {
  if ('preset' in pinned) return false
  if ('dimensions' in pinned) return true
  const size = wishes.findIndex(({ id }) => id === 'dimensions')
  const preset = wishes.findIndex(({ id }) => id === 'preset')
  return size >= 0 && (preset < 0 || (size < preset && wishes[size]!.rule !== wishes[preset]!.rule))
}

/** A carrier stands for its services: what is left of several lists is what all of them allow. */
function narrowed(lists: readonly (readonly string[])[], world: World): readonly string[] | null {
  if (lists.length < 2) return lists[0] ?? null
  const carrier = (id: string): string | undefined => world.services.find((service) => service.id === id)?.carrier
  const left: string[] = []
  for (const entry of lists[0]!) {
    const parts = lists.every((list) => list.includes(entry))
      ? [entry]
      : world.services.some((service) => service.carrier === entry)
        ? world.services.filter((service) => service.carrier === entry).map(({ id }) => id)
        : [entry]
    for (const part of parts)
      if (!left.includes(part) && lists.every((list) => list.includes(part) || list.includes(carrier(part) ?? part)))
        left.push(part)
  }
  return left
}

function heldNow({ order, now, zone }: Told, hold: unknown): string | null {
  if (hold === null || typeof hold === 'string') return hold
  const { reason, until } = hold as {
    reason: string
    until: { hours?: number; days?: number; day?: string; weekday?: string }
  }
  const placed = Date.parse(order.placedAt)
  let ends = placed
  if (until.hours !== undefined) ends += until.hours * 3_600_000
  else if (until.days !== undefined) ends += until.days * 86_400_000
  else if (until.day !== undefined) ends = beginOf(until.day, zone())
  else {
    let day = nextDay(shown(placed, zone()).day)
    while (shown(beginOf(day, zone()), zone()).weekday !== until.weekday) day = nextDay(day)
    ends = beginOf(day, zone())
  }
  return ends <= now ? null : reason
}

/** Grams of the items with the correction; undefined where they are not known. */
export function corrected(told: Told): number | undefined {
  const { goods, order, pins } = told
  const correction = decide('weight', told) as number
  if (goods === undefined && !('weight' in pins && correction > 0)) return undefined
  return Math.max(0, order.items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0) + correction)
}

function wordingRow(told: Told) {
  const { order, world } = told
  if (plain(order.wording) === '') return undefined
  const within = (n: number | null | undefined, band?: readonly [number, number]): boolean =>
    !band || (n !== undefined && n !== null && n >= band[0] && n <= band[1])
  return world.wordings
    ?.find(({ channel }) => channel === order.channel)
    ?.rows.find(
      (row) =>
        pattern(plain(row.wording), plain(order.wording)) &&
        (row.countries?.includes(order.shipTo.country) ?? true) &&
        within(corrected(told), row.weight) &&
        within(atHome(order.value, world.rates), row.value),
    )
}
