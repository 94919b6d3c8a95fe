import { BooksProblem } from '@/data'
import { beginBeating } from '@/usecases/health/beat'
import { tracesAsWanted } from '@/usecases/health/traces'
import { openApplication, type Application } from '@/usecases/shared/application'

/** One Gharry for the whole server process; kept across reloads of modules in development. */
const place = globalThis as { gharryOpen?: Promise<Application> | undefined; gharryProblem?: string | undefined }

/** Opens it at the first call. An opening that fails is not kept: the next call tries again. */
export function theApplication(): Promise<Application> {
  place.gharryOpen ??= openApplication().then(
    async (gharry) => {
      place.gharryProblem = undefined
      await beginBeating(gharry, 'server')
      await tracesAsWanted('gharry-server')
      return gharry
    },
    (error: unknown) => {
      place.gharryOpen = undefined
      place.gharryProblem = whyNot(error)
      throw error
    },
  )
  return place.gharryOpen
}

/** Why the books could not be opened last, in words; undefined when they are open. */
export const openingProblem = (): string | undefined => place.gharryProblem

function whyNot(error: unknown): string {
  if (error instanceof BooksProblem) return error.message
  const { code, message } = error as { code?: string; message?: string }
  if (code === 'SQLITE_FULL' || code === 'ENOSPC') return 'The disk is full.'
  if (code === 'EACCES' || code === 'EPERM' || code === 'SQLITE_READONLY' || code === 'SQLITE_CANTOPEN')
    return 'The data folder cannot be written: see GHARRY_DATA.'
  if (code === 'SQLITE_CORRUPT' || code === 'SQLITE_NOTADB')
    return 'The database file is damaged: restore it from a backup.'
  return message?.startsWith('The environment variable') ? message : 'See the log.'
}
