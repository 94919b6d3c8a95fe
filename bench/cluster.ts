import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

export interface Cluster {
  /** Makes a database; gives its address. */
  readonly database: (name: string) => string
  readonly stop: () => void
}

/** A PostgreSQL of one's own that writes as in earnest; null where it is not installed. */
export async function startCluster(): Promise<Cluster | null> {
  const tools = (await import(pathToFileURL(join(process.cwd(), 'scripts/postgres.mjs')).href)) as {
    postgresPrograms: () => string | null
    startPostgres: (programs: string, more: { readonly durable: boolean }) => Promise<Cluster>
  }
  const programs = tools.postgresPrograms()
  return programs ? tools.startPostgres(programs, { durable: true }) : null
}
