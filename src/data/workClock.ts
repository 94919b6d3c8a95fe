import type { Database } from './database'

/*
 * The clock that leases and due times go by. It follows the wall clock, but never goes back: when the machine's clock
 * is set back by an hour, work that is due stays due, and leases end when they would have. Where it stands is kept in
 * the books, so that a restarted worker, and another one whose clock is behind, go on from there.
 */
interface Known {
  wall: number
  at: number
  kept: number
}
const clocks = new WeakMap<object, Known>()
const keepEvery = 5000

/** The moment that work goes by. `wall` is the wall clock. */
export async function workTime(db: Database, wall: Date): Promise<Date> {
  const { config } = db.client as { config: object }
  let known = clocks.get(config)
  if (!known) {
    const row: { at: string } | undefined = await db('work_clock').where({ id: 1 }).first()
    const kept = row ? Date.parse(row.at) : 0
    known = { wall: kept, at: performance.now(), kept }
    clocks.set(config, known)
  }
  const now = wall.getTime()
  const elapsed = performance.now()
  // While the wall clock is behind, time goes on by the one that nobody can set.
  const time = now >= known.wall ? now : known.wall + (elapsed - known.at)
  known.wall = time
  known.at = elapsed
  if (time - known.kept >= keepEvery) {
    await db('work_clock')
      .insert({ id: 1, at: new Date(time).toISOString() })
      .onConflict('id')
      .merge()
    // In a transaction it may be undone again: then it is not kept yet.
    if (!db.isTransaction) known.kept = time
  }
  return new Date(time)
}
