import { hostname } from 'node:os'
import { dropProcess, noteProcess, slowestStatements, type ProcessRow } from '@/data'
import type { Application } from '../shared/application'
import { version } from '../shared/version'

const everyMs = 15_000
/** A process that has said nothing for so long has died. */
const silentMs = 60_000

/** Whether a process has died without saying so. */
export const isSilent = ({ seenAt }: Pick<ProcessRow, 'seenAt'>, now: Date): boolean =>
  now.getTime() - Date.parse(seenAt) > silentMs
/** How many workers run. */
export const countWorkers = (processes: readonly ProcessRow[], now: Date): number =>
  processes.filter((one) => one.kind === 'worker' && !isSilent(one, now)).length

/** Says in the books that this process runs, until it is ended. One that falls silent has died. */
export async function beginBeating(gharry: Application, kind: ProcessRow['kind']): Promise<() => Promise<void>> {
  const startedAt = gharry.now().toISOString()
  const id = `${kind} ${hostname()} ${process.pid}`
  const beat = async (): Promise<void> => {
    try {
      await noteProcess(gharry.db, {
        ...{ id, kind, version, startedAt, seenAt: gharry.now().toISOString() },
        ...{ readOnly: gharry.readOnly(), slow: slowestStatements() },
      })
    } catch (error) {
      gharry.log.warn({ err: error }, 'it could not be written down that this process runs')
    }
  }
  await beat()
  const timer = setInterval(() => void beat(), everyMs)
  timer.unref()
  return async () => {
    clearInterval(timer)
    await dropProcess(gharry.db, id).catch(() => undefined)
  }
}
