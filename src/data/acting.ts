import { AsyncLocalStorage } from 'node:async_hooks'

/** Who does what is being done now. */
export interface Actor {
  /** `person:3`, `token:1`, `terminal`, or `gharry` itself. */
  readonly id: string
  readonly name: string
  readonly role: string
  /** Where from: the address of their machine; empty for Gharry itself. */
  readonly address: string
  /** The request that it is done in. */
  readonly request: string
}
interface Acting {
  readonly actor: Actor
  /** How much of it the audit has already. */
  written: number
  /** What was asked for, without what is secret or personal. */
  asked: unknown
}

const acting = new AsyncLocalStorage<Acting>()
const itself: Actor = { id: 'gharry', name: 'Gharry', role: '', address: '', request: '' }

/** Does something as somebody: logs, editions and the audit name them, however deep it is done. */
export const actingAs = <T>(actor: Actor, work: () => Promise<T>): Promise<T> =>
  acting.run({ actor, written: 0, asked: undefined }, work)

/** Who acts; Gharry itself when nobody does. */
export const whoActs = (): Actor => acting.getStore()?.actor ?? itself

/** The name of who acts, or this one when Gharry does it by itself. */
export const nameActing = (otherwise: string): string => acting.getStore()?.actor.name ?? otherwise

/** Keeps what was asked for, for the audit. */
export function noteAsked(asked: unknown): void {
  const store = acting.getStore()
  if (store) store.asked = asked
}

/** What was asked for, and whether the audit has something of it already. */
export const askedSoFar = (): { readonly asked: unknown; readonly written: number } =>
  acting.getStore() ?? { asked: undefined, written: 0 }

/** Counts a line of the audit. */
export function countWritten(): void {
  const store = acting.getStore()
  if (store) store.written++
}
