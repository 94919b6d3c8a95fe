import { constants, setPriority } from 'node:os'
import { fromJson, jobById, openDatabase, type PastPart, worldOf } from '@/data'
import { beginThread, serveThread, type ThreadBegin } from '../shared/thread'
import { trialHand, type TrialAsked, type TrialHand } from './trialParts'

type Begin = Extract<ThreadBegin, { serves: 'trial' }>
type Wish = { readonly decide: PastPart } | 'flow'

/** A hand in a thread of its own. `script` is a program that calls `serveTrial` when it is not the main thread. */
export function threadHand(script: URL, begin: Omit<Begin, 'serves'>): TrialHand {
  const { ask, end } = beginThread(script, { serves: 'trial', ...begin })
  const wish = (wish: Wish): Promise<unknown> => ask(wish)
  return {
    decide: (part) => wish({ decide: part }) as ReturnType<TrialHand['decide']>,
    flow: () => wish('flow') as ReturnType<TrialHand['flow']>,
    leave: end,
  }
}

/** The other end: answers one wish after another, until it is ended. */
export async function serveTrial({ books, job, world, now }: Begin): Promise<void> {
  // On Linux this is of this thread alone: labels and pages go first.
  setPriority(0, constants.priority.PRIORITY_BELOW_NORMAL)
  const db = await openDatabase(books)
  const [asked, known] = [(await jobById(db, job))!, (await worldOf(db, world))!]
  const hand = trialHand(db, fromJson<TrialAsked>(asked.payload), known, now)
  serveThread((wish) => (wish === 'flow' ? hand.flow() : hand.decide((wish as Exclude<Wish, 'flow'>).decide)))
}
