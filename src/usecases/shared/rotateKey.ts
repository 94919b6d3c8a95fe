import { changeKey } from '@/adapters'
import { resealAll } from '@/data'
import type { Answer, Application } from './application'

/**
 * Seals all secrets of the books under a new key; the former one is kept beside it in the data folder. Where the key
 * comes from
 * `GHARRY_KEY`, they are sealed under that one, and what is in `GHARRY_KEY_BEFORE` is not needed any more.
 */
export async function rotateKey(gharry: Application): Promise<Answer<{ keyId: string; sealed: number }>> {
  let sealed = 0
  const reseal = (vault: Application['vault']): Promise<void> =>
    gharry.db.transaction(async (trx) => {
      sealed = await resealAll(trx, vault.rewrap)
    })
  if (gharry.settings.keyGiven) {
    await reseal(gharry.vault)
    return { ok: true, keyId: gharry.vault.keyId, sealed }
  }
  const vault = await changeKey(gharry.settings.dataDir, reseal)
  return { ok: true, keyId: vault.keyId, sealed }
}
