import { Worker } from 'node:worker_threads'
import { type Inspected, inspectBooks } from '@/data'

/** Looks through a copy of the books. */
export type Inspect = (file: string) => Promise<Inspected>

/** … here and now. */
export const inspectHere: Inspect = (file) => Promise.resolve(inspectBooks(file))

/** … in a thread of its own, begun with a program that posts what `inspectHere` says of its `workerData.file`. */
export const inspectInThread =
  (script: URL): Inspect =>
  (file) =>
    new Promise((resolve, reject) => {
      const thread = new Worker(script, { workerData: { file } })
      thread.once('message', resolve)
      thread.once('error', reject)
      thread.once('exit', (code) => reject(new Error(`The look through the copy ended with ${code}.`)))
    })
