import type { ConnectionRow } from './connections'
import type { Database } from './database'

/** A person on the way to the other side and back. */
export interface AuthorisationRow {
  /** The hash of the state that comes back with them. */
  readonly id: string
  readonly connection: string
  /** The hash of what their browser alone knows. */
  readonly browser: string
  /** What is needed to finish it, sealed. */
  readonly pending: string
  readonly madeAt: string
}

/** Keeps one that begins, and forgets those from before `forgotten`. */
export async function addAuthorisation(db: Database, row: AuthorisationRow, forgotten: string): Promise<void> {
  await db('authorisations').where('madeAt', '<', forgotten).delete()
  await db('authorisations').insert(row)
}

/** Takes one out, so that nobody finishes it twice; undefined when there is none. */
export async function takeAuthorisation(db: Database, id: string): Promise<AuthorisationRow | undefined> {
  const row = (await db('authorisations').where({ id }).first()) as AuthorisationRow | undefined
  return Number(await db('authorisations').where({ id }).delete()) === 1 ? row : undefined
}

/** What failed before an authorisation says nothing of the connection after it. */
export async function forgetFailure(db: Database, id: string): Promise<void> {
  await db('connections').where({ id }).update({ lastFailureAt: null, lastFailureKind: null, lastFailure: null })
}

/** Lets one process renew the tokens of a connection, until a moment; false while another does. */
export async function takeRenewal(db: Database, id: string, now: string, until: string): Promise<boolean> {
  const taken = await db('connections')
    .where({ id })
    .where((free) => void free.whereNull('renewingUntil').orWhere('renewingUntil', '<', now))
    .update({ renewingUntil: until })
  return Number(taken) === 1
}

/** Keeps what a renewal has brought, or that the authorisation is over, and lets others renew again. */
export async function endRenewal(
  db: Database,
  id: string,
  change: Partial<Pick<ConnectionRow, 'tokens' | 'endsAt'>>,
): Promise<void> {
  await db('connections')
    .where({ id })
    .update({ ...change, renewingUntil: null })
}
