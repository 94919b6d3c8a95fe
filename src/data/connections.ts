import type { Database } from './database'

/** What links Gharry to a channel or to an account at a carrier. */
export interface ConnectionRow {
  readonly id: string
  readonly role: 'channel' | 'carrier' | 'partner' | 'messenger'
  /** The channel, the carrier, or the partner. */
  readonly belongsTo: string
  readonly kind: string
  readonly name: string
  /** JSON, without what is secret. */
  readonly settings: string
  /** JSON, sealed; null when there are none. */
  readonly secrets: string | null
  readonly on: boolean
  readonly version: number
  readonly madeAt: string
  readonly lastSuccessAt: string | null
  readonly lastFailureAt: string | null
  readonly lastFailureKind: string | null
  readonly lastFailure: string | null
  /** When its authorisation ends; null where it does not. */
  readonly endsAt: string | null
  /** Of a carrier: the locations that use this account, as a JSON list; null for all of them. */
  readonly locations: string | null
  /** Of a carrier: so many labels are asked for in a second at most; null where only its answers say. */
  readonly perSecond: number | null
  /** Its tokens, as JSON, sealed; null where it needs none, or was not authorised. */
  readonly tokens: string | null
}

/** The calls of an hour (`2026-11-27T14`), and how long they took together, in milliseconds. */
export interface ConnectionHour {
  readonly connection: string
  readonly hour: string
  readonly calls: number
  readonly failures: number
  readonly ms: number
  /** Messages of the other side that were taken, and that were not its own. */
  readonly heard: number
  readonly refused: number
}

/** All connections, by identifier. */
export const listConnections = (db: Database): Promise<ConnectionRow[]> => db('connections').select('*').orderBy('id')

/** One of them; undefined when there is none. */
export const connectionById = (db: Database, id: string): Promise<ConnectionRow | undefined> =>
  db('connections').where({ id }).first()

/** The accounts at a carrier, the oldest first. */
export const connectionsOfCarrier = (db: Database, carrier: string): Promise<ConnectionRow[]> =>
  db('connections').where({ role: 'carrier', belongsTo: carrier }).orderBy(['madeAt', 'id'])

/** The accounts at all carriers, the oldest first. */
export const carrierConnections = (db: Database): Promise<ConnectionRow[]> =>
  db('connections').where({ role: 'carrier' }).orderBy(['madeAt', 'id'])

type Settings = Pick<
  ConnectionRow,
  'kind' | 'name' | 'settings' | 'secrets' | 'on' | 'endsAt' | 'tokens' | 'locations' | 'perSecond'
>

/** Adds one; false when its identifier is taken. */
export async function addConnection(
  db: Database,
  row: Settings & Pick<ConnectionRow, 'id' | 'role' | 'belongsTo' | 'madeAt'>,
): Promise<boolean> {
  const [id] = (await db('connections').insert(row).onConflict('id').ignore().returning('id')) as { id: string }[]
  return id !== undefined
}

/** Changes one that is still at `version`; false when somebody else was faster, or it is gone. */
export async function changeConnection(
  db: Database,
  id: string,
  version: number,
  change: Partial<Settings>,
): Promise<boolean> {
  const changed = await db('connections')
    .where({ id, version })
    .update({ ...change, version: version + 1 })
  return Number(changed) === 1
}

/** Takes one out, with what was noted of its calls. */
export async function removeConnection(db: Database, id: string): Promise<void> {
  await db('connections').where({ id }).delete()
}

/** How calls of a connection went since it was noted last. */
export interface Calls {
  readonly calls: number
  readonly failures: number
  readonly ms: number
  readonly heard: number
  readonly refused: number
  readonly successAt: string | null
  readonly failure: { readonly at: string; readonly kind: string; readonly sentence: string } | null
}

/** Notes calls of an hour, and the last success and failure. */
export async function noteCalls(db: Database, connection: string, hour: string, noted: Calls): Promise<void> {
  await db.transaction(async (trx) => {
    const { calls, failures, ms, heard, refused, successAt, failure } = noted
    const known = await trx('connections')
      .where({ id: connection })
      .update({
        id: connection,
        ...(successAt ? { lastSuccessAt: successAt } : {}),
        ...(failure ? { lastFailureAt: failure.at, lastFailureKind: failure.kind, lastFailure: failure.sentence } : {}),
      })
    if (Number(known) === 0) return
    await trx('connection_hours')
      .insert({ connection, hour, calls, failures, ms, heard, refused })
      .onConflict(['connection', 'hour'])
      .merge({
        calls: trx.raw('connection_hours.calls + excluded.calls'),
        failures: trx.raw('connection_hours.failures + excluded.failures'),
        ms: trx.raw('connection_hours.ms + excluded.ms'),
        heard: trx.raw('connection_hours.heard + excluded.heard'),
        refused: trx.raw('connection_hours.refused + excluded.refused'),
      })
  })
}

/** The hours from one on, of all connections. */
export const hoursSince = (db: Database, hour: string): Promise<ConnectionHour[]> =>
  db('connection_hours').where('hour', '>=', hour).orderBy(['connection', 'hour'])

/** Forgets what is older. */
export async function forgetHours(db: Database, before: string): Promise<void> {
  await db('connection_hours').where('hour', '<', before).delete()
}
