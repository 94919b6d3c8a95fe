import {
  conditionPhrase,
  decisionById,
  decisionPhrase,
  type Routed,
  type Trail,
  type TrailEntry,
  type World,
} from '@/core/rulebook'
import type { Order, OrderState } from '@/core/order'
import type { Parcel } from '@/core/packing'
import { estimateDuties, type DutyEstimate, type Quote, type Refusal } from '@/core/rating'
import { money } from '@/core/units'
import {
  decisionOf,
  deskCount,
  deskDistribution,
  deskIds,
  deskPage,
  editionNumbered,
  eventsOf,
  labelsOfOrder,
  listChannels,
  logOf,
  newestWorld,
  noticesOfOrder,
  orderRow,
  ordersById,
  parcelsOfLabels,
  pinDetails,
  postsOfOrder,
  type DeskFilter,
  type DeskSort,
  type Distribution,
  type Facet,
  type LabelRow,
  type NoticeRow,
  type OrderRow,
  type PostRow,
} from '@/data'
import { showTogether, type Togetherness } from './combineOrders'
import type { Gharry } from './gharry'

export interface DeskView {
  readonly rows: readonly OrderRow[]
  readonly total: number
  readonly offset: number
}

/** One page of the Desk's orders. */
export async function showDesk(
  gharry: Gharry,
  filter: DeskFilter,
  sorts: readonly DeskSort[],
  offset: number,
  most: number,
): Promise<DeskView> {
  return {
    rows: await deskPage(gharry.db, filter, sorts, offset, most),
    total: await deskCount(gharry.db, filter),
    offset,
  }
}

type Spread = Record<Facet | 'tag', Distribution[]>
const spreads = new Map<string, { at: number; spread: Promise<Spread> }>()

/**
 * How the filtered orders spread over each facet; on 100,000 orders this takes a while, so an answer is kept for five
 * seconds.
 */
export function spreadDesk(gharry: Gharry, filter: DeskFilter): Promise<Spread> {
  const key = JSON.stringify(filter)
  const now = gharry.now().getTime()
  const kept = spreads.get(key)
  if (kept && now - kept.at < 5000) return kept.spread
  if (spreads.size > 200) spreads.clear()
  const spread = deskDistribution(gharry.db, filter)
  spreads.set(key, { at: now, spread })
  return spread
}

export const selectDesk = (gharry: Gharry, filter: DeskFilter): Promise<number[]> => deskIds(gharry.db, filter, 5000)

/** Names for what rows hold as identifiers. */
export interface DeskNames {
  readonly channels: Readonly<Record<string, string>>
  readonly services: Readonly<Record<string, string>>
  readonly carriers: Readonly<Record<string, string>>
  readonly locations: Readonly<Record<string, string>>
  readonly presets: Readonly<Record<string, string>>
}

export async function deskNames(gharry: Gharry): Promise<DeskNames> {
  const world = (await newestWorld(gharry.db))?.world
  const names = (list: readonly { readonly id: string; readonly name: string }[] = []): Record<string, string> =>
    Object.fromEntries(list.map(({ id, name }) => [id, name]))
  return {
    channels: names(await listChannels(gharry.db)),
    services: names(world?.services),
    carriers: names(world?.carriers),
    locations: names(world?.locations),
    presets: names(world?.presets),
  }
}

/** A line of the trail in words, ready to show. */
export interface TrailLine {
  readonly decision: string
  readonly name: string
  readonly value: string
  readonly by: string
  readonly why: string
  readonly pinned: boolean
  readonly others: readonly { readonly rule: string; readonly value: string; readonly why: string }[]
  readonly parts: readonly { readonly rule: string; readonly value: string }[]
}

export interface OrderView {
  readonly row: OrderRow
  readonly order: Order
  readonly edition: number
  readonly decidedAt: string
  readonly trail: readonly TrailLine[]
  readonly stages: readonly {
    readonly stage: string
    readonly matched: readonly string[]
    readonly finishedBy: string
  }[]
  readonly quotes: readonly Quote[]
  readonly chosen: string
  readonly refusals: readonly Refusal[]
  readonly parcels: readonly Parcel[]
  /** Import duty and tax, estimated; null where none are due or nothing is known. */
  readonly duties: { readonly incoterm: string; readonly estimate: DutyEstimate | null } | null
  /** When ways to pack were weighed by their price. */
  readonly packings: NonNullable<Trail['packings']>
  readonly problems: readonly { readonly code: string; readonly sentence: string }[]
  readonly pins: readonly { readonly decision: string; readonly author: string; readonly madeAt: string }[]
  /** Each with the tracking numbers and states of its parcels. */
  readonly labels: readonly (Omit<LabelRow, 'token' | 'key' | 'request'> & {
    readonly parcels: readonly { readonly number: string; readonly status: string; readonly returnNumber: string }[]
  })[]
  readonly events: Awaited<ReturnType<typeof eventsOf>>
  readonly posts: readonly PostRow[]
  readonly notices: readonly NoticeRow[]
  readonly log: readonly { readonly at: string; readonly author: string; readonly sentence: string }[]
  readonly together: Togetherness
}

