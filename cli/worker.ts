import { isMainThread } from 'node:worker_threads'

// The worker. Begun by itself as a thread, it decides a trial; a thread loads no more than it needs for that.
if (isMainThread) await import('./work').then(({ work }) => work(new URL(import.meta.url)))
else await import('@/usecases/rules/trialThreads').then(({ serveTrial }) => serveTrial())
