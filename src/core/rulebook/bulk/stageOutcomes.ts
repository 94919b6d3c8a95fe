import { combined, type DecisionId, type Decisions, decisionsOf, defaults, type Stage } from '@/core/rulebook/language'
import type { ReadyRule } from '@/core/rulebook/compile'
import type { OrderMemory, Terms } from './orderBlocks'

/** A wish of a rule for a decision of a later stage. */
export interface Claim {
  readonly decision: DecisionId
  readonly value: unknown
  readonly rule: string
}

/**
 * What earlier stages left to a later one; `counted` names the rules among them that have decided something already.
 */
export interface Carried {
  readonly id: number
  readonly claims: readonly Claim[]
  readonly counted: ReadonlySet<string>
}

/** What follows from what a stage says, whatever the order: worked out by the deciding when it is asked first. */
interface Kept {
  /** Packing: everything asked for but the preset, as text, and grams of the inserts. */
  wishes: string | undefined
  inserts: number | undefined
  /** Origin: the number of the location that is named; −1 when there is none. */
  from: number | undefined
  /** Protection: what is asked of services, by what else it hangs on. */
  readonly terms: (Terms | undefined)[]
  /** Service: 1 for services that no rule bars, and the most that may be spent; null without an exchange rate. */
  open: Uint8Array | undefined
  most: number | null | undefined
  /** Papers: it asks for a slip or document that does not exist. */
  lacking: boolean | undefined
}

/** What rules of a stage say of an order. Different rules often say the same: equal ones are one object. */
export interface Said extends Kept {
  readonly number: number
  /** Values that rules settled; without an entry nobody said anything. */
  readonly settled: Readonly<Partial<Record<DecisionId, unknown>>>
  /** The same for all decisions of the stage, with the defaults. */
  readonly values: Decisions
  /** Packing: own dimensions are wanted by a rule above the one that names a preset. */
  readonly ownSize: boolean
}

/** What the same rules of a stage, matching together, come to, for the flow. */
export interface Outcome {
  readonly matched: readonly string[]
  readonly finishedBy: string | undefined
  /** Rules that decide something here, and did not before. */
  readonly deciding: readonly string[]
}

export const nothingCarried: Carried = { id: 0, claims: [], counted: new Set() }

/** What rules of one stage come to, matching together: each is worked out once, and has a number from 0 on. */
export interface StageOutcomes {
  /** By outcome: what is said, and what is left to later stages. */
  readonly said: readonly Said[]
  readonly after: readonly Carried[]
  readonly outcomes: readonly Outcome[]
  /** Works out what these rules come to, in their order, after what was carried to them. */
  readonly add: (matched: readonly ReadyRule[], before: Carried) => void
}

/** The outcomes of a stage; `carry` gives what is left to later stages its number. */
export function outcomesOf(
  stage: Stage,
  memory: OrderMemory,
  carry: (claims: readonly Claim[], counted: ReadonlySet<string>) => Carried,
): StageOutcomes {
  const kinds = decisionsOf[stage]
  const sayings = new Map<string, Said>()
  const [said, after, outcomes]: [Said[], Carried[], Outcome[]] = [[], [], []]
  return { said, after, outcomes, add }

  function add(matched: readonly ReadyRule[], before: Carried): void {
    const claims: readonly Claim[] = [
      ...before.claims,
      ...matched.flatMap(({ rule, actions }) =>
        actions.map(({ decision, value }) => ({ decision, value, rule: rule.id })),
      ),
    ]
    const { settled, decided } = settle(claims)
    said.push(saidBy(settled, asksOwnSize(claims)))
    const later = claims.filter(({ decision }) => kinds.every(({ id }) => id !== decision))
    const counted = [...before.counted, ...decided].filter((rule) => later.some((claim) => claim.rule === rule))
    after.push(carry(later, new Set(counted)))
    const last = matched[matched.length - 1]
    outcomes.push({
      matched: matched.map(({ rule }) => rule.id),
      finishedBy: last?.rule.finishStage ? last.rule.id : undefined,
      deciding: [...decided].filter((rule) => !before.counted.has(rule)),
    })
  }

  /** What the wishes for decisions of this stage come to, and the rules that decide it. */
  function settle(claims: readonly Claim[]): { settled: Said['settled']; decided: ReadonlySet<string> } {
    const settled: Partial<Record<DecisionId, unknown>> = {}
    const decided = new Set<string>()
    for (const kind of kinds) {
      const own = claims.filter((claim) => claim.decision === kind.id)
      if (own.length === 0) continue
      const values = own.map((claim) => claim.value)
      settled[kind.id] = memory.same(combined(kind, values, memory.ready.servicesOf))
      for (const { rule } of kind.combine === 'one' ? own.slice(0, 1) : own) decided.add(rule)
    }
    return { settled, decided }
  }

  function saidBy(settled: Said['settled'], ownSize: boolean): Said {
    const key = JSON.stringify([settled, ownSize])
    let found = sayings.get(key)
    if (!found) {
      found = {
        number: sayings.size,
        settled,
        values: { ...defaults, ...settled } as Decisions,
        ownSize,
        wishes: undefined,
        inserts: undefined,
        from: undefined,
        terms: [],
        open: undefined,
        most: undefined,
        lacking: undefined,
      }
      sayings.set(key, found)
    }
    return found
  }
}

/** Whether own dimensions are wished for by a rule above the one that names a preset. */
function asksOwnSize(claims: readonly Claim[]): boolean {
  const wish = (id: DecisionId): number => claims.findIndex(({ decision }) => decision === id)
  const [size, preset] = [wish('dimensions'), wish('preset')]
  return size >= 0 && (preset < 0 || (size < preset && claims[size]!.rule !== claims[preset]!.rule))
}
