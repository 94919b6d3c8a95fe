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

/** How parcels of a lane came against the day that was foreseen, as Gharry has learned it from the last 90 days. */
export interface LaneDays {
  readonly service: string
  readonly name: string
  readonly country: string
  /** Days on the way that the service promises; null where it does not go there any more. */
  readonly promised: number | null
  readonly delivered: number
  readonly onTime: number
  /** Days after the foreseen day (before it: negative), and how many parcels. */
  readonly came: readonly (readonly [days: number, parcels: number])[]
}

/** All lanes with history, the most used first: by service and country, from all locations together. */
export async function showLanes(gharry: Application): Promise<{ readonly lanes: readonly LaneDays[] }> {
  const world = (await newestWorld(gharry.db))?.world
  const lanes = new Map<string, { service: string; country: string; zone: string; came: Map<number, number> }>()
  for (const { service, country, zone, came } of world?.arrivals ?? []) {
    const key = `${service} ${country}`
    const lane = lanes.get(key) ?? { service, country, zone, came: new Map<number, number>() }
    for (const [days, parcels] of came) lane.came.set(days, (lane.came.get(days) ?? 0) + parcels)
    lanes.set(key, lane)
  }
  const sum = (came: readonly (readonly [number, number])[]): number => came.reduce((n, [, parcels]) => n + parcels, 0)
  return {
    lanes: [...lanes.values()]
      .map(({ service: id, country, zone, came }): LaneDays => {
        const service = world?.services.find((one) => one.id === id)
        const all = [...came].sort(([a], [b]) => a - b)
        return {
          ...{ service: id, name: service?.name ?? id, country },
          promised: service?.zones.find((one) => one.zone === zone && one.to === country)?.transitDays ?? null,
          delivered: sum(all),
          onTime: sum(all.filter(([days]) => days <= 0)),
          came: all,
        }
      })
      .sort((a, b) => b.delivered - a.delivered),
  }
}
