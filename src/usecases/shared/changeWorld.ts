import type { World } from '@/core/world'
import { addJob, addWorld, newestWorld } from '@/data'
import { refuse, type Answer, type Application, type Refused } from './application'

/**
 * Makes a new version of the world, and has all waiting orders routed again at once. `version` is the world that the
 * editor began from, so that somebody else's change is not overwritten; null for changes that Gharry makes by itself.
 * `cause` tells people why orders were routed again; an empty one leaves them as they are.
 */
export async function changeWorld(
  gharry: Application,
  version: number | null,
  cause: string,
  change: (world: World) => World | Refused,
): Promise<Answer<{ version: number }>> {
  return gharry.db.transaction(async (trx): Promise<Answer<{ version: number }>> => {
    const current = await newestWorld(trx)
    if (!current) return refuse('no-world', 'There is no world yet: make the demo, or import one.')
    if (version !== null && current.version !== version)
      return refuse(
        'world-changed',
        'Somebody else has changed a list meanwhile. It is loaded again; make your change again.',
      )
    const next = change(current.world)
    if ('ok' in next) return next
    const now = gharry.now().toISOString()
    const made = await addWorld(trx, next, now)
    if (cause !== '') await addJob(trx, 'route again', `world-${made}`, { after: 0, cause }, now)
    return { ok: true, version: made }
  })
}
