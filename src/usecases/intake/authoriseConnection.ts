import { createHash, randomBytes } from 'node:crypto'
import { channelKindOf, type Kind } from '@/adapters'
import {
  addAuthorisation,
  changeConnection,
  connectionById,
  forgetFailure,
  releaseWaiting,
  takeAuthorisation,
  type ConnectionRow,
} from '@/data'
import { sealedTokens } from '../shared/access'
import { refuse, type Answer, type Application } from '../shared/application'
import { settingsOf } from '../shared/connections'

/** Whoever is sent to the other side has so long to come back. */
const patienceMs = 30 * 60_000
export const authorisationCallback = '/api/intake/connections/callback'

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64url')

/** The kind of a connection that a person authorises at the other side; undefined for all others. */
function authorisable(
  row: ConnectionRow | undefined,
): (Pick<Kind, 'settings'> & { authorises: NonNullable<Kind['authorises']> }) | undefined {
  const kind = row && channelKindOf(row.kind)
  return kind?.authorises && { settings: kind.settings, authorises: kind.authorises }
}

/**
 * Begins an authorisation: where the person is to be sent, and what their browser keeps meanwhile, so that nobody
 * else's return is taken for theirs.
 */
export async function beginAuthorisation(
  gharry: Application,
  id: string,
): Promise<Answer<{ url: string; browser: string }>> {
  const { db, vault, outside, now, settings } = gharry
  const row = await connectionById(db, id)
  const kind = authorisable(row)
  if (!row || !kind)
    return refuse('unknown-connection', 'This connection does not exist (any more), or needs no authorisation.')
  const given = kind.settings.parse(settingsOf(row, vault)) as never
  const begun = await kind.authorises.begin(given, `${settings.publicUrl}${authorisationCallback}`, outside)
  if (!begun.ok) return refuse('not-reached', begun.sentence)
  const { url, state, pending } = begun.body
  const browser = randomBytes(24).toString('base64url')
  const stateHash = hashOf(state)
  await addAuthorisation(
    db,
    {
      id: stateHash,
      connection: id,
      browser: hashOf(browser),
      pending: vault.seal(pending, stateHash),
      madeAt: now().toISOString(),
    },
    new Date(now().getTime() - patienceMs).toISOString(),
  )
  return { ok: true, url, browser }
}

/** How an authorisation ended, for the page that the person is brought back to. */
export interface Authorised {
  readonly connection: string | null
  readonly result: 'done' | 'denied' | 'unknown' | 'failed'
}

/** The person is back: what they bring is changed into tokens, once, and only in the browser that began it. */
export async function finishAuthorisation(
  gharry: Application,
  returned: URL,
  browser: string | undefined,
): Promise<Authorised> {
  const { db, vault, outside, now, log } = gharry
  const state = returned.searchParams.get('state')
  const pending = state ? await takeAuthorisation(db, hashOf(state)) : undefined
  const late = pending && now().getTime() - Date.parse(pending.madeAt) > patienceMs
  if (!pending || late || browser === undefined || hashOf(browser) !== pending.browser)
    return { connection: null, result: 'unknown' }
  const row = await connectionById(db, pending.connection)
  const kind = authorisable(row)
  if (!row || !kind) return { connection: null, result: 'unknown' }
  const given = kind.settings.parse(settingsOf(row, vault)) as never
  const finished = await kind.authorises.finish(given, vault.open(pending.pending, pending.id), returned, outside)
  if (!finished.ok) {
    log.warn({ connection: row.id, kind: finished.kind }, 'not authorised')
    return { connection: row.id, result: returned.searchParams.get('error') === 'access_denied' ? 'denied' : 'failed' }
  }
  const { tokens, endsAt } = finished.body
  // With a new version, clients are opened anew. Whoever changed a setting meanwhile keeps it.
  for (let tries = 0, current: ConnectionRow | undefined = row; current && tries < 5; tries++) {
    const change = { tokens: sealedTokens(vault, tokens, row.id), endsAt, on: true }
    if (await changeConnection(db, row.id, current.version, change)) {
      await forgetFailure(db, row.id)
      // What waits for it goes on at once.
      for (const table of ['imports', 'posts'] as const) await releaseWaiting(db, table, { channelId: row.id }, now())
      return { connection: row.id, result: 'done' }
    }
    current = await connectionById(db, row.id)
  }
  return { connection: row.id, result: 'failed' }
}
