import type { Order } from '@/core/order'
import type { Program } from '@/core/rulebook/compile'
import type { Routed } from '@/core/rulebook/language'
import { route } from './route'
import type { ReadyWorld } from '@/core/world'

/** What of a decision an example order holds fast. */
export interface ExpectedOutcome {
  readonly tags: readonly string[]
  readonly held: boolean
  readonly preset: string | null
  readonly location: string | null
  readonly service: string | null
  readonly signature: boolean
  readonly slip: string | null
}

/** A pinned order: an example with the outcome it must have, decided for the moment it was pinned. */
export interface PinnedOrder {
  readonly id: number
  readonly name: string
  readonly order: Order
  readonly now: number
  readonly expected: ExpectedOutcome
}

export interface PinnedResult {
  readonly id: number
  readonly name: string
  readonly number: string
  /** What is not as it must be; empty when the example holds. */
  readonly broken: readonly {
    readonly what: keyof ExpectedOutcome
    readonly expected: unknown
    readonly actual: unknown
  }[]
}

/** What a pinned order must come out as: what was decided for it when it was pinned. */
export const expectedOf = (routed: Routed): ExpectedOutcome => ({
  tags: [...routed.decisions.tags].sort(),
  held: routed.decisions.hold !== null,
  preset: routed.parcels[0]?.preset ?? null,
  location: routed.location,
  service: routed.quote?.service ?? null,
  signature: routed.decisions.signature,
  slip: routed.decisions.slip,
})

/** Runs the pinned orders through a rulebook. */
export function runPinned(pinned: readonly PinnedOrder[], program: Program, ready: ReadyWorld): PinnedResult[] {
  return pinned.map(({ id, name, order, now, expected }) => {
    const actual = expectedOf(route(order, program, ready, { now }))
    const broken = (Object.keys(expected) as (keyof ExpectedOutcome)[])
      .filter((what) => JSON.stringify(expected[what]) !== JSON.stringify(actual[what]))
      .map((what) => ({ what, expected: expected[what], actual: actual[what] }))
    return { id, name, number: order.number, broken }
  })
}
