import type { Database } from './database'

/** Somebody who may ask from outside. */
export interface TokenRow {
  readonly id: number
  readonly name: string
  /** How the token begins, to know it again. */
  readonly beginning: string
  /** JSON list. */
  readonly scopes: string
  readonly madeAt: string
  readonly lastUsedAt: string | null
  readonly revokedAt: string | null
}

const columns = ['id', 'name', 'beginning', 'scopes', 'made_at', 'last_used_at', 'revoked_at']

/** All tokens, the newest first. */
export const listTokens = (db: Database): Promise<TokenRow[]> =>
  db('api_tokens').select(columns).orderBy('id', 'desc') as unknown as Promise<TokenRow[]>

/** The token of a hash; undefined when there is none, or it was revoked. */
export const tokenByHash = (db: Database, hash: string): Promise<TokenRow | undefined> =>
  db('api_tokens').select(columns).where({ hash }).whereNull('revoked_at').first() as unknown as Promise<
    TokenRow | undefined
  >

/** Adds a token; gives its number. */
export async function addToken(
  db: Database,
  token: Pick<TokenRow, 'name' | 'beginning' | 'scopes' | 'madeAt'> & { readonly hash: string },
): Promise<number> {
  const [row] = (await db('api_tokens').insert(token).returning('id')) as { id: number }[]
  return row!.id
}

/** Ends a token; false when there is none that could be ended. */
export const revokeToken = async (db: Database, id: number, at: string): Promise<boolean> =>
  (await db('api_tokens').where({ id }).whereNull('revoked_at').update({ revokedAt: at })) === 1

/** Notes that a token was used; once a minute is enough. */
export async function noteToken(db: Database, { id, lastUsedAt }: TokenRow, at: string): Promise<void> {
  if (lastUsedAt?.slice(0, 16) !== at.slice(0, 16)) await db('api_tokens').where({ id }).update({ lastUsedAt: at })
}

/** What was answered to a key before; without a status it is still being worked on. */
export interface KnownAnswer {
  readonly asked: string
  readonly at: string
  readonly status: number | null
  readonly body: string | null
}

/** Takes a key for a question; gives what is known of it when it is taken already. */
export async function takeKey(
  db: Database,
  { token, key, asked, at }: { token: number; key: string; asked: string; at: string },
): Promise<KnownAnswer | null> {
  const [taken] = (await db('api_answers')
    .insert({ token, key, asked, at })
    .onConflict(['token', 'key'])
    .ignore()
    .returning('key')) as unknown[]
  return taken === undefined ? ((await db('api_answers').where({ token, key }).first()) as KnownAnswer) : null
}

/** Keeps the answer to a key. */
export async function keepAnswer(
  db: Database,
  token: number,
  key: string,
  answer: { readonly status: number; readonly body: string },
): Promise<void> {
  await db('api_answers').where({ token, key }).update(answer)
}

/** Gives a key free again: its question failed, and may be asked once more. */
export async function freeKey(db: Database, token: number, key: string): Promise<void> {
  await db('api_answers').where({ token, key }).whereNull('status').delete()
}

/** Forgets answers of before a moment. */
export async function forgetAnswers(db: Database, before: string): Promise<void> {
  await db('api_answers').where('at', '<', before).delete()
}
