import type { Knex } from 'knex'
import { divideGrown, keepParts } from '../engine'

/** On PostgreSQL, facts, decisions, histories and news are divided into parts; see `postgresOnly.ts`. */
export async function parts(db: Knex): Promise<void> {
  await divideGrown(db)
  await keepParts(db)
}
