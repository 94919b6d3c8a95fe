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
