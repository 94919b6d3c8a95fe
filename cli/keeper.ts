import { isMainThread, parentPort, workerData } from 'node:worker_threads'

// Keeps the backups. Begun by itself as a thread, it looks through a copy: that takes its time, and what is written
// goes on.
if (isMainThread) await import('./keep').then(({ keep }) => keep(new URL(import.meta.url)))
else
  await import('@/usecases/backups/inspectCopy').then(async ({ inspectHere }) =>
    parentPort?.postMessage(await inspectHere((workerData as { file: string }).file)),
  )
