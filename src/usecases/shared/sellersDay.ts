import { dayText, localTime } from '@/core/calendar'
import { emptyWorld, firstZone } from '@/core/world'
import { newestWorld, type Database } from '@/data'
import type { Application } from './application'

/** The seller's day (`YYYY-MM-DD`), by which spending is counted: that of the first location's clocks. */
export async function sellersDay({ now }: Pick<Application, 'now'>, db: Database): Promise<string> {
  const world = (await newestWorld(db))?.world ?? emptyWorld
  return dayText(localTime(now().getTime(), firstZone(world)).day)
}
