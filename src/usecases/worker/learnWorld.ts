import { publicHolidays } from '@/adapters'
import type { World } from '@/core/world'
import { arrivalsByLane, newestWorld, punctualityOf } from '@/data'
import { changeWorld } from '../shared/changeWorld'
import type { Application } from '../shared/application'

const daysOfHistory = 90
const day = 86_400_000

/**
 * What Gharry finds out by itself about the world: public holidays of all countries that services touch, from last year
 * to next year, how punctual each service was in each zone, and how its parcels came on each lane. A new version is
 * made only when there is something new.
 */
export async function learnWorld(gharry: Application): Promise<void> {
  const current = await newestWorld(gharry.db)
  if (!current) return
  const now = gharry.now()
  const since = new Date(now.getTime() - daysOfHistory * day).toISOString()
  const learned = {
    holidays: holidaysFor(current.world, now.getUTCFullYear()),
    punctuality: await punctualityOf(gharry.db, since),
    arrivals: await arrivalsByLane(gharry.db, since),
  }
  const { holidays, punctuality, arrivals } = current.world
  if (JSON.stringify({ holidays, punctuality, arrivals }) === JSON.stringify(learned)) return
  // The waiting orders learn it when they are routed for another reason, or planned for a batch: their arrival moves,
  // not what was decided.
  await changeWorld(gharry, null, '', (world) => ({ ...world, ...learned }))
}

function holidaysFor(world: World, year: number): NonNullable<World['holidays']> {
  const countries = new Set(world.services.flatMap(({ zones }) => zones.flatMap(({ from, to }) => [from, to])))
  return [...countries]
    .sort()
    .map((country) => ({ country, days: publicHolidays(country, [year - 1, year, year + 1]) }))
    .filter(({ days }) => days.length > 0)
}
