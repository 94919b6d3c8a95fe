import { setTimeout as wait } from 'node:timers/promises'
import { failure, type Access, type CallResult, type Grant, type Kind, type Tokens, tokensShape } from '@/adapters'
import { connectionById, endRenewal, takeRenewal, type ConnectionRow } from '@/data'
import type { ConnectionTools } from './connections'

/** A token is renewed when it ends within this time. */
const marginMs = 20_000
/** Whoever renews has so long; then another process may. */
const renewalMs = 30_000

const notAuthorised = failure('not allowed', 'It is not authorised (any more): authorise it under Intake, Connections.')

/**
 * The tokens of a connection, for its client. Several processes and calls share them, and a server may take each
 * refresh token once only: one renews, the others wait for what it brings.
 */
export function accessOf(
  { db, vault, outside, now }: Pick<ConnectionTools, 'db' | 'vault' | 'outside' | 'now'>,
  id: string,
  { authorises }: Pick<Kind, 'authorises'>,
  settings: unknown,
): Access {
  let known: Tokens | undefined
  // Access tokens end by the real clock of the other side.
  const holds = (tokens: Tokens, refused: string | undefined): boolean =>
    tokens.access !== refused && Date.parse(tokens.accessUntil) - (refused === undefined ? marginMs : 0) > Date.now()
  const kept = (row: ConnectionRow | undefined): Tokens | undefined =>
    row?.tokens ? tokensShape.parse(JSON.parse(vault.open(row.tokens, id))) : undefined

  async function renewed(tokens: Tokens): Promise<CallResult<string>> {
    const result: CallResult<Grant> = await authorises!.renew(settings as never, tokens, outside)
    if (result.ok) {
      const { endsAt } = result.body
      known = result.body.tokens
      await endRenewal(db, id, { tokens: sealedTokens(vault, known, id), ...(endsAt === null ? {} : { endsAt }) })
      return { ok: true, body: known.access }
    }
    // It is over at the other side: that is kept, so that everybody sees it and nobody asks again.
    const over = result.ended === true
    await endRenewal(db, id, over ? { tokens: null, endsAt: now().toISOString() } : {})
    return result
  }

  return {
    token: async (refused) => {
      if (!authorises) return failure('not allowed', 'Its kind needs no authorisation.')
      if (known && holds(known, refused)) return { ok: true, body: known.access }
      const patience = Date.now() + renewalMs
      while (Date.now() < patience) {
        const tokens = kept(await connectionById(db, id))
        if (tokens === undefined) return notAuthorised
        if (holds(tokens, refused)) {
          known = tokens
          return { ok: true, body: tokens.access }
        }
        const until = new Date(now().getTime() + renewalMs).toISOString()
        if (await takeRenewal(db, id, now().toISOString(), until)) {
          // Another process may have renewed between the look and the turn.
          const current = kept(await connectionById(db, id))
          if (current && current.access === tokens.access) return renewed(current)
          await endRenewal(db, id, {})
        } else await wait(100)
      }
      return failure('time-out', 'Its tokens are being renewed for too long.')
    },
  }
}

/** Tokens as they are kept. */
export const sealedTokens = (vault: ConnectionTools['vault'], tokens: Tokens, id: string): string =>
  vault.seal(JSON.stringify(tokens), id)
