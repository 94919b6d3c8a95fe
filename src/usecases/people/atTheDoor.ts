import { actingAs, addAudit, askedAndDone, noteAsked as noted, writtenSoFar } from '@/data'
import { refuse, type Application, type Refused } from '../shared/application'
import type { Endpoint } from '../endpoints'
import { lookAt } from './beforeAndAfter'
import { deeds } from './deeds'
import { leavesNothing, needOf } from './needs'
import { plainForAudit } from './plainForAudit'
import { actorOf, type From, type Person, unlessMay } from './signedIn'

/**
 * Keeps what a call was asked for, for the audit, and what is there before it is done: without secrets, and without
 * what is personal of buyers.
 */
export const noteAsked = (
  gharry: Application,
  endpoint: string,
  params: Readonly<Record<string, string>>,
  body: unknown,
): Promise<void> => noted(plainForAudit(body), lookAt(gharry, endpoint, params, body))

/** Refuses who may not call this; null when they may. Nobody is let in where it is not said who may. */
export function unlessMayCall(endpoint: string, person: Person | null): Refused | null {
  const need = needOf(endpoint)
  if (need === 'anybody') return null
  if (!person) return refuse('signed-out', 'You are signed out. Sign in again to go on.')
  return need === undefined
    ? refuse('not-allowed', 'Nobody may do this: it is not said who may.')
    : unlessMay(person, need)
}

/** Done even while nothing else is changed: coming in and going, and saying that the clock is right. */
const always = (endpoint: string): boolean =>
  endpoint === 'POST /api/setup/health/clock' ||
  endpoint === 'POST /api/people/sign-out' ||
  (needOf(endpoint) === 'anybody' && !endpoint.includes('/hooks/'))

/** Refuses what would change something while nothing is changed, with the reason; null when it may be done. */
export function whileReadOnly(gharry: Application, endpoint: string): Refused | null {
  const reason = gharry.readOnly()
  if (reason === null || endpoint.startsWith('GET ') || leavesNothing.has(endpoint) || always(endpoint)) return null
  return refuse('read-only', `Nothing is changed now. ${reason}`)
}

/**
 * Does a call as whoever asks. What it changed is in the audit: mostly written by what changes it, in the same
 * transaction; else here, with what was asked for.
 */
export async function asWhoAsks<R extends { readonly ok: boolean }>(
  gharry: Application,
  call: { readonly endpoint: string; readonly params: Readonly<Record<string, string>> },
  person: Person | null,
  from: From & { readonly request: string },
  work: () => Promise<R>,
): Promise<R> {
  if (!person) return work()
  return actingAs(actorOf(person, from.address, from.request), async () => {
    const answer = await work()
    const changes =
      !call.endpoint.startsWith('GET ') && needOf(call.endpoint) !== 'anybody' && !leavesNothing.has(call.endpoint)
    if (!answer.ok || writtenSoFar() > 0 || !changes) return answer
    const { asked, before, after } = await askedAndDone()
    await addAudit(
      gharry.db,
      {
        ...{ action: deeds[call.endpoint as Endpoint] ?? call.endpoint, about: aboutOf(call) },
        ...(before && after ? { before, after: { ...after, asked } } : { after: asked }),
      },
      gharry.now().toISOString(),
    )
    return answer
  })
}

/** What stands in the path, with the kind of thing that it is: `order 7` of `/api/desk/orders/:id/address`. */
function aboutOf({
  endpoint,
  params,
}: {
  readonly endpoint: string
  readonly params: Readonly<Record<string, string>>
}): string {
  const [id] = Object.values(params)
  const kind = /\/([a-z]+)\/:/.exec(endpoint)?.[1]?.replace(/(ch|)es$|s$/, '$1') ?? ''
  return id === undefined ? '' : `${kind} ${id}`.trim()
}