/** Everything about one order: facts, decision with trail and quotes, label, posts, notices, and what happened when. */
export async function showOrder(gharry: Gharry, id: number): Promise<OrderView | null> {
  const { db } = gharry
  const row = await orderRow(db, id)
  const [stored] = await ordersById(db, [id])
  if (!row || !stored) return null
  const decided = await decisionOf(db, id)
  const labels = await labelsOfOrder(db, id)
  const parcels = await parcelsOfLabels(
    db,
    labels.map((label) => label.id),
  )
  const trail = decided?.outcome.trail
  const rulebook = decided ? (await editionNumbered(db, decided.edition))?.rulebook : undefined
  const world = (await newestWorld(db))?.world
  const words = world && { world, groups: rulebook?.groups ?? [] }
  const ruleName = (ruleId: string): string => rulebook?.rules.find((rule) => rule.id === ruleId)?.name ?? ruleId
  const phrase = (decision: string, value: unknown): string =>
    words ? decisionPhrase(decision, value, words) : String(value)
  const whyOf = (entry: TrailEntry): string => {
    if (entry.by.kind !== 'rule' || !words) return ''
    const { by } = entry
    const rule = rulebook?.rules.find((candidate) => candidate.id === by.rule)
    return rule ? conditionPhrase(rule.when, words) || 'every order' : ''
  }
  return {
    row,
    order: stored.order,
    edition: decided?.edition ?? 0,
    decidedAt: decided?.decidedAt ?? '',
    trail: (trail?.decisions ?? []).map((entry) => ({
      decision: entry.decision,
      name: decisionById.get(entry.decision)?.name ?? entry.decision,
      value: phrase(entry.decision, entry.value),
      pinned: entry.by.kind === 'pin',
      why: whyOf(entry),
      by:
        entry.by.kind === 'rule'
          ? ruleName(entry.by.rule)
          : entry.by.kind === 'pin'
            ? 'pinned by hand'
            : entry.by.kind === 'wording table'
              ? `wording table, “${entry.by.wording}”`
              : entry.by.kind === 'default'
                ? 'no rule: Gharry’s own way'
                : 'several rules together',
      others: entry.others.map((other) => ({
        rule: ruleName(other.rule),
        value: phrase(entry.decision, other.value),
        why: other.why,
      })),
      parts: entry.parts.map((part) => ({ rule: ruleName(part.rule), value: phrase(entry.decision, part.value) })),
    })),
    stages: (trail?.stages ?? []).map((stage) => ({
      stage: stage.stage,
      matched: stage.matched.map(ruleName),
      finishedBy: stage.finishedBy ? ruleName(stage.finishedBy) : '',
    })),
    quotes: [...(trail?.quotes ?? [])].sort((a, b) => a.cost - b.cost),
    chosen: decided?.outcome.quote?.service ?? '',
    refusals: trail?.refusals ?? [],
    parcels: decided?.outcome.parcels ?? [],
    packings: trail?.packings ?? [],
    duties: dutiesOf(stored.order, decided?.outcome, world),
    problems: decided?.outcome.problems ?? [],
    pins: (await pinDetails(db, id)).map(({ decision, author, madeAt }) => ({ decision, author, madeAt })),
    labels: labels.map(({ token: _token, key: _key, request: _request, ...label }) => ({
      ...label,
      parcels: (parcels.get(label.id) ?? []).flatMap(({ tracking_number, status, return_number }) =>
        tracking_number ? [{ number: tracking_number, status: status ?? '', returnNumber: return_number ?? '' }] : [],
      ),
    })),
    events: labels.length > 0 ? await eventsOf(db, labels[labels.length - 1]!.id) : [],
    posts: await postsOfOrder(db, id),
    notices: await noticesOfOrder(db, id),
    log: await logOf(db, id),
    together: await showTogether(db, row),
  }
}

function dutiesOf(order: Order, outcome: Routed | undefined, world: World | undefined): OrderView['duties'] {
  if (!outcome || !world || outcome.trade !== 'export') return null
  const items = order.items.map(({ hsCode, unitPrice, quantity }) => ({
    hsCode,
    value: money(unitPrice.minor * quantity, unitPrice.currency),
  }))
  return {
    incoterm: outcome.decisions.duties,
    estimate: estimateDuties(items, order.shippingPaid, order.shipTo.country, world.dutyRates ?? [], world.rates),
  }
}

/** The states of orders, exceptions first. */
export const deskStates = [
  'attention',
  'held',
  'ready',
  'buying',
  'labelled',
  'dispatched',
  'delivered',
  'fulfilled elsewhere',
  'cancelled',
  'combined',
] as const satisfies readonly OrderState[]
export { deskColumns, type DeskFilter, type DeskSort } from '@/data'
