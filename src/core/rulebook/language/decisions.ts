import type { OrderProblem } from '@/core/order'
import type { Parcel, ParcelLimits } from '@/core/packing'
import type { Pick, Quote, Refusal, Speed } from '@/core/rating'
import type { Money } from '@/core/units'
import type { AddressKind, DecisionId, Need, Priority, Split } from './decisionKinds'
import type { Stage } from './rulebook'

/** The order value, or a fixed amount. */
export type Insurance =
  { readonly cover: 'order value' } | { readonly cover: 'amount'; readonly amount: Money } | { readonly cover: 'none' }

/**
 * Until when an order is held; hours and days count from the moment it was placed, a weekday is the next one after
 * that day.
 */
export type HoldUntil =
  { readonly weekday: string } | { readonly day: string } | { readonly hours: number } | { readonly days: number }
/** A hold: why, and until when; a plain text waits for a person. */
export type Hold = string | { readonly reason: string; readonly until: HoldUntil }

/** A thing that goes into the parcel besides the items. */
export interface Insert {
  readonly name: string
  readonly weight: number
}

/** Everything rules settle for an order; `null` means that nothing was decided and the engine's own way is taken. */
export interface Decisions {
  readonly tags: readonly string[]
  /** Why it is held; null when it is not, or not any more. */
  readonly hold: string | null
  readonly weight: number
  readonly speed: Speed | null
  readonly priority: Priority
  /** Whether it goes with other open orders of the same buyer and address without being asked. */
  readonly combine: boolean
  readonly preset: string | null
  /** Outer size in millimetres. */
  readonly dimensions: readonly [number, number, number] | null
  readonly inserts: readonly Insert[]
  /** Item tags that share no parcel with others. */
  readonly apart: readonly string[]
  readonly parcelLimits: ParcelLimits | null
  readonly split: Split
  readonly location: string | null
  readonly insurance: Insurance
  readonly signature: boolean
  readonly duties: 'DAP' | 'DDP'
  readonly addressKind: AddressKind
  readonly needs: readonly Need[]
  /** Most days from leaving to arrival. */
  readonly within: number | null
  readonly picks: readonly Pick[]
  readonly barred: readonly string[]
  readonly allowed: readonly string[] | null
  readonly ceiling: Money | null
  readonly slip: string | null
  /** Slip templates printed besides the slip. */
  readonly documents: readonly string[]
  readonly reference: string
  readonly buyByItself: boolean
  readonly returnLabel: boolean
  readonly notice: boolean
  readonly tellWhen: 'bought' | 'dispatched' | null
}

/** What is decided where no rule and no person says anything. */
export const defaults: Decisions = {
  tags: [],
  hold: null,
  weight: 0,
  speed: null,
  priority: 'normal',
  combine: false,
  preset: null,
  dimensions: null,
  inserts: [],
  apart: [],
  parcelLimits: null,
  split: 'when needed',
  location: null,
  insurance: { cover: 'none' },
  signature: false,
  duties: 'DAP',
  addressKind: 'as the address says',
  needs: [],
  within: null,
  picks: [{ by: 'cheapest by promise' }, { by: 'cheapest' }],
  barred: [],
  allowed: null,
  ceiling: null,
  slip: null,
  documents: [],
  reference: '{number}',
  buyByItself: false,
  returnLabel: false,
  notice: true,
  tellWhen: null,
}

/** Decisions set by a person; each beats every rule. */
export type Pins = Readonly<Partial<Record<DecisionId, unknown>>>

export type Source =
  | { readonly kind: 'rule'; readonly rule: string }
  | { readonly kind: 'rules' }
  | { readonly kind: 'pin' }
  | { readonly kind: 'wording table'; readonly wording: string }
  | { readonly kind: 'default' }

/** One decision with its origin, and everyone who wanted something else. */
export interface TrailEntry {
  readonly decision: DecisionId
  readonly value: unknown
  readonly by: Source
  /** Rules that lost, in order, and why. */
  readonly others: readonly {
    readonly rule: string
    readonly value: unknown
    readonly why: 'a rule above decided it' | 'pinned by hand'
  }[]
  /** For sums, sets and narrowings: what each rule gave. */
  readonly parts: readonly { readonly rule: string; readonly value: unknown }[]
}

export interface StageTrail {
  readonly stage: Stage
  /** Rules that matched, in order. */
  readonly matched: readonly string[]
  /** The rule that finished the stage early. */
  readonly finishedBy?: string
}

export interface Trail {
  readonly stages: readonly StageTrail[]
  readonly decisions: readonly TrailEntry[]
  readonly quotes: readonly Quote[]
  readonly refusals: readonly Refusal[]
  /**
   * When ways to pack were weighed by their price: each with what the cheapest service and the packaging cost, in home
   * minor units; null when nobody carries it.
   */
  readonly packings?: readonly { readonly presets: readonly string[]; readonly cost: number | null }[]
}

/** The outcome for one order. */
export interface Routed {
  readonly decisions: Decisions
  /** When a hold ends by itself (ISO 8601, UTC); null when none does. */
  readonly holdUntil: string | null
  readonly parcels: readonly Parcel[]
  readonly location: string | null
  /** Whether carriers take the address for a home, and whether customs are passed; null while that is not known. */
  readonly residential: boolean
  readonly trade: 'domestic' | 'customs union' | 'export' | null
  readonly quote: Quote | null
  readonly runnerUp: Quote | null
  /** Days of arrival after the promised day (0 or less: on time); null when either is unknown. */
  readonly daysLate: number | null
  readonly problems: readonly OrderProblem[]
  readonly trail: Trail
}
