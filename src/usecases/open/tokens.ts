import { createHash, randomBytes } from 'node:crypto'
import { addToken, fromJson, listTokens, noteToken, revokeToken, tokenByHash, type TokenRow } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { isScope, type Scope } from './scopes'

export interface TokenView extends Omit<TokenRow, 'scopes'> {
  readonly scopes: readonly Scope[]
}

const viewOf = ({ scopes, ...row }: TokenRow): TokenView => ({
  ...row,
  scopes: fromJson<string[]>(scopes).filter(isScope),
})
const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')

/** All tokens, without what makes them one. */
export const showTokens = async ({ db }: Application): Promise<{ readonly tokens: readonly TokenView[] }> => ({
  tokens: (await listTokens(db)).map(viewOf),
})

/** Makes a token. It is shown this once: only what it hashes to is kept. */
export async function makeToken(
  { db, now }: Application,
  name: string,
  wanted: readonly string[],
): Promise<Answer<{ id: number; token: string }>> {
  if (name.trim() === '') return refuse('bad-value', 'Give it a name: who will use it, and for what.')
  const scopes = wanted.filter(isScope)
  if (scopes.length === 0 || scopes.length < wanted.length) return refuse('bad-value', 'Choose what it may do.')
  const token = `gharry_${randomBytes(24).toString('base64url')}`
  const id = await addToken(db, {
    ...{ name: name.trim(), hash: hashOf(token), beginning: token.slice(0, 12), scopes: JSON.stringify(scopes) },
    madeAt: now().toISOString(),
  })
  return { ok: true, id, token }
}

/** Ends a token at once. */
export const endToken = async ({ db, now }: Application, id: number): Promise<Answer<object>> =>
  (await revokeToken(db, id, now().toISOString()))
    ? { ok: true }
    : refuse('not-found', 'There is no such token, or it was ended before.')

/** Who asks with a token; null when it is none, or was ended. */
export async function whoAsks({ db, now }: Application, token: string): Promise<TokenView | null> {
  const row = token.startsWith('gharry_') ? await tokenByHash(db, hashOf(token)) : undefined
  if (!row) return null
  await noteToken(db, row, now().toISOString())
  return viewOf(row)
}
