import {
  type DecisionId,
  combined,
  type DecisionKind,
  defaults,
  type Pins,
  type TrailEntry,
} from '@/core/rulebook/language'

/** What a rule wants of a decision. */
export interface Claim {
  readonly rule: string
  readonly value: unknown
}

/** What the wording table gives, and the wording it is given for. */
export interface Meant {
  readonly value: unknown
  readonly wording: string
}

type SettledKind = Pick<DecisionKind, 'combine' | 'words'> & { readonly id: DecisionId }

/** What rules and hand pins want of one order, and what becomes of it. */
export interface Claims {
  readonly add: (decision: DecisionId, claim: Claim) => void
  readonly of: (decision: DecisionId) => readonly Claim[]
  /**
   * Whether whoever decides the one goes before whoever decides the other: a pin, else the rule that stands higher,
   * else any rule before the wording table.
   */
  readonly goesBefore: (one: DecisionId, other: DecisionId) => boolean
  /** Settles a decision as its kind says: one value, a sum, a set, or what all leave. */
  readonly settled: (kind: SettledKind, meant?: Meant) => unknown
  /** A decision that another one makes pointless: it keeps its default, and the trail says who wanted something. */
  readonly overruled: (decision: DecisionId, by: DecisionId) => unknown
  /** A line for each decision that was asked for so far: the value, where it is from, and who wanted something else. */
  readonly entries: readonly TrailEntry[]
}

const noClaims: readonly Claim[] = []

/** Begins the claims of one order. `servicesOf` gives the services of each carrier, for what is allowed. */
export function claimsFor(pins: Pins | undefined, servicesOf: ReadonlyMap<string, readonly string[]>): Claims {
  const claims = new Map<DecisionId, Claim[]>()
  /** When a decision was wanted first, among all wishes in the order of the rules. */
  const places = new Map<DecisionId, { readonly place: number; readonly rule: string }>()
  let wishes = 0
  const entries: TrailEntry[] = []
  const of = (id: DecisionId): readonly Claim[] => claims.get(id) ?? noClaims
  const beaten = (those: readonly Claim[]): TrailEntry['others'] =>
    those.map((claim) => ({ ...claim, why: 'pinned by hand' as const }))

  function add(id: DecisionId, claim: Claim): void {
    const known = claims.get(id)
    wishes++
    if (known) known.push(claim)
    else {
      claims.set(id, [claim])
      places.set(id, { place: wishes, rule: claim.rule })
    }
  }

  /** One value: a pin, else the first rule from the top, else the wording table, else the default. */
  function first(id: DecisionId, meant?: Meant): unknown {
    const wanted = of(id)
    if (pins && id in pins) {
      entries.push({ decision: id, value: pins[id], by: { kind: 'pin' }, others: beaten(wanted), parts: [] })
      return pins[id]
    }
    const winner = wanted[0]
    if (!winner && meant) {
      entries.push({
        decision: id,
        value: meant.value,
        by: { kind: 'wording table', wording: meant.wording },
        others: [],
        parts: [],
      })
      return meant.value
    }
    const value = winner ? winner.value : defaults[id]
    // What nobody asked for needs no line in the trail, except the way the service is chosen.
    if (winner || id === 'picks')
      entries.push({
        decision: id,
        value,
        by: winner ? { kind: 'rule', rule: winner.rule } : { kind: 'default' },
        others:
          wanted.length > 1
            ? wanted.slice(1).map((claim) => ({ ...claim, why: 'a rule above decided it' as const }))
            : [],
        parts: [],
      })
    return value
  }

  function goesBefore(one: DecisionId, other: DecisionId): boolean {
    const pinned = (id: DecisionId): boolean => pins !== undefined && id in pins && pins[id] !== null
    if (pinned(one) || pinned(other)) return pinned(one) && !pinned(other)
    const [mine, theirs] = [places.get(one), places.get(other)]
    // Of one rule that wants both, the other one holds.
    return mine !== undefined && (theirs === undefined || (mine.place < theirs.place && mine.rule !== theirs.rule))
  }

  function overruled(id: DecisionId, by: DecisionId): unknown {
    const wanted = of(id)
    const winner = places.get(by)
    const pinned = pins !== undefined && by in pins
    if (wanted.length > 0)
      entries.push({
        decision: id,
        value: defaults[id],
        by: pinned ? { kind: 'pin' } : { kind: 'rule', rule: winner?.rule ?? '' },
        others: wanted.map((claim) => ({
          ...claim,
          why: pinned ? ('pinned by hand' as const) : ('a rule above decided it' as const),
        })),
        parts: [],
      })
    return defaults[id]
  }

  function gathered(kind: SettledKind): unknown {
    const { id } = kind
    const wanted = of(id)
    const pinned = pins !== undefined && id in pins
    if (!pinned && wanted.length === 0) return defaults[id]
    const value = pinned
      ? pins[id]
      : combined(
          kind,
          wanted.map((claim) => claim.value),
          servicesOf,
        )
    entries.push({
      decision: id,
      value,
      by: pinned ? { kind: 'pin' } : { kind: 'rules' },
      others: pinned ? beaten(wanted) : [],
      parts: pinned ? [] : wanted,
    })
    return value
  }

  function settled(kind: SettledKind, meant?: Meant): unknown {
    return kind.combine === 'one' ? first(kind.id, meant) : gathered(kind)
  }

  return { add, of, settled, goesBefore, overruled, entries }
}
