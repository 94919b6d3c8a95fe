import type { MinorUnits } from '@/core/units'
import type { OrderProblem } from '@/core/order'
import type { Parcel } from '@/core/packing'
import type { Quote, Refusal } from '@/core/rating'
import type { DecisionId, Decisions } from './decisionKinds'
import type { Stage } from './rulebook'

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
  readonly packings?: readonly { readonly presets: readonly string[]; readonly cost: MinorUnits | null }[]
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
