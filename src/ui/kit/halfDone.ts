/*
 * What is half done is kept in this browser, so that a reload, a look at another screen or a power cut loses nothing
 * that was typed. Each thing that is edited has its own identifier, such as `service heron-road`.
 */

/** An edit that is not saved yet. */
export interface HalfDone {
  /** What the server had when it began, as text. */
  readonly began: string
  readonly value: unknown
  /** When it was typed in last, UTC. */
  readonly at: string
}

const prefix = 'gharry.half-done.1.'
/** What nobody came back to is forgotten. */
const lifetime = 14 * 86_400_000

const known = new Map<string, HalfDone | null>()
/** What was begun before this page was opened. */
const resumed = new Set<string>()
const listeners = new Set<() => void>()

export function readHalfDone(id: string): HalfDone | null {
  const before = known.get(id)
  if (before !== undefined) return before
  const found = stored(id)
  known.set(id, found)
  if (found) resumed.add(id)
  return found
}

/** Keeps an edit, or forgets it (null). A browser that keeps nothing keeps it for as long as the page is there. */
export function writeHalfDone(id: string, edit: HalfDone | null): void {
  known.set(id, edit)
  if (!edit) resumed.delete(id)
  try {
    if (edit) localStorage.setItem(prefix + id, JSON.stringify(edit))
    else localStorage.removeItem(prefix + id)
  } catch {
    // Private windows and full disks: it stays in memory.
  }
  for (const tell of listeners) tell()
}

export const isResumed = (id: string): boolean => resumed.has(id)

/** All edits whose identifier begins so, by the rest of it. */
export function halfDoneOf(start: string): ReadonlyMap<string, HalfDone> {
  const ids = new Set([...known.keys(), ...storedIds()])
  const found = new Map<string, HalfDone>()
  for (const id of [...ids].sort()) {
    const edit = id.startsWith(start) ? readHalfDone(id) : null
    if (edit) found.set(id.slice(start.length), edit)
  }
  return found
}

export function onHalfDone(tell: () => void): () => void {
  listeners.add(tell)
  return () => listeners.delete(tell)
}

function stored(id: string): HalfDone | null {
  try {
    const edit = JSON.parse(localStorage.getItem(prefix + id) ?? 'null') as HalfDone | null
    if (edit && Date.now() - Date.parse(edit.at) < lifetime && typeof edit.began === 'string') return edit
    if (edit) localStorage.removeItem(prefix + id)
  } catch {
    // What cannot be read is nothing.
  }
  return null
}

function storedIds(): string[] {
  try {
    return Object.keys(localStorage)
      .filter((key) => key.startsWith(prefix))
      .map((key) => key.slice(prefix.length))
  } catch {
    return []
  }
}
