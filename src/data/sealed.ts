import type { Database } from './database'

/** Every column in which something is sealed, and for whom, by the row's own identifier. */
const sealedColumns: readonly {
  readonly table: string
  readonly columns: readonly string[]
  readonly of: (id: string | number) => string
}[] = [
  { table: 'connections', columns: ['secrets', 'tokens'], of: String },
  { table: 'webhooks', columns: ['secret'], of: String },
  { table: 'authorisations', columns: ['pending'], of: String },
  { table: 'people', columns: ['second'], of: (id) => `second factor of person ${id}` },
  { table: 'proposals', columns: ['body'], of: () => 'proposal' },
]

/** Seals everything anew that is sealed in the books, within a transaction; gives how many secrets there are. */
export async function resealAll(trx: Database, anew: (sealed: string, of: string) => string): Promise<number> {
  let count = 0
  for (const { table, columns, of } of sealedColumns) {
    const rows = (await trx(table).select('id', ...columns)) as ({ id: string | number } & Record<
      string,
      string | null
    >)[]
    for (const row of rows) {
      const change = Object.fromEntries(
        columns.flatMap((column) => {
          const sealed = row[column]
          return sealed ? [[column, anew(sealed, of(row.id))] as const] : []
        }),
      )
      if (Object.keys(change).length === 0) continue
      await trx(table).where({ id: row.id }).update(change)
      count += Object.keys(change).length
    }
  }
  return count
}
