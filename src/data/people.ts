import { fromJson, toJson, type Database } from './database'

/** Somebody who may sign in, as others see them. */
export interface PersonRow {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly role: string
  readonly location: string | null
  readonly madeAt: string
  readonly endedAt: string | null
}
/** What somebody signs in with. */
export interface Factors {
  readonly password: string | null
  /** Sealed. */
  readonly second: string | null
  readonly secondSince: string | null
  readonly secondStep: number
  /** JSON list of hashes. */
  readonly recovery: string
  /** What a badge hashes to. */
  readonly badge: string | null
  readonly badgeCode: string | null
  /** Who they are at an outside provider. */
  readonly subject: string | null
}
export interface SignInRow {
  readonly id: number
  readonly person: number
  readonly whole: boolean
  readonly how: string
  readonly madeAt: string
  readonly seenAt: string
  readonly endsAt: string
  readonly address: string
  readonly agent: string
}

const shown = ['id', 'name', 'email', 'role', 'location', 'made_at', 'ended_at'].map((column) => `people.${column}`)

/** Everybody, in the order in which they came, with when they were seen last and which factors they have. */
export const listPeople = (
  db: Database,
): Promise<
  (PersonRow & {
    seenAt: string | null
    hasPassword: number
    hasSecond: number
    hasBadge: number
    hasSubject: number
    passkeys: number
  })[]
> =>
  db('people')
    .select(
      ...shown,
      { seenAt: db('sign_ins').max('seen_at').whereRaw('sign_ins.person = people.id') as never },
      { passkeys: db('passkeys').count('id').whereRaw('passkeys.person = people.id') as never },
      { hasPassword: db.raw('CASE WHEN people.password IS NULL THEN 0 ELSE 1 END') },
      { hasBadge: db.raw('CASE WHEN people.badge IS NULL THEN 0 ELSE 1 END') },
      { hasSubject: db.raw('CASE WHEN people.subject IS NULL THEN 0 ELSE 1 END') },
      { hasSecond: db.raw('CASE WHEN people.second_since IS NULL THEN 0 ELSE 1 END') },
    )
    .orderBy('people.id') as never

/** One person; undefined when there is none. */
export const personBy = (
  db: Database,
  by: { id: number } | { email: string } | { badge: string } | { subject: string },
): Promise<PersonRow | undefined> =>
  db('people').select(shown).where(by).first() as unknown as Promise<PersonRow | undefined>

/** What somebody signs in with. */
export const factorsOf = (db: Database, id: number): Promise<Factors> =>
  db('people')
    .where({ id })
    .first(
      'password',
      'second',
      'second_since',
      'second_step',
      'recovery',
      'badge',
      'badge_code',
      'subject',
    ) as unknown as Promise<Factors>

/** Adds somebody; gives their number, or undefined when the address is somebody's already. */
export async function addPerson(
  db: Database,
  person: Pick<PersonRow, 'name' | 'email' | 'role' | 'location' | 'madeAt'>,
): Promise<number | undefined> {
  const [row] = (await db('people').insert(person).onConflict('email').ignore().returning('id')) as { id: number }[]
  return row?.id
}

/** Changes what is given of somebody. */
export async function changePerson(
  db: Database,
  id: number,
  change: Partial<Pick<PersonRow, 'name' | 'role' | 'location' | 'endedAt'> & Factors>,
): Promise<void> {
  await db('people').where({ id }).update(change)
}

/** How many owners there are who have not ended. */
export async function countOwners(db: Database): Promise<number> {
  const [row] = (await db('people').where({ role: 'owner' }).whereNull('ended_at').count({ n: 'id' })) as {
    n: number
  }[]
  return Number(row!.n)
}

/** Takes a step of time of the second factor; false when it, or a later one, was used before. */
export const useStep = async (db: Database, id: number, step: number): Promise<boolean> =>
  (await db('people').where({ id }).where('second_step', '<', step).update({ secondStep: step })) === 1

/** Takes a recovery code by what it hashes to; false when it is none, or was used. */
export async function takeRecovery(db: Database, id: number, hash: string): Promise<boolean> {
  return db.transaction(async (trx) => {
    const left = fromJson<string[]>((await factorsOf(trx, id)).recovery)
    if (!left.includes(hash)) return false
    await changePerson(trx, id, { recovery: toJson(left.filter((one) => one !== hash)) })
    return true
  })
}

/** Begins a sign-in. */
export async function addSignIn(
  db: Database,
  signIn: Omit<SignInRow, 'id' | 'seenAt'> & { readonly hash: string },
): Promise<void> {
  await db('sign_ins').insert({ ...signIn, seenAt: signIn.madeAt })
}

/**
 * A sign-in by what its cookie hashes to, with whose it is; undefined when it is none, is over, or the person has
 * ended.
 */
