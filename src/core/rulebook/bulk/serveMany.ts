import type { Day } from '@/core/calendar'
import type { Pick as Choice } from '@/core/rating'
import { type Case, defaults } from '@/core/rulebook/language'
import { toHome } from '@/core/units'
import type { WordingMeaning } from '@/core/world'
import type { OrderBlock, OrderMemory } from './orderBlocks'
import { serviceChooser } from './prices'
import type { Said } from './stageOutcomes'

/** Chooses services for orders, and takes what they cost and when they arrive into the facts. */
export interface ManyServer {
  /** Turns to an order that is packed and has its location, number `from` of the world. */
  readonly ask: (block: OrderBlock, order: number, c: Case, from: number, terms: number) => void
  /** What Service picks by; without a rule what the wording means, else the usual way. */
  readonly picksOf: (said: Said, meaning: WordingMeaning | undefined) => readonly Choice[]
  /** The service for the order that was asked for; −1 when none is left. */
  readonly serve: (c: Case, said: Said, picks: readonly Choice[], promised: Day) => number
}

/** Serves orders one after another; the runner-up is looked for where a rule asks for it. */
export function manyServer(memory: OrderMemory, asksRunnerUp: boolean): ManyServer {
  const { world, rateBook } = memory.ready
  const services = serviceChooser(memory)
  const pickOf = new Map<WordingMeaning, readonly Choice[]>()

  return {
    ask: services.ask,
    picksOf: ({ settled }, meaning) =>
      (settled.picks ?? (meaning?.pick ? picksBy(meaning) : defaults.picks)) as readonly Choice[],
    serve: (c, said, picks, promised) => {
      const { ceiling } = said.values
      if (said.most === undefined) said.most = ceiling === null ? Infinity : toHome(ceiling, world.rates)
      const lane = services.choose(picks, (said.open ??= openLanes(said)), said.most ?? Infinity, promised)
      if (lane < 0) return lane
      c.quote = services.quote(lane)
      if (promised !== Infinity) c.daysLate = services.arrival(lane) - promised
      if (asksRunnerUp) {
        const other = services.runnerUp(lane)
        c.runnerUp = other < 0 ? null : services.quote(other)
      }
      return lane
    },
  }

  function openLanes({ settled }: Said): Uint8Array {
    const barred = (settled.barred ?? []) as readonly string[]
    const allowed = settled.allowed as readonly string[] | undefined
    return Uint8Array.from(rateBook.lanes, ({ service: { id, carrier } }) =>
      barred.includes(id) ||
      barred.includes(carrier) ||
      (allowed && !allowed.includes(id) && !allowed.includes(carrier))
        ? 0
        : 1,
    )
  }

  function picksBy(meaning: WordingMeaning): readonly Choice[] {
    let found = pickOf.get(meaning)
    if (!found) pickOf.set(meaning, (found = memory.same([meaning.pick!])))
    return found
  }
}
