import { arrivalsByService, newestWorld } from '@/data'
import type { Application } from '../shared/application'

export type Arrivals = Awaited<ReturnType<typeof arrivalsByService>>[number] & { readonly name: string }

const monthMs = 30 * 86_400_000

/** What became of the shipments bought in the last 30 days, by service, the most used first. It reads all of them. */
export async function showArrivals(gharry: Application): Promise<Arrivals[]> {
  const now = gharry.now()
  const named = new Map((await newestWorld(gharry.db))?.world.services.map(({ id, name }) => [id, name]))
  const since = new Date(now.getTime() - monthMs).toISOString()
  return (await arrivalsByService(gharry.db, since, now.toISOString().slice(0, 10)))
    .sort((a, b) => b.shipments - a.shipments)
    .map((row) => ({ ...row, name: named.get(row.service) ?? row.service }))
}
