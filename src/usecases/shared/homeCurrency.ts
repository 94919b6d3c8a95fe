import { formatMoney, money } from '@/core/units'
import type { Database } from '@/data'
import { currentWorld } from './changeWorld'

/** The home currency, in which all books are kept (ISO 4217). */
export const homeCurrency = async (db: Database): Promise<string> => (await currentWorld(db)).world.rates.home

/** Home minor units as sentences say them. */
export const homeAmount = async (db: Database, minor: number): Promise<string> =>
  formatMoney(money(minor, await homeCurrency(db)))
