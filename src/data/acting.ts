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
  /** Shows what it changes, as it is at the moment. */
  look: (() => Promise<Shown>) | null
  before: Shown
}
/** What is shown of rows: by their names, the columns that may be shown. */
export type Shown = Readonly<Record<string, Readonly<Record<string, unknown>>>>

const acting = new AsyncLocalStorage<Acting>()
const itself: Actor = { id: 'gharry', name: 'Gharry', role: '', address: '', request: '' }

/** Does something as somebody: logs, editions and the audit name them, however deep it is done. */
export const actingAs = <T>(actor: Actor, work: () => Promise<T>): Promise<T> =>
  acting.run({ actor, written: 0, asked: undefined, look: null, before: {} }, work)

/** Who acts; Gharry itself when nobody does. */
export const whoActs = (): Actor => acting.getStore()?.actor ?? itself

/** The name of who acts, or this one when Gharry does it by itself. */
export const nameActing = (otherwise: string): string => acting.getStore()?.actor.name ?? otherwise

/** Keeps what was asked for, for the audit, and what is there before it is done. */
export async function noteAsked(asked: unknown, look: (() => Promise<Shown>) | null): Promise<void> {
  const store = acting.getStore()
  if (!store) return
  store.asked = asked
  store.look = look
  if (look) store.before = await look()
}

/** What was asked for, and what of all that is shown has become something else. */
export async function askedAndDone(): Promise<{
  readonly asked: unknown
  readonly before?: Shown
  readonly after?: Shown
}> {
  const store = acting.getStore()
  if (!store?.look) return { asked: store?.asked }
  const { asked, before } = store
  const after = await store.look()
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])]
  const only = (from: Shown): Shown =>
    Object.fromEntries(
      names.flatMap((name) => {
        const cells = Object.entries(from[name] ?? {}).filter(
          ([column, cell]) => before[name]?.[column] !== cell || after[name]?.[column] !== cell,
        )
        return cells.length > 0 ? [[name, Object.fromEntries(cells)]] : []
      }),
    )
  return { asked, before: only(before), after: only(after) }
}

/** How many lines the audit has of what is being done. */
export const writtenSoFar = (): number => acting.getStore()?.written ?? 0

/** Counts a line of the audit. */
export function countWritten(): void {
  const store = acting.getStore()
  if (store) store.written++
}
