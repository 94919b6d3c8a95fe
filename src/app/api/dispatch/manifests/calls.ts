import { z } from 'zod'
import { sendManifestAgain } from '@/usecases/dispatch/door/deliverManifest'
import { settleLeftBehind, showManifests } from '@/usecases/dispatch/door/showManifests'
import { changing, reading } from '@/app/answer'
import { skip } from '@/app/skip'

export const GET = reading('GET /api/dispatch/manifests', z.object({ skip }), (gharry, query) =>
  showManifests(gharry, query.skip),
)

/** Sends one that the carrier refused once more. */
export const POST = changing(
  'POST /api/dispatch/manifests',
  z.strictObject({ again: z.int().positive() }),
  (gharry, { again }) => sendManifestAgain(gharry, again),
)

/** What became of parcels that should have left. */
export const PUT = changing(
  'PUT /api/dispatch/manifests',
  z.strictObject({ labels: z.array(z.int().positive()).min(1).max(2000), left: z.boolean() }),
  (gharry, body) => settleLeftBehind(gharry, body),
)
