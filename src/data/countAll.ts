import type { Knex } from 'knex'

/** How many rows a query has; PostgreSQL counts in text. */
export async function countAll(query: Knex.QueryBuilder): Promise<number> {
  const [row] = (await query.count({ n: '*' })) as { n: number | string }[]
  return Number(row?.n ?? 0)
}
