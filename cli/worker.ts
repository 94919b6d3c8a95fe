import { isMainThread } from 'node:worker_threads'

// The worker. Begun by itself as a thread, it decides a trial, or makes orders ready; a thread loads no more than it
// needs for that.
if (isMainThread) await import('./work').then(({ work }) => work(new URL(import.meta.url)))
else {
  const begin = await import('@/usecases/shared/thread').then(({ threadBegin }) => threadBegin())
  if (begin.serves === 'trial') await import('@/usecases/rules/trialThreads').then((room) => room.serveTrial(begin))
  else await import('@/usecases/intake/orderThread').then((room) => room.serveOrders(begin))
}
