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

/** Each person has their own: the page says who sits here. */
const prefix = `gharry.half-done.2.${typeof document === 'undefined' ? '' : (document.documentElement.dataset.person ?? '')}.`
/** What nobody came back to is forgotten. */
const lifetime = 14 * 86_400_000

/** All edits by their identifiers, read once; a new map with each change. */
let edits: ReadonlyMap<string, HalfDone> | undefined
/** What was begun before this page was opened. */
const resumed = new Set<string>()
const listeners = new Set<() => void>()

export function halfDone(): ReadonlyMap<string, HalfDone> {
  if (edits) return edits
  edits = stored()
  for (const id of edits.keys()) resumed.add(id)
  return edits
}

/** Keeps an edit, or forgets it (null). A browser that keeps nothing keeps it for as long as the page is there. */
export function writeHalfDone(id: string, edit: HalfDone | null): void {
  const next = new Map(halfDone())
  if (edit) next.set(id, edit)
  else next.delete(id)
  edits = next
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

export function onHalfDone(tell: () => void): () => void {
  listeners.add(tell)
  return () => listeners.delete(tell)
}

function stored(): ReadonlyMap<string, HalfDone> {
  const found = new Map<string, HalfDone>()
  try {
    for (const key of Object.keys(localStorage)
      .filter((name) => name.startsWith(prefix))
      .sort()) {
      const edit = readEdit(localStorage.getItem(key) ?? '')
      if (edit) found.set(key.slice(prefix.length), edit)
      else localStorage.removeItem(key)
    }
  } catch {
    // A browser that keeps nothing.
  }
  return found
}

/** Null when it cannot be read, or is too old. */
function readEdit(text: string): HalfDone | null {
  try {
    const edit = JSON.parse(text) as HalfDone | null
    return edit && typeof edit.began === 'string' && Date.now() - Date.parse(edit.at) < lifetime ? edit : null
  } catch {
    return null
  }
}
