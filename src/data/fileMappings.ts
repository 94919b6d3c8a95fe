import type { Database } from './database'

/** A mapping of columns that a person confirmed, for files with the same header row. */
export interface FileMappingRow {
  /** A fingerprint of the header row: each sender has one of their own. */
  readonly id: string
  readonly channelId: string
  /** JSON. */
  readonly mapping: string
  readonly usedAt: string
}

/** Remembers a mapping; the one of before is forgotten. */
export async function rememberMapping(db: Database, row: FileMappingRow): Promise<void> {
  await db('file_mappings').insert(row).onConflict('id').merge()
}

/** The mapping that files with this header row had last; undefined when there was none. */
export const rememberedMapping = (db: Database, id: string): Promise<FileMappingRow | undefined> =>
  db('file_mappings').where({ id }).first()
