/* Parts of Knex that it does not type: its dialect of SQLite, of which `sqliteClient.ts` makes its own. */
declare module 'knex/lib/dialects/better-sqlite3/index.js' {
  export default class BetterSqlite3Client {
    constructor(...args: unknown[])
    acquireRawConnection(): Promise<unknown>
    _query(connection: unknown, query: { readonly sql: string }): Promise<unknown>
  }
}
declare module 'knex/lib/dialects/sqlite3/execution/sqlite-transaction.js' {
  export default class SqliteTransaction {
    constructor(...args: unknown[])
    query(connection: unknown, sql: string): Promise<unknown>
  }
}
/* And its dialect of PostgreSQL, of which `postgresClient.ts` makes its own. */
declare module 'knex/lib/dialects/postgres/index.js' {
  export default class PostgresClient {
    constructor(...args: unknown[])
    _query(connection: unknown, query: { readonly sql: string; bindings?: readonly unknown[] }): Promise<unknown>
  }
}
declare module 'knex/lib/dialects/postgres/execution/pg-transaction.js' {
  export default class PgTransaction {
    constructor(...args: unknown[])
    query(connection: unknown, sql: string): Promise<unknown>
  }
}
declare module 'knex/lib/dialects/postgres/schema/pg-columncompiler.js' {
  export default class ColumnCompiler {
    constructor(...args: unknown[])
  }
}
declare module 'knex/lib/dialects/postgres/query/pg-querycompiler.js' {
  export default class QueryCompiler {
    constructor(...args: unknown[])
    _groupOrder(item: unknown, type: string): string
    _groupOrderNulls(item: unknown, type: string): string
  }
}
