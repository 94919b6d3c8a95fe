import type { DecisionId } from './catalogue'
import { joined, narrowed, summed } from './combine'
import { defaults, type Pins, type TrailEntry } from './decisions'

/** What a rule wants of a decision. */
export interface Claim { readonly rule: string; readonly value: unknown }

/** What the wording table gives, and the wording it is given for. */
export interface Meant { readonly value: unknown; readonly wording: string }

/** What rules and hand pins want of one order, and what becomes of it. */
export interface Claims {
  readonly add: (decision: DecisionId, claim: Claim) => void
  readonly of: (decision: DecisionId) => readonly Claim[]
  /** One value: a pin, else the first rule from the top, else the wording table, else the default. */
  readonly first: <T>(decision: DecisionId, meant?: Meant) => T
  readonly summed: (decision: DecisionId) => number
  readonly joined: <T>(decision: DecisionId) => readonly T[]
  /** Null when no rule narrows it. */
  readonly narrowed: (decision: DecisionId) => readonly string[] | null
  /** A line for each decision that was asked for so far: the value, where it is from, and who wanted something else. */
  readonly entries: readonly TrailEntry[]
}

const noClaims: readonly Claim[] = []

export function claimsFor(pins: Pins | undefined): Claims {
  const claims = new Map<DecisionId, Claim[]>()
  const entries: TrailEntry[] = []
  const of = (id: DecisionId): readonly Claim[] => claims.get(id) ?? noClaims
  const beaten = (those: readonly Claim[]): TrailEntry['others'] => those.map((claim) => ({ ...claim, why: 'pinned by hand' as const }))

  function add(id: DecisionId, claim: Claim): void {
    const known = claims.get(id)
    if (known) known.push(claim)
    else claims.set(id, [claim])
  }

  function first<T>(id: DecisionId, meant?: Meant): T {
    const wanted = of(id)
    if (pins && id in pins) {
      entries.push({ decision: id, value: pins[id], by: { kind: 'pin' }, others: beaten(wanted), parts: [] })
      return pins[id] as T
    }
    const winner = wanted[0]
    if (!winner && meant) {
      entries.push({ decision: id, value: meant.value, by: { kind: 'wording table', wording: meant.wording }, others: [], parts: [] })
      return meant.value as T
    }
    const value = winner ? winner.value : defaults[id]
    // What nobody asked for needs no line in the trail, except the way the service is chosen.
    if (winner || id === 'picks')
      entries.push({
        decision: id, value, by: winner ? { kind: 'rule', rule: winner.rule } : { kind: 'default' },
        others: wanted.length > 1 ? wanted.slice(1).map((claim) => ({ ...claim, why: 'a rule above decided it' as const })) : [], parts: [],
      })
    return value as T
  }

  function gathered<T>(id: DecisionId, none: T, combine: (values: readonly unknown[]) => T): T {
    const wanted = of(id)
    const pinned = pins !== undefined && id in pins
    if (!pinned && wanted.length === 0) return none
    const value = pinned ? (pins[id] as T) : combine(wanted.map((claim) => claim.value))
    entries.push({ decision: id, value, by: pinned ? { kind: 'pin' } : { kind: 'rules' }, others: pinned ? beaten(wanted) : [], parts: pinned ? [] : wanted })
    return value
  }

  return {
    add, of, first, entries,
    summed: (id) => gathered(id, 0, summed),
    joined: <T>(id: DecisionId) => gathered<readonly T[]>(id, [], joined),
    narrowed: (id) => gathered<readonly string[] | null>(id, null, narrowed),
  }
}