export async function signInBy(
  db: Database,
  hash: string,
  now: string,
): Promise<{ readonly signIn: SignInRow; readonly person: PersonRow } | undefined> {
  const row = (await db('sign_ins')
    .join('people', 'people.id', 'sign_ins.person')
    .where({ hash })
    .where('ends_at', '>', now)
    .whereNull('people.ended_at')
    .first(
      ...['name', 'email', 'role', 'location', 'ended_at'].map((column) => `people.${column}`),
      { since: 'people.made_at' },
      ...['id', 'person', 'whole', 'how', 'made_at', 'seen_at', 'ends_at', 'address', 'agent'].map(
        (column) => `sign_ins.${column}`,
      ),
    )) as (SignInRow & Omit<PersonRow, 'id'> & { since: string }) | undefined
  if (!row) return undefined
  const { name, email, role, location, endedAt, since, ...signIn } = row
  return {
    signIn: { ...signIn, whole: Boolean(signIn.whole) },
    person: { id: row.person, name, email, role, location, endedAt, madeAt: since },
  }
}

/** The sign-ins of somebody that are not over, the one seen last first. */
export const signInsOf = (db: Database, person: number, now: string): Promise<SignInRow[]> =>
  db('sign_ins')
    .select('id', 'person', 'whole', 'how', 'made_at', 'seen_at', 'ends_at', 'address', 'agent')
    .where({ person, whole: true })
    .where('ends_at', '>', now)
    .orderBy('seen_at', 'desc') as unknown as Promise<SignInRow[]>

/** Notes that a sign-in was used. */
export async function noteSignIn(db: Database, id: number, at: string): Promise<void> {
  await db('sign_ins').where({ id }).update({ seenAt: at })
}

/** Ends sign-ins of somebody: one, all but one, or all. Gives how many. */
export const endSignIns = (
  db: Database,
  person: number,
  which: { readonly only?: number; readonly but?: number } = {},
): Promise<number> => {
  const query = db('sign_ins').where({ person })
  if (which.only !== undefined) void query.where({ id: which.only })
  if (which.but !== undefined) void query.whereNot({ id: which.but })
  return query.delete()
}

/** Forgets sign-ins and links that are over. */
export async function forgetSignIns(db: Database, now: string): Promise<void> {
  await db('sign_ins').where('ends_at', '<', now).delete()
  await db('person_links').where('ends_at', '<', now).delete()
}

/** Keeps a link that can be used once; what the same person had before is no good any more. */
export async function addLink(
  db: Database,
  link: { readonly hash: string; readonly person: number | null; readonly endsAt: string },
): Promise<void> {
  await db('person_links').where({ person: link.person }).delete()
  await db('person_links').insert(link)
}

/** Whose a link is; undefined when it is none, was used, or is over. */
export const linkBy = (db: Database, hash: string, now: string): Promise<{ person: number | null } | undefined> =>
  db('person_links')
    .where({ hash })
    .whereNull('used_at')
    .where('ends_at', '>', now)
    .first('person') as unknown as Promise<{ person: number | null } | undefined>

/** Takes a link; false when it was taken meanwhile. */
export const takeLink = async (db: Database, hash: string, at: string): Promise<boolean> =>
  (await db('person_links').where({ hash }).whereNull('used_at').update({ usedAt: at })) === 1

export interface PasskeyRow {
  readonly id: number
  readonly person: number
  readonly credential: string
  readonly publicKey: Uint8Array
  readonly counter: number
  /** JSON list. */
  readonly transports: string
  readonly name: string
  readonly madeAt: string
  readonly usedAt: string | null
}

/** The passkeys of somebody. */
export const passkeysOf = (db: Database, person: number): Promise<PasskeyRow[]> =>
  db('passkeys').where({ person }).orderBy('id') as unknown as Promise<PasskeyRow[]>

/** A passkey by its credential; undefined when there is none. */
export const passkeyBy = (db: Database, credential: string): Promise<PasskeyRow | undefined> =>
  db('passkeys').where({ credential }).first() as unknown as Promise<PasskeyRow | undefined>

/** Keeps a passkey; false when its credential is known already. */
export const addPasskey = async (db: Database, passkey: Omit<PasskeyRow, 'id' | 'usedAt'>): Promise<boolean> =>
  ((await db('passkeys').insert(passkey).onConflict('credential').ignore().returning('id')) as unknown[]).length > 0

/** Notes that a passkey was used, with what it has counted. */
export async function notePasskey(db: Database, id: number, counter: number, at: string): Promise<void> {
  await db('passkeys').where({ id }).update({ counter, usedAt: at })
}

/** Forgets a passkey of somebody; false when they have none such. */
export const removePasskey = async (db: Database, person: number, id: number): Promise<boolean> =>
  (await db('passkeys').where({ person, id }).delete()) === 1
