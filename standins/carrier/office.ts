import type { FastifyInstance } from 'fastify'
import type { Service, Tariff } from '@/core/rating'
import type { Books } from '../books'
import type { FaultSwitches } from '../faults'
import type { Prepaid } from './balance'
import type { Clock } from './clock'
import type { Habits } from './habits'

export interface CarrierSettings {
  readonly id: string
  readonly name: string
  readonly file: string
  readonly token: string
  readonly services: readonly Service[]
  readonly tariffs: readonly Tariff[]
  readonly habits: Habits
  /** Euros for one unit of a currency. */
  readonly homePerUnit: (currency: string) => number
}

/** What all counters of a carrier share: its books, its clock, the seller's account with it. */
export interface Office {
  readonly app: FastifyInstance
  readonly books: Books
  readonly settings: CarrierSettings
  readonly clock: Clock
  readonly prepaid: Prepaid
  readonly hits: FaultSwitches['hits']
}
