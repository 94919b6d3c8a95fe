import type { Money } from '@/core/units'

/** The six parts of a rulebook, worked through in this order. */
export const stages = ['triage', 'packing', 'origin', 'protection', 'service', 'papers'] as const
export type Stage = (typeof stages)[number]

export const stageIndex = (stage: Stage): number => stages.indexOf(stage)

export interface Rulebook {
  readonly name: string
  readonly groups: readonly Group[]
  /** All stages in one list; the order within a stage is the order of the list. */
  readonly rules: readonly Rule[]
}

/** A named list of countries that conditions point to. */
export interface Group {
  readonly id: string
  readonly name: string
  readonly members: readonly string[]
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
  | Test

export interface ItemTest {
  readonly items: 'any' | 'every' | 'no'
  readonly where: Condition
}

export interface Test {
  readonly fact: string
  readonly op: Operator
  readonly value?: Value
}

export const operators = [
  'is', 'is not', 'is one of', 'is none of', 'contains', 'starts with', 'ends with', 'matches', 'is missing', 'is known',
  '=', '≠', '<', '≤', '>', '≥', 'between', 'has any', 'has all', 'has none',
] as const
export type Operator = (typeof operators)[number]

export type ListEntry = string | { readonly group: string }
export type Value = string | number | boolean | Money | readonly ListEntry[] | readonly [number, number] | readonly [Money, Money]

export interface Action {
  /** A decision of the catalogue. */
  readonly set: string
  readonly to: unknown
}

export const isTest = (condition: Condition): condition is Test => 'fact' in condition
export const isItemTest = (condition: Condition): condition is ItemTest => 'items' in condition
