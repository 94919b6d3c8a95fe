import { constants, setPriority } from 'node:os'
import { parentPort, Worker, workerData } from 'node:worker_threads'
import { fromJson, jobById, openDatabase, worldOf } from '@/data'
import { trialHand, type TrialAsked, type TrialHand, type TrialPart } from './trialParts'

/** What a thread of a trial is begun with. */
interface Begin {
  readonly books: string
  readonly job: number
  readonly world: number
  readonly now: number
}
type Wish = { readonly decide: TrialPart } | 'flow'
type Reply = { readonly gives: unknown } | { readonly fails: string }

/** A hand in a thread of its own. `script` is a program that calls `serveTrial` when it is not the main thread. */
export function threadHand(script: URL, begin: Begin): TrialHand {
  const thread = new Worker(script, { workerData: begin })
  const ended = new Promise<never>((_, reject) => {
    thread.on('error', reject)
    thread.on('exit', (code) => reject(new Error(`A thread of the trial ended with code ${code}.`)))
  })
  // Nobody may be waiting when it ends.
  ended.catch(() => {})
  const ask = async (wish: Wish): Promise<unknown> => {
    const reply = new Promise<Reply>((resolve) => void thread.once('message', resolve))
    thread.postMessage(wish)
    const got = await Promise.race([reply, ended])
    if ('fails' in got) throw new Error(got.fails)
    return got.gives
  }
  return {
    decide: (part) => ask({ decide: part }) as ReturnType<TrialHand['decide']>,
    flow: () => ask('flow') as ReturnType<TrialHand['flow']>,
    leave: async () => void (await thread.terminate()),
  }
}

/** The other end: answers one wish after another, until it is ended. */
export async function serveTrial(): Promise<void> {
  // On Linux this is of this thread alone: labels and pages go first.
  setPriority(0, constants.priority.PRIORITY_BELOW_NORMAL)
  const { books, job, world, now } = workerData as Begin
  const db = await openDatabase(books)
  const [asked, known] = [(await jobById(db, job))!, (await worldOf(db, world))!]
  const hand = trialHand(db, fromJson<TrialAsked>(asked.payload), known, now)
  const answer = async (wish: Wish): Promise<Reply> => {
    try {
      return { gives: wish === 'flow' ? await hand.flow() : await hand.decide(wish.decide) }
    } catch (error) {
      return { fails: String(error instanceof Error ? error.message : error) }
    }
  }
  parentPort!.on('message', (wish: Wish) => void answer(wish).then((reply) => parentPort!.postMessage(reply)))
}
