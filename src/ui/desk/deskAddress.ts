import { useSearchParams } from 'next/navigation'
import { useCallback, useMemo } from 'react'

/** The Desk's state as it stands in the address: every list has a URL that brings it back. */
export interface DeskAddress {
  readonly params: URLSearchParams
  readonly query: string
  readonly values: (name: string) => string[]
  readonly toggle: (name: string, value: string) => void
  readonly set: (name: string, value: string | null) => void
  readonly clear: () => void
}

const filterNames = ['state', 'channel', 'country', 'service', 'location', 'tag', 'late', 'pinned', 'flagged', 'q']

export function useDeskAddress(): DeskAddress {
  const search = useSearchParams()
  const params = useMemo(() => new URLSearchParams(search.toString()), [search])
  // The history alone: the page itself need not be asked from the server again.
  const write = useCallback(
    (next: URLSearchParams) =>
      window.history.replaceState(null, '', `/desk${next.size > 0 ? `?${next.toString()}` : ''}`),
    [],
  )
  const query = useMemo(() => {
    const only = new URLSearchParams(params)
    only.delete('order')
    return only.toString()
  }, [params])
  const values = useCallback((name: string) => (params.get(name) ?? '').split(',').filter(Boolean), [params])
  const set = useCallback(
    (name: string, value: string | null) => {
      const next = new URLSearchParams(window.location.search)
      if (value === null || value === '') next.delete(name)
      else next.set(name, value)
      write(next)
    },
    [write],
  )
  const toggle = useCallback(
    (name: string, value: string) => {
      const now = values(name)
      set(name, (now.includes(value) ? now.filter((other) => other !== value) : [...now, value]).join(','))
    },
    [set, values],
  )
  const clear = useCallback(() => {
    const next = new URLSearchParams(window.location.search)
    for (const name of filterNames) next.delete(name)
    write(next)
  }, [write])
  return { params, query, values, toggle, set, clear }
}
