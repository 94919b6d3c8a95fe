import { countAll } from './countAll'
import type { Database } from './database'

/*
 * What may be done so often, by all processes together: the books count it, so that it holds on several servers and
 * workers, and after a restart.
 */

/** How often something was done in its while, and how much of that while is left, in milliseconds. */
export interface Uses {
  readonly used: number
  readonly msLeft: number
}

/** Counts that something was done `n` times more; a while of `ms` begins with the first time. */
export async function addUses(db: Database, key: string, n: number, ms: number, now: Date): Promise<Uses> {
  const at = now.getTime()
  const over = 'CASE WHEN uses.until <= ? THEN ? ELSE'
  const [row] = (await db('uses')
    .insert({ key, used: n, until: at + ms })
    .onConflict('key')
    .merge({
      used: db.raw(`${over} uses.used + ? END`, [at, n, n]),
      until: db.raw(`${over} uses.until END`, [at, at + ms]),
    })
    .returning(['used', 'until'])) as { used: number; until: number }[]
  return { used: row!.used, msLeft: Math.max(0, row!.until - at) }
}

/** How often something was done in its while; not at all where that is over. */
export async function usesOf(db: Database, key: string, now: Date): Promise<Uses> {
  const row = (await db('uses').where({ key }).where('until', '>', now.getTime()).first()) as
    { used: number; until: number } | undefined
  return { used: row?.used ?? 0, msLeft: row ? row.until - now.getTime() : 0 }
}

/** Begins to count anew. */
export async function forgetUses(db: Database, key: string): Promise<void> {
  await db('uses').where({ key }).delete()
}

/** Forgets what counts no more: uses and challenges. */
export async function forgetOldUses(db: Database, now: Date): Promise<void> {
  for (const table of ['uses', 'challenges']) await db(table).where('until', '<', now.getTime()).delete()
}

/**
 * Takes `n` turns at something that may be done `perSecond` times a second; gives in how many milliseconds the first of
 * them is, and how many lie between two. Turns of all who ask are one after the other.
 */
export async function takeTurns(
  db: Database,
  key: string,
  n: number,
  perSecond: number,
  now: Date,
): Promise<{ readonly first: number; readonly apart: number }> {
  const at = now.getTime() * 1000
  const apart = Math.ceil(1e6 / perSecond)
  const [row] = (await db('turns')
    .insert({ key, at: at + n * apart })
    .onConflict('key')
    .merge({ at: db.raw('CASE WHEN turns.at > ? THEN turns.at ELSE ? END + ?', [at, at, n * apart]) })
    .returning('at')) as { at: number }[]
  return { first: Math.max(0, row!.at - n * apart - at) / 1000, apart: apart / 1000 }
}

/** Anybody may ask for one: no more than so many are kept. */
const mostChallenges = 10_000

/** Keeps a challenge that was given out at `now` for `ms`, under what only the asking browser gets. */
export async function keepChallenge(
  db: Database,
  key: string,
  challenge: string,
  ms: number,
  now: Date,
): Promise<void> {
  await db('challenges').insert({ key, challenge, until: now.getTime() + ms })
  if ((await countAll(db('challenges'))) > mostChallenges)
    await db('challenges').whereIn('key', db('challenges').select('key').orderBy('until').limit(1000)).delete()
}

/** Takes a challenge back: each is answered once; undefined when it is not there, or too old. */
export async function takeChallenge(db: Database, key: string, now: Date): Promise<string | undefined> {
  const row = (await db('challenges').where({ key }).first()) as { challenge: string; until: number } | undefined
  // Of two who answer at once, one takes it.
  const taken = row !== undefined && (await db('challenges').where({ key }).delete()) === 1
  return taken && row.until > now.getTime() ? row.challenge : undefined
}
