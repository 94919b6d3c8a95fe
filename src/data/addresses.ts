import type { Address } from '@/core/order'
import { chunks, fromJson, toJson, type Database } from './database'

/** What was decided about addresses, by their fingerprint: another address, or null to use it as it is. */
export async function correctionsOf(db: Database, addresses: readonly string[]): Promise<Map<string, Address | null>> {
  const found = new Map<string, Address | null>()
  for (const part of chunks([...new Set(addresses)], 500)) {
    const rows = (await db('address_mends').whereIn('address', part)) as { address: string; mended: string | null }[]
    for (const row of rows) found.set(row.address, row.mended === null ? null : fromJson<Address>(row.mended))
  }
  return found
}

/** Keeps what was decided about an address; null means that it is used as it is. A later decision replaces it. */
export async function setCorrection(
  db: Database,
  address: string,
  mended: Address | null,
  author: string,
  now: string,
): Promise<void> {
  await db('address_mends')
    .insert({ address, mended: mended === null ? null : toJson(mended), author, madeAt: now })
    .onConflict('address')
    .merge()
}
