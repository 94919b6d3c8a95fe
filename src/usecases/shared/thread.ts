import { parentPort, Worker, workerData } from 'node:worker_threads'

/** What a thread of the worker serves, with what it is begun with. */
export type ThreadBegin =
  | {
      readonly serves: 'trial'
      readonly books: string
      readonly job: number
      readonly world: number
      readonly now: number
    }
  | { readonly serves: 'orders'; readonly books: string }

interface Wish {
  readonly id: number
  readonly wish: unknown
}
type Reply = { readonly id: number } & ({ readonly gives: unknown } | { readonly fails: string })

/** A thread that answers wishes, several at once. */
export interface Thread {
  /** Fails with what the thread says went wrong, or when it ends. */
  readonly ask: (wish: unknown) => Promise<unknown>
  readonly end: () => Promise<void>
}

/**
 * What a thread remembers is bounded, at about 150 MB. Without a limit the engine lets garbage lie until there is
 * several times as much: a trial of 1,000,000 orders took 1.5 GB instead of 0.6.
 */
const resourceLimits = { maxOldGenerationSizeMb: 350, maxYoungGenerationSizeMb: 32 }

/** Begins a thread; `script` is a program that calls `serveThread` when it is not the main thread. */
export function beginThread(script: URL, begin: ThreadBegin): Thread {
  const thread = new Worker(script, { workerData: begin, resourceLimits })
  const waiting = new Map<number, { resolve: (gives: unknown) => void; reject: (error: Error) => void }>()
  let next = 0
  let why: Error | null = null
  // (No race of each answer with the end of the thread: that would keep every answer as long as the thread lives.)
  const failAll = (error: Error): void => {
    why ??= error
    for (const { reject } of waiting.values()) reject(why)
    waiting.clear()
  }
  thread.on('error', failAll)
  thread.on('exit', (code) => failAll(new Error(`A thread ended with code ${code}.`)))
  thread.on('message', (reply: Reply) => {
    const asked = waiting.get(reply.id)
    waiting.delete(reply.id)
    if ('fails' in reply) asked?.reject(new Error(reply.fails))
    else asked?.resolve(reply.gives)
  })
  return {
    ask: (wish) => {
      if (why) return Promise.reject(why)
      const id = next++
      const answer = new Promise((resolve, reject) => void waiting.set(id, { resolve, reject }))
      thread.postMessage({ id, wish } satisfies Wish)
      return answer
    },
    end: async () => void (await thread.terminate()),
  }
}

/** What this thread was begun with. */
export const threadBegin = (): ThreadBegin => workerData as ThreadBegin

/** The other end: answers wishes one after another, until it is ended. */
export function serveThread(answer: (wish: unknown) => Promise<unknown>): void {
  const reply = async ({ id, wish }: Wish): Promise<Reply> => {
    try {
      return { id, gives: await answer(wish) }
    } catch (error) {
      return { id, fails: String(error instanceof Error ? error.message : error) }
    }
  }
  let before = Promise.resolve()
  parentPort!.on('message', (wish: Wish) => {
    before = before.then(() => reply(wish)).then((said) => parentPort!.postMessage(said))
  })
}
