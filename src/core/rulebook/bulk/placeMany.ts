import { type Case, originWays } from '@/core/rulebook/language'
import { locationBy, neededOffers } from '@/core/rulebook/decide'
import { firstLocation } from '@/core/world'
import type { OrderMemory, Terms } from './orderBlocks'
import type { Said } from './stageOutcomes'

/** Where orders leave from, and what is asked of services there. */
export interface ManyPlacer {
  /** The number of the location that Origin wants; −1 when there is none. */
  readonly fromOf: (c: Case, said: Said) => number
  /** What Protection asks of services for an order that leaves from there. */
  readonly termsOf: (c: Case, said: Said, from: number) => Terms
}

/** Places orders one after another; what hangs on the rules alone is worked out once. */
export function manyPlacer(memory: OrderMemory): ManyPlacer {
  const { ready } = memory
  const { locations } = ready.world
  const usual = firstLocation(ready.world)?.id
  return {
    fromOf: (c, said) => {
      // One that is named is the same for all orders.
      if (said.from !== undefined) return said.from
      const wanted = said.values.location ?? usual
      const found = locationBy(wanted, c, ready)
      const from = found ? locations.indexOf(found) : -1
      // One that is switched off gives way to another, order by order.
      if (!originWays.some((way) => way === wanted) && (!found || found.id === wanted)) said.from = from
      return from
    },
    termsOf: (c, { terms: known, values }, from) => {
      const variant = 4 * (from + 1) + (c.atHome ? 2 : 0) + (c.trade === 'export' ? 1 : 0)
      let found = known[variant]
      if (!found) {
        const { addressKind, signature, within } = values
        const residential = addressKind === 'as the address says' ? c.atHome : addressKind === 'home'
        found = known[variant] = memory.terms(from, residential, signature, within, neededOffers(values, c))
      }
      return found
    },
  }
}
