import { emptyRulebook } from '@/core/rulebook/language'
import { emptyWorld, type World } from '@/core/world'
import {
  addAudit,
  addEdition,
  addJob,
  addWorld,
  type Database,
  countEditions,
  newestWorld,
  whoActs,
  type WorldVersion,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from './application'
import { worldChange } from './worldChange'

/** The newest world; a seller who begins has an empty one. */
export const currentWorld = async (db: Database): Promise<WorldVersion> =>
  (await newestWorld(db)) ?? { version: 0, world: emptyWorld }

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
    const current = await currentWorld(trx)
    if (version !== null && current.version !== version)
      return refuse(
        'world-changed',
        'Somebody else has changed a list meanwhile. It is loaded again; make your change again.',
      )
    const next = change(current.world)
    if ('ok' in next) return next
    const now = gharry.now().toISOString()
    const made = await addWorld(trx, next, now)
    if (whoActs().id !== 'gharry')
      await addAudit(trx, { action: 'world changed', about: `world ${made}`, ...worldChange(current.world, next) }, now)
    if ((await countEditions(trx)) === 0)
      await addEdition(trx, emptyRulebook, 'No rules yet: everything goes by the cheapest service', 'Gharry', now)
    if (cause !== '') await addJob(trx, 'route again', `world-${made}`, { after: 0, cause }, now)
    return { ok: true, version: made }
  })
}
