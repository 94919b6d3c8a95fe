import { changeChannel, changeImport, channelById, importById, retryFailed, type Message } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'

/** When a channel is told, and how often its orders are fetched (0: only on demand). */
export async function changeChannelSettings(
  gharry: Application,
  id: string,
  change: { tellWhen?: 'bought' | 'dispatched'; everyMinutes?: number },
): Promise<Answer<object>> {
  if (!(await channelById(gharry.db, id))) return refuse('unknown-channel', `There is no channel "${id}".`)
  await changeChannel(gharry.db, id, {
    ...(change.tellWhen ? { tellWhen: change.tellWhen } : {}),
    ...(change.everyMinutes === undefined ? {} : { everyMinutes: change.everyMinutes }),
  })
  return { ok: true }
}

/** Stops an import between two portions; what is in stays in. */
export async function cancelImport(gharry: Application, id: number): Promise<Answer<object>> {
  const row = await importById(gharry.db, id)
  if (!row || (row.state !== 'queued' && row.state !== 'running'))
    return refuse('not-running', 'This import is not running.')
  await changeImport(gharry.db, id, { state: 'cancelled', finishedAt: gharry.now().toISOString(), leaseUntil: null })
  return { ok: true }
}

/** Sends a failed post, notice or hand-over on its way again. */
export async function retryWork(gharry: Application, table: Message, id: number): Promise<Answer<object>> {
  return (await retryFailed(gharry.db, table, gharry.now().toISOString(), id)) === 1
    ? { ok: true }
    : refuse('not-failed', 'Only what has failed can be tried again.')
}

/** Sends everything that has failed on its way again: after a long outage, in one step. */
export async function retryAll(gharry: Application, table: Message): Promise<Answer<{ again: number }>> {
  return { ok: true, again: await retryFailed(gharry.db, table, gharry.now().toISOString()) }
}
