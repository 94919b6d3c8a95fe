import type { CallFailure, CallResult, ManifestNote } from '@/adapters'
import { fromJson, type ManifestRow, parcelsOnManifest, retryManifest } from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { settleMessage } from '../../shared/settleMessage'

/**
 * Tells a carrier which parcels its driver got: each account of its own. The reference is the key, so that a repeated
 * one is the same one. What was voided since is not on the list any more.
 */
export async function deliverManifest(gharry: Application, row: ManifestRow): Promise<void> {
  const { world } = await currentWorld(gharry.db)
  const from = world.locations.find(({ id }) => id === row.location)
  const on = (await parcelsOnManifest(gharry.db, row.id)).filter(
    ({ state }) => state === 'bought' || state === 'voiding',
  )
  const accounts = [...new Set(on.map(({ account }) => account))].sort()
  const confirmations: string[] = []
  let result: CallResult<unknown> = { ok: true, body: null }
  for (const account of accounts) {
    const client = await gharry.carrier(row.carrier, { account, location: row.location })
    const reference = `${row.reference}${accounts.length > 1 ? `-${account ?? 'first'}` : ''}`.slice(0, 60)
    const note: ManifestNote = {
      ...{ reference, closedAt: row.closedAt ?? row.madeAt, country: from?.country ?? '' },
      ...{ postcode: from?.address.postcode ?? '', driver: row.driver },
      parcels: on
        .filter((parcel) => parcel.account === account)
        .map(({ trackingNumber, container }) => ({ trackingNumber, container: container ?? '' })),
    }
    const told = await (client?.manifest?.(note, `manifest-${reference}`) ?? Promise.resolve(noMessages))
    if (!told.ok) {
      result = told
      break
    }
    confirmations.push(told.body.confirmation)
  }
  await settleMessage(
    gharry,
    'manifests',
    row,
    result,
    { carrier: row.carrier },
    { confirmation: confirmations.join(', ') },
  )
}

const noMessages: CallFailure = {
  ...{ ok: false, kind: 'refused', retryAfter: 0 },
  sentence: 'The account takes no manifests: give the driver the paper.',
}

/** Sends a manifest that the carrier refused once more. */
export async function sendManifestAgain(gharry: Application, id: number): Promise<Answer<object>> {
  return (await retryManifest(gharry.db, id, gharry.now().toISOString())) === 1
    ? { ok: true }
    : refuse('not-failed', 'It was not refused: there is nothing to send again.')
}

/** The strokes of a signature that was kept. */
export const strokesOf = ({ signature }: Pick<ManifestRow, 'signature'>): readonly (readonly number[])[] =>
  signature === null ? [] : fromJson(signature)
