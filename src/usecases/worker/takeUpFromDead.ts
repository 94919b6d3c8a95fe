import { freeLeasesOfDead } from '@/data'
import type { Application } from '../shared/application'

/** What workers of this machine held when they were killed is taken up at once, not only when their leases run out. */
export async function takeUpFromDead(gharry: Application): Promise<void> {
  if (gharry.readOnly() !== null) return
  try {
    const pieces = await freeLeasesOfDead(gharry.db)
    if (pieces > 0) gharry.log.info({ pieces }, 'work of a worker that died is taken up')
  } catch (error) {
    // Their leases run out.
    gharry.log.error({ err: error }, 'work of workers that died waits until their leases run out')
  }
}
