import {
  conditionPhrase,
  decisionById,
  deciderPhrase,
  decisionPhrase,
  type Routed,
  type Rulebook,
  type Trail,
  type TrailEntry,
} from '@/core/rulebook/language'
import { wordsSentence } from '../tracking/customerWords'
import { whyNobody } from '../tracking/notices'
import type { World } from '@/core/world'
import { plainText, type Order } from '@/core/order'
import type { Parcel } from '@/core/packing'
import { type DutyEstimate, estimateDuties, type Quote, type Refusal } from '@/core/rating'
import { money, toHome } from '@/core/units'
import {
  editionNumbered,
  type HandOverRow,
  handOversOfOrder,
  labelsOfOrder,
  type LetterRow,
  lettersOfOrder,
  newestWorld,
  noticesOfOrder,
  silencedBy,
  type Silenced,
  type ClaimRow,
  channelById,
  claimsOfOrder,
  type CustomerWords,
  wordsOfOrders,
  orderRow,
  parcelsOfLabels,
  pinDetails,
  postsOfOrder,
  returnsOf,
  type ReturnState,
  type LabelRow,
  type NoticeRow,
  type OrderRow,
  type PostRow,
  type TrackingEventRow,
} from '@/data'
import { showTogether, type Togetherness } from './combineOrders'
import type { Application } from '../shared/application'
import { orderInFull } from '../shared/oldOrders'

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
  /** What the buyer paid for shipping, in home minor units; null without an exchange rate. */
  readonly shippingPaid: number | null
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
  readonly events: readonly TrackingEventRow[]
  readonly posts: readonly PostRow[]
  readonly notices: readonly NoticeRow[]
  /** Who of this order is not written to any more, and why. */
  readonly silenced: readonly Silenced[]
  /** What the customer wrote on the page of the parcel, or answered. */
  readonly words: readonly (CustomerWords & { readonly sentence: string })[]
  /** What people wrote to its buyer; the link to answer is the buyer’s alone. */
  readonly letters: readonly Omit<LetterRow, 'token' | 'key'>[]
  /** Why its buyer is not written to; empty when they are. */
  readonly unwritten: string
  /** What comes back of it. */
  readonly returns: readonly {
    readonly id: number
    readonly state: ReturnState
    readonly reason: string
    readonly number: string
    readonly askedAt: string
    readonly pieces: number
  }[]
  /** What its carrier owes for it, or was asked for. */
  readonly claims: readonly ClaimRow[]
  /** The customer’s page of what was bought last; empty while nothing is. */
  readonly page: string
  readonly handOvers: readonly (Omit<HandOverRow, 'token'> & { readonly to: string })[]
  readonly log: readonly { readonly at: string; readonly author: string; readonly sentence: string }[]
  readonly together: Togetherness
}

