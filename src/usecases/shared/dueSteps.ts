import type { Application } from './application'

/*
 * The schedule comes by each of its steps at every round. Those that are not due each time say so here. What is
 * remembered is this process's: one that begins anew does them all.
 */
const remembered = new WeakMap<object, Map<string, string | number>>()

function markedOf({ db }: Application): Map<string, string | number> {
  const own = remembered.get(db) ?? new Map<string, string | number>()
  remembered.set(db, own)
  return own
}

/**
 * Does a step when so many milliseconds have gone by since it was begun last, also when the clock was set back; at once
 * again where it says that there is more to do.
 */
export async function every(
  gharry: Application,
  step: string,
  ms: number,
  work: () => Promise<'more' | void>,
): Promise<void> {
  const marked = markedOf(gharry)
  const now = gharry.now().getTime()
  const before = marked.get(step)
  if (before !== undefined && Math.abs(now - Number(before)) < ms) return
  marked.set(step, now)
  if ((await work()) === 'more') marked.delete(step)
}

/** Does a step once for a key, such as a day or an edition; again where it failed. */
export async function onceFor(
  gharry: Application,
  step: string,
  key: string | number,
  work: () => Promise<void>,
): Promise<void> {
  const marked = markedOf(gharry)
  if (marked.get(step) === key) return
  await work()
  marked.set(step, key)
}
