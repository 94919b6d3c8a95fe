import { formatMoney, money } from '@/core/units'
import { newestWorld, type Database } from '@/data'
import { emptyWorld } from '@/core/world'

/** The home currency, in which all books are kept (ISO 4217). */
export const homeCurrency = async (db: Database): Promise<string> =>
  ((await newestWorld(db))?.world ?? emptyWorld).rates.home

/** Home minor units as sentences say them. */
export const homeAmount = async (db: Database, minor: number): Promise<string> =>
  formatMoney(money(minor, await homeCurrency(db)))
