/*
 * How PostgreSQL is spoken to, so that it answers as SQLite does: yes and no are 1 and 0, whole numbers are numbers of
 * JavaScript, texts are compared by their code points, and what is missing comes first.
 */
import PostgresClient from 'knex/lib/dialects/postgres/index.js'
import ColumnCompiler from 'knex/lib/dialects/postgres/schema/pg-columncompiler.js'
import QueryCompiler from 'knex/lib/dialects/postgres/query/pg-querycompiler.js'
import PgTransaction from 'knex/lib/dialects/postgres/execution/pg-transaction.js'
import pg from 'pg'
import { noteTime } from './slowest'

interface Query {
  readonly sql: string
  bindings?: readonly unknown[]
}

/**
 * A transaction that takes the right to write when it begins, as SQLite's does: what it reads stays true until it has
 * written. One lock for all of them: the right is given on when the transaction ends, whatever becomes of it.
 */
class WritingTransaction extends PgTransaction {
  async begin(connection: unknown): Promise<unknown> {
    return this.query(connection, `BEGIN; SELECT pg_advisory_xact_lock(${writingLock});`)
  }
}
/** Any number, as long as it is always the same one. */
const writingLock = 6_147_501

/** The columns of tables, with the types that hold what SQLite's hold. */
class Columns extends ColumnCompiler {}
Object.assign(Columns.prototype, { bool: 'smallint', boolean: 'smallint', integer: 'bigint', text: 'text collate "C"' })

/** A part of an ORDER BY. */
interface Ordering {
  readonly type: string
  readonly value?: unknown
  readonly direction?: string
  readonly nulls?: string
}

/**
 * What is missing comes first, and last when it is sorted downwards: so the indexes are made too (`indexAsSorted`). A row
 * always has its own number; to name the place of missing ones would keep the index of it from being walked.
 */
class Queries extends QueryCompiler {
  override _groupOrder(item: Ordering, type: string): string {
    if (type !== 'order' || item.type !== 'orderByBasic') return super._groupOrder(item, type)
    if (typeof item.value === 'string' && /(?:^|\.)id$/.test(item.value)) return super._groupOrder(item, type)
    const nulls = item.direction?.toLowerCase() === 'desc' ? 'last' : 'first'
    return super._groupOrderNulls({ ...item, nulls: item.nulls || nulls }, type)
  }
}

const int8 = 20
const numeric = 1700
/** How values of an answer are read: counts and sums are numbers, not texts. */
export const valueTypes = {
  getTypeParser: (type: number, format?: 'text' | 'binary'): unknown =>
    type === int8 || type === numeric
      ? Number
      : (pg.types.getTypeParser as (...args: unknown[]) => unknown)(type, format),
}

const deadlock = '40P01'

/** The dialect as Gharry speaks it. */
export class PostgresBooks extends PostgresClient {
  /** Of the client of a transaction. */
  declare readonly transacting?: boolean
  transaction(...args: unknown[]): unknown {
    return new WritingTransaction(this, ...args)
  }
  columnCompiler(...args: unknown[]): unknown {
    return new Columns(this, ...args)
  }
  queryCompiler(...args: unknown[]): unknown {
    return new Queries(this, ...args)
  }
  override async _query(connection: unknown, query: Query): Promise<unknown> {
    query.bindings = (query.bindings ?? []).map((value) => (typeof value === 'boolean' ? Number(value) : value))
    for (let attempt = 0; ; attempt++)
      try {
        const from = performance.now()
        const answer = await super._query(connection, query)
        noteTime(query.sql, performance.now() - from)
        return answer
      } catch (error) {
        // A statement by itself that was in another's way has done nothing: it is said again.
        if (this.transacting || attempt >= 3 || (error as { code?: unknown }).code !== deadlock) throw error
      }
  }
}
