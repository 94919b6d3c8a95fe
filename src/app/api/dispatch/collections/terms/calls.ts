import { z } from 'zod'
import { showTerms } from '@/usecases/dispatch/collections/planCollection'
import { changing } from '@/app/answer'

/** Asks the carrier, so it is no reading of our own. */
export const POST = changing(
  'POST /api/dispatch/collections/terms',
  z.strictObject({ carrier: z.string().max(64), location: z.string().max(64), day: z.iso.date('is no day') }),
  (gharry, body) => showTerms(gharry, body),
)
