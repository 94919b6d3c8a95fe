import type { Knex } from 'knex'
import { indexAsSorted } from '../engine'

/** Lists of orders and parcels are walked along an index on PostgreSQL too, whatever they are sorted by. */
export const sorts = (db: Knex): Promise<void> =>
  indexAsSorted(db, ['orders', 'board', 'labels', 'ledger', 'notices', 'posts', 'claims', 'returns'])
