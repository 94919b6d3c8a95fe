import { type DataLife, dataLife, endedOrders, forgetBadRows, forgetCorrections } from '@/data'
import type { Application } from '../shared/application'
import { atOnce, forgetThese } from './forget'

const dayMs = 86_400_000
/** So many orders are taken out in one go; the rest follows at the next. */
const mostInOneGo = 5000

/** For how many days an order's own data are kept: the shortest of what is set for it; null for ever. */
export function daysFor(
  life: readonly DataLife[],
  { channelId, country }: { readonly channelId: string; readonly country: string },
): number | null {
  const fitting = life
    .filter(({ scope }) => scope === 'all' || scope === `channel ${channelId}` || scope === `country ${country}`)
    .map(({ days }) => days)
  return fitting.length === 0 ? null : Math.min(...fitting)
}

/** Takes out what is older than it may be. Gives how many orders; 0 when nothing is left to do. */
export async function forgetByDays(gharry: Application): Promise<number> {
  const life = await dataLife(gharry.db)
  if (life.length === 0) return 0
  const now = gharry.now().getTime()
  const before = (days: number): string => new Date(now - days * dayMs).toISOString()
  const shortest = Math.min(...life.map(({ days }) => days))
  let [done, after] = [0, 0]
  // All are looked at: those that may stay longer do not hide those behind them.
  while (done < mostInOneGo && !gharry.stopping?.()) {
    const ended = await endedOrders(gharry.db, before(shortest), after, atOnce)
    if (ended.length === 0) break
    after = ended.at(-1)!.id
    const due = ended.filter((order) => {
      const days = daysFor(life, order)
      return days !== null && order.endedOn < before(days)
    })
    if (due.length > 0)
      await forgetThese(
        gharry,
        due.map(({ id }) => id),
        { author: 'Gharry', why: 'days' },
      )
    done += due.length
    // Others want to write too.
    await new Promise((resolve) => setTimeout(resolve, 5))
  }
  const longest = Math.max(...life.map(({ days }) => days))
  await forgetBadRows(gharry.db, before(shortest))
  await forgetCorrections(gharry.db, before(longest))
  return done
}
