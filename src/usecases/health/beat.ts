import { hostname } from 'node:os'
import { dropProcess, noteProcess, slowestStatements, type ProcessRow } from '@/data'
import type { Application } from '../shared/application'
import { version } from '../shared/version'

const everyMs = 15_000

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
