import type { Money } from '@/core/units'

/** The six parts of a rulebook, worked through in this order. */
export const stages = ['triage', 'packing', 'origin', 'protection', 'service', 'papers'] as const
export type Stage = (typeof stages)[number]

/** The place of a stage, from 0. */
export const stageIndex = (stage: Stage): number => stages.indexOf(stage)

export interface Rulebook {
  readonly name: string
  readonly groups: readonly Group[]
  /** Named conditions that rules point to. */
  readonly conditions?: readonly SavedCondition[]
  /** All stages in one list; the order within a stage is the order of the list. */
  readonly rules: readonly Rule[]
}

/** What decides before there is any rule. */
export const emptyRulebook: Rulebook = { name: 'Rulebook', groups: [], rules: [] }

/** What a group lists. Postcodes stand alone, as a prefix (`20*`) or as a range (`1000-1299`). */
export const groupKinds = ['countries', 'postcodes', 'SKUs', 'phrases'] as const
export type GroupKind = (typeof groupKinds)[number]

/** A named list that conditions point to. */
export interface Group {
  readonly id: string
  readonly name: string
  /** Countries when absent. */
  readonly kind?: GroupKind
  readonly members: readonly string[]
}

export interface SavedCondition {
  readonly id: string
  readonly name: string
  readonly when: Condition
}

export interface Rule {
  readonly id: string
  readonly stage: Stage
  readonly name: string
  readonly on: boolean
  /** First and last day on which the rule takes part, `YYYY-MM-DD`. */
  readonly from?: string
  readonly until?: string
  /** When it matches, no later rule of the stage is looked at. */
  readonly finishStage?: boolean
  readonly when: Condition
  readonly then: readonly Action[]
}

export type Condition =
  | { readonly all: readonly Condition[] }
  | { readonly any: readonly Condition[] }
  | { readonly none: readonly Condition[] }
  | ItemTest
  | ItemSum
  | SavedTest
  | Test

export interface ItemTest {
  readonly items: 'any' | 'every' | 'no'
  readonly where: Condition
}

/** What the items that fit come to, compared with a value. */
export interface ItemSum {
  readonly sum: 'lines' | 'quantity' | 'value' | 'weight'
  readonly where: Condition
  readonly op: Operator
  readonly value: Value
}

/** A saved condition, by its identifier. */
export interface SavedTest {
  readonly saved: string
}

export interface Test {
  readonly fact: string
  readonly op: Operator
  readonly value?: Value
}

export const operators = [
  'is',
  'is not',
  'is one of',
  'is none of',
  'contains',
  'contains any of',
  'contains none of',
  'starts with',
  'ends with',
  'matches',
  'is missing',
  'is known',
  '=',
  '≠',
  '<',
  '≤',
  '>',
  '≥',
  'between',
  'has any',
  'has all',
  'has none',
  'before',
  'after',
  'within the last',
  'within the next',
  'weekday is',
  'time of day between',
] as const
export type Operator = (typeof operators)[number]

export type ListEntry = string | { readonly group: string }
export type Value =
  | string
  | number
  | boolean
  | Money
  | readonly ListEntry[]
  | readonly [number, number]
  | readonly [Money, Money]
  | Span
  | readonly [string, string]

/** A length of time. */
export type Span = { readonly hours: number } | { readonly days: number }

export interface Action {
  /** A decision of the catalogue. */
  readonly set: string
  readonly to: unknown
}

/** Whether a condition is a test of one fact. */
export const isTest = (condition: Condition): condition is Test => 'fact' in condition
/** Whether a condition is a test of a sum over items. */
export const isItemSum = (condition: Condition): condition is ItemSum => 'sum' in condition
/** Whether a condition names a saved one. */
export const isSaved = (condition: Condition): condition is SavedTest => 'saved' in condition
/** Whether a condition asks something of any, every or no item. */
export const isItemTest = (condition: Condition): condition is ItemTest => 'items' in condition

/** How the members of a group of conditions are joined. */
export const branchOf = (condition: Condition): 'all' | 'any' | 'none' => {
  if ('all' in condition) return 'all'
  return 'any' in condition ? 'any' : 'none'
}

/** The members of a group of conditions; empty for everything else. */
export const membersOf = (condition: Condition): readonly Condition[] => {
  if ('all' in condition) return condition.all
  if ('any' in condition) return condition.any
  return 'none' in condition ? condition.none : []
}

/** Names of the rules that print a slip template. */
export const rulesWithSlip = (rulebook: Rulebook, slip: string): string[] =>
  rulebook.rules
    .filter((rule) =>
      rule.then.some(
        (action) =>
          (action.set === 'slip' && action.to === slip) ||
          (action.set === 'documents' && Array.isArray(action.to) && action.to.includes(slip)),
      ),
    )
    .map(({ name }) => name)

/** Whether something of a rulebook names a group. */
function namesGroup(value: unknown, id: string): boolean {
  if (typeof value !== 'object' || value === null) return false
  if (!Array.isArray(value) && (value as { group?: unknown }).group === id) return true
  return Object.values(value).some((part) => namesGroup(part, id))
}

/** Names of the rules and saved conditions that name a group. */
export const usersOfGroup = ({ rules, conditions = [] }: Rulebook, id: string): string[] =>
  [...rules, ...conditions].filter(({ when }) => namesGroup(when, id)).map(({ name }) => name)
