import type { Database } from './database'
import { takeRows } from './engine'
import { newOwner } from './leaseOwners'
import { workTime } from './workClock'
import type { WorkTable } from './workTables'

/** What is said to somebody outside: whoever dies while saying it may have said it. */
const isMessage = (table: WorkTable): boolean => table !== 'labels' && table !== 'imports' && table !== 'jobs'

export interface WorkRow {
  readonly id: number
  readonly state: string
  readonly attempts: number
  /** Who holds it; somebody else's, or none, when the lease has run out and another one has taken it. */
  readonly leaseOwner?: string | null
}

/** A row that its holder writes to. */
export type Held = Pick<WorkRow, 'id' | 'leaseOwner'>

/** Somebody else has taken a row meanwhile: what was done for it is not written. */
export class LeaseLost extends Error {
  constructor(table: WorkTable, id: number) {
    super(`The lease on ${table} ${id} was lost.`)
  }
}

export interface Due {
  readonly states: readonly string[]
  /** Jobs: only of these kinds. */
  readonly kinds?: readonly string[]
  /** Labels: only of this carrier. */
  readonly carrier?: string
  /** The youngest first; otherwise the one that is due longest. */
  readonly newest?: boolean
}

/**
 * Takes up to `most` due rows, oldest first, for `seconds`. A row whose lease has run out is due again. Posts and
 * hand-overs of one order go out one after the other, and imports of one channel come in so: one that still waits holds back those behind it. A message whose
 * holder died may have left all the same: that counts as a try. The taken rows come back as they are in the table.
 */
export async function takeDue<Row extends WorkRow>(
  db: Database,
  table: WorkTable,
  { states, kinds, carrier, newest = false }: Due,
  wall: Date,
  most: number,
  seconds: number,
): Promise<Row[]> {
  const now = await workTime(db, wall)
  const at = now.toISOString()
  const until = new Date(now.getTime() + seconds * 1000).toISOString()
  const due = db(table)
    .select('id')
    .whereIn('state', states)
    .where('next_at', '<=', at)
    .where((q) => void q.whereNull('lease_until').orWhere('lease_until', '<', at))
    .orderBy(newest ? [{ column: 'id', order: 'desc' as const }] : [{ column: 'next_at' }, { column: 'id' }])
    .limit(most)
  if (kinds) void due.whereIn('kind', kinds)
  if (carrier !== undefined) void due.where({ carrier })
  if (table === 'posts' || table === 'handovers')
    void due.whereNotExists(
      db({ earlier: table })
        .select(db.raw('1'))
        .whereRaw('earlier.order_id = ??.order_id AND earlier.id < ??.id', [table, table])
        .where('earlier.state', 'queued'),
    )
  // Files of a sender come in one after the other: the later one is right.
  if (table === 'imports')
    void due.whereNotExists(
      db({ earlier: table })
        .select(db.raw('1'))
        .whereRaw('earlier.channel_id = ??.channel_id AND earlier.kind = ??.kind AND earlier.id < ??.id', [
          ...[table, table, table],
        ])
        .whereIn('earlier.state', states),
    )
  // Most rounds find nothing, and ask no right to write for it.
  if (!(await due.clone().first())) return []
  const rows = await takeRows<Row>(db, table, due, {
    leaseUntil: until,
    leaseOwner: newOwner(),
    ...(isMessage(table) ? { attempts: db.raw('attempts + CASE WHEN lease_until IS NULL THEN 0 ELSE 1 END') } : {}),
  })
  return rows.sort((a, b) => (newest ? b.id - a.id : a.id - b.id))
}

/** The carriers of which a label is due. */
export async function carriersDue(db: Database, wall: Date): Promise<string[]> {
  const at = (await workTime(db, wall)).toISOString()
  const rows = (await db('labels')
    .whereIn('state', ['queued', 'voiding'])
    .where('next_at', '<=', at)
    .where((q) => void q.whereNull('lease_until').orWhere('lease_until', '<', at))
    .distinct('carrier')) as { carrier: string }[]
  return rows.map(({ carrier }) => carrier)
}

/** Prolongs a lease while its holder is still at work; whoever has lost it is stopped. */
export async function keepLease(db: Database, table: WorkTable, row: Held, wall: Date, seconds: number): Promise<void> {
  const now = await workTime(db, wall)
  await changeHeld(db, table, row, { leaseUntil: new Date(now.getTime() + seconds * 1000).toISOString() })
}

/** Writes to a row that one holds; whoever has lost it is stopped, so that nothing of what it did is kept. */
export async function changeHeld(
  db: Database,
  table: WorkTable,
  { id, leaseOwner }: Held,
  change: Readonly<Record<string, unknown>>,
): Promise<void> {
  const mine = db(table).where({ id })
  if (leaseOwner) void mine.where({ leaseOwner })
  if ((await mine.update(change)) !== 1) throw new LeaseLost(table, id)
}

/**
 * Seconds to wait before try number `attempts` + 1: 2, 4, 8 … at most a minute; a longer wish of the other side wins.
 */
export const backOffSeconds = (attempts: number, wish = 0): number =>
  Math.max(Math.min(60, 2 ** Math.min(attempts + 1, 10)), wish)

/** Puts a row back for a later try. Nothing happens when somebody else has taken it meanwhile. */
export async function putBack(
  db: Database,
  table: WorkTable,
  row: Held & Pick<WorkRow, 'attempts'>,
  wall: Date,
  problem: string,
  wish = 0,
): Promise<void> {
  const now = await workTime(db, wall)
  const mine = db(table).where({ id: row.id })
  if (row.leaseOwner) void mine.where({ leaseOwner: row.leaseOwner })
  await mine.update({
    attempts: row.attempts + 1,
    nextAt: new Date(now.getTime() + backOffSeconds(row.attempts, wish) * 1000).toISOString(),
    leaseUntil: null,
    leaseOwner: null,
    problem,
  })
}

/**
 * Gives a row back as it was taken, to be gone on with by whoever comes next: when the worker stops, or something else
 * has to go first.
 */
export async function handBack(db: Database, table: WorkTable, row: Held, wall: Date, seconds = 0): Promise<void> {
  const now = await workTime(db, wall)
  const mine = db(table).where({ id: row.id })
  if (row.leaseOwner) void mine.where({ leaseOwner: row.leaseOwner })
  await mine.update({
    leaseUntil: null,
    leaseOwner: null,
    nextAt: new Date(now.getTime() + seconds * 1000).toISOString(),
  })
}

/** What was waiting for a carrier or a channel that answers again goes on at once. */
export async function releaseWaiting(
  db: Database,
  table: Exclude<WorkTable, 'jobs'>,
  of: Readonly<Record<string, string>>,
  wall: Date,
): Promise<void> {
  const at = (await workTime(db, wall)).toISOString()
  const waiting = (): ReturnType<Database> =>
    db(table)
      .where(of)
      .whereIn('state', ['queued', 'voiding', 'waiting'])
      .where('attempts', '>', 0)
      .where('next_at', '>', at)
      .whereNull('lease_until') as ReturnType<Database>
  if (await waiting().first('id')) await waiting().update({ nextAt: at })
}
