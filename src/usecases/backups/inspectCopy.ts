import { Worker } from 'node:worker_threads'
import { type Inspected, inspectBooks } from '@/data'

/** Looks through a copy of the books, here and now. */
export const inspectCopy = (file: string): Inspected => inspectBooks(file)

/** Looks through a copy in a thread of its own, begun with a program that posts what `inspectCopy` says of its `workerData.file`. */
export const inspectInThread =
  (script: URL) =>
  (file: string): Promise<Inspected> =>
    new Promise((resolve, reject) => {
      const thread = new Worker(script, { workerData: { file } })
      thread.once('message', resolve)
      thread.once('error', reject)
      thread.once('exit', (code) => reject(new Error(`The look through the copy ended with ${code}.`)))
    })
