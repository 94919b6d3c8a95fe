/* Whether the server has said that the sign-in is over. */
let out = false
const listeners = new Set<() => void>()

export const isSignedOut = (): boolean => out

/** Tells those who show it. */
export function saySignedOut(): void {
  out = true
  for (const tell of listeners) tell()
}

export function onSignedOut(tell: () => void): () => void {
  listeners.add(tell)
  return () => listeners.delete(tell)
}
