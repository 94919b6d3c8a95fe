import { randomUUID } from 'node:crypto'
import { addJob, changeJob, isQueued, type JobRow, keepLease, makePastDay, pastDaysToMake } from '@/data'
import type { Application } from '../shared/application'
import { every } from '../shared/dueSteps'
import { oldOrdersOfDay } from '../shared/oldOrders'

const dayMs = 86_400_000
/** The worker looks this often. */
const everyMs = 600_000
/** Days that one job makes. */
const most = 100

/** Orders change most on their first two days: until these are over, a trial reads them from the books. */
const until = (gharry: Application): string => new Date(gharry.now().getTime() - dayMs).toISOString().slice(0, 10)

/** From time to time, looks whether there are days whose orders are to be kept as columns, or made anew. */
export const askPastDays = (gharry: Application): Promise<void> =>
  every(gharry, 'past days', everyMs, async () => {
    const now = gharry.now().toISOString()
    if ((await pastDaysToMake(gharry.db, until(gharry), 1)).length > 0)
      await addJob(gharry.db, 'past days', `past-days-${now.slice(0, 15)}`, {}, now)
  })

/** Makes the columns, day by day, the youngest first; leaves the rest to the next job when a trial waits. */
export async function workPastDays(gharry: Application, job: JobRow): Promise<void> {
  const { db, settings } = gharry
  const maker = randomUUID()
  const days = await pastDaysToMake(db, until(gharry), most)
  const goesOn = async (): Promise<boolean> => {
    await keepLease(db, 'jobs', job, gharry.now(), settings.leaseSeconds)
    return !gharry.stopping?.()
  }
  for (const [done, day] of days.entries()) {
    if (await isQueued(db, 'trial')) return
    await makePastDay(db, day, maker, gharry.now().toISOString(), { goesOn, old: () => oldOrdersOfDay(gharry, day) })
    if (gharry.stopping?.()) return
    await changeJob(db, job.id, { done: done + 1, total: days.length })
  }
}
