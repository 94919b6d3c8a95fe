import { changeKey } from '@/adapters'
import { changePerson, factorsOf, listConnections, listPeople, resealConnection } from '@/data'
import { sealedAs } from '../people/secondFactor'
import { refuse, type Answer, type Application } from './application'

/** Seals all credentials under a new key; the former one is kept beside it in the data folder. */
export async function rotateKey(gharry: Application): Promise<Answer<{ keyId: string; sealed: number }>> {
  if (gharry.settings.keyGiven)
    return refuse(
      'in-use',
      'The key comes from GHARRY_KEY: start Gharry with the new one there and the old one in GHARRY_KEY_BEFORE, and save each connection once.',
    )
  let sealed = 0
  const vault = await changeKey(gharry.settings.dataDir, (next) =>
    gharry.db.transaction(async (trx) => {
      for (const row of await listConnections(trx)) {
        if (row.secrets === null && row.tokens === null) continue
        const anew = (text: string | null): string | null => text && next.seal(next.open(text, row.id), row.id)
        await resealConnection(trx, row.id, { secrets: anew(row.secrets), tokens: anew(row.tokens) })
        sealed++
      }
      for (const { id } of await listPeople(trx)) {
        const { second } = await factorsOf(trx, id)
        if (second !== null)
          await changePerson(trx, id, { second: next.seal(next.open(second, sealedAs(id)), sealedAs(id)) })
      }
    }),
  )
  return { ok: true, keyId: vault.keyId, sealed }
}
