'use client'
import { type Query, useQueryClient } from '@tanstack/react-query'
import { useCallback, useSyncExternalStore } from 'react'
import { Refusal, sentenceOf } from './api'
import { Button } from './Button'

/** Those that are quiet (`meta`) say what is wrong themselves, where it stands. */
const failing = (query: Query): boolean =>
  query.getObserversCount() > 0 && query.state.status === 'error' && query.meta?.quiet !== true

/** What could not be fetched again, whichever screen shows it: since when it is true, why, and what can be done. */
export function Freshness() {
  const client = useQueryClient()
  const cache = client.getQueryCache()
  const told = useSyncExternalStore(
    useCallback((tell) => cache.subscribe(tell), [cache]),
    () => {
      const failed = cache.getAll().filter(failing)
      // An order that is gone says so where it would be.
      const query = failed.find(({ state }) => !(state.error instanceof Refusal && state.error.code === 'not-found'))
      if (!query) return ''
      const since = Math.min(...failed.map(({ state }) => state.dataUpdatedAt).filter((at) => at > 0))
      // Here and now, so in the reader's own time.
      const clock = new Date(since).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' })
      const when = Number.isFinite(since) ? `What is shown is from ${clock}. ` : ''
      return when + sentenceOf(query.state.error)
    },
    () => '',
  )
  if (told === '') return null
  return (
    <div role="alert" className="flex items-center gap-3 bg-lost-soft px-5 py-1 text-lost">
      <span>{told}</span>
      <Button kind="quiet" onClick={() => client.refetchQueries({ predicate: failing })}>
        Try again
      </Button>
    </div>
  )
}