/** Everything about one order: facts, decision with trail and quotes, label, posts, notices, and what happened when. */
export async function showOrder(gharry: Application, id: number): Promise<OrderView | null> {
  const { db } = gharry
  const row = await orderRow(db, id)
  const stored = row && (await orderInFull(gharry, id))
  if (!row || !stored) return null
  const { decided } = stored
  const labels = await labelsOfOrder(db, id)
  const parcels = await parcelsOfLabels(
    db,
    labels.map((label) => label.id),
  )
  const notices = await noticesOfOrder(db, id)
  const written = [...new Set([row.email, ...notices.map(({ recipient }) => recipient)])].filter(Boolean)
  const rulebook = decided ? (await editionNumbered(db, decided.edition))?.rulebook : undefined
  const world = (await newestWorld(db))?.world
  return {
    row,
    order: stored.order,
    edition: decided?.edition ?? 0,
    decidedAt: decided?.decidedAt ?? '',
    ...(decided ? decisionView(decided.outcome, rulebook, world) : undecided),
    duties: dutiesOf(stored.order, decided?.outcome, world),
    shippingPaid: world ? toHome(stored.order.shippingPaid, world.rates) : null,
    pins: (await pinDetails(db, id)).map(({ decision, author, madeAt }) => ({ decision, author, madeAt })),
    labels: labels.map(({ token: _token, key: _key, request: _request, ...label }) => ({
      ...label,
      parcels: (parcels.get(label.id) ?? []).flatMap(({ trackingNumber, status, returnNumber }) =>
        trackingNumber ? [{ number: trackingNumber, status: status ?? '', returnNumber: returnNumber ?? '' }] : [],
      ),
    })),
    events: labels.length > 0 ? await stored.eventsOf(labels[labels.length - 1]!.id) : [],
    posts: await postsOfOrder(db, id),
    notices,
    silenced: (await Promise.all(written.map((address) => silencedBy(db, address)))).flatMap((one) => one ?? []),
    words: (await wordsOfOrders(db, [id])).map((one) => ({ ...one, sentence: wordsSentence(one) })),
    letters: (await lettersOfOrder(db, id)).map(({ token: _token, key: _key, ...letter }) => letter),
    unwritten: whyNobody(await channelById(db, row.channelId)),
    returns: (await returnsOf(db, { orderId: id })).map(
      ({ id: own, state, reason, trackingNumber, askedAt, pieces }) => ({
        ...{ id: own, state, reason, askedAt, number: trackingNumber ?? '' },
        pieces: pieces.reduce((sum, { quantity }) => sum + quantity, 0),
      }),
    ),
    claims: await claimsOfOrder(db, id),
    page: pageOf(labels, gharry.settings.publicUrl),
    handOvers: (await handOversOfOrder(db, id)).map(({ token: _token, ...row }) => ({
      ...row,
      to: world?.partners?.find((partner) => partner.id === row.partner)?.name ?? row.partner,
    })),
    log: stored.log,
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

type DecisionView = Pick<
  OrderView,
  'trail' | 'stages' | 'quotes' | 'chosen' | 'refusals' | 'parcels' | 'packings' | 'problems'
>

const undecided: DecisionView = {
  trail: [],
  stages: [],
  quotes: [],
  chosen: '',
  refusals: [],
  parcels: [],
  packings: [],
  problems: [],
}

/** What was decided, with the rules' names and values in words. */
function decisionView(outcome: Routed, rulebook: Rulebook | undefined, world: World | undefined): DecisionView {
  const { trail, quote, parcels, problems } = outcome
  const ruleName = (id: string): string => rulebook?.rules.find((rule) => rule.id === id)?.name ?? id
  return {
    trail: trail.decisions.map((entry) => trailLine(entry, rulebook, world, ruleName)),
    stages: trail.stages.map(({ stage, matched, finishedBy }) => ({
      stage,
      matched: matched.map(ruleName),
      finishedBy: finishedBy ? ruleName(finishedBy) : '',
    })),
    quotes: [...trail.quotes].sort((a, b) => a.cost - b.cost),
    chosen: quote?.service ?? '',
    refusals: trail.refusals,
    parcels,
    packings: trail.packings ?? [],
    problems,
  }
}

function trailLine(
  entry: TrailEntry,
  rulebook: Rulebook | undefined,
  world: World | undefined,
  ruleName: (id: string) => string,
): TrailLine {
  const { decision, by } = entry
  const words = world && { world, groups: rulebook?.groups ?? [] }
  const phrase = (value: unknown): string => (words ? decisionPhrase(decision, value, words) : plainText(value))
  const rule = by.kind === 'rule' ? rulebook?.rules.find(({ id }) => id === by.rule) : undefined
  return {
    decision,
    name: decisionById.get(decision)?.name ?? decision,
    value: phrase(entry.value),
    pinned: by.kind === 'pin',
    why: rule && words ? conditionPhrase(rule.when, words) || 'every order' : '',
    by: deciderPhrase(by, ruleName, 'several rules together'),
    others: entry.others.map((other) => ({ rule: ruleName(other.rule), value: phrase(other.value), why: other.why })),
    parts: entry.parts.map((part) => ({ rule: ruleName(part.rule), value: phrase(part.value) })),
  }
}

const pageOf = (labels: readonly LabelRow[], url: string): string => {
  const bought = [...labels].reverse().find(({ state }) => state === 'bought')
  return bought ? `${url}/track/${bought.token}` : ''
}
