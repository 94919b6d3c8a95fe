import { parseAsString, useQueryStates } from 'nuqs'
import { useCallback, useMemo } from 'react'
import { aStep, type Step } from '../kit/step'

/** The Desk's state as it is in the address: every list has a URL that brings it back. */
export interface DeskAddress {
  readonly params: URLSearchParams
  /** Filters and sorts, and the filters alone. */
  readonly query: string
  readonly filter: string
  readonly values: (name: DeskKey) => string[]
  readonly toggle: (name: DeskKey, value: string) => void
  readonly set: (name: Exclude<DeskKey, 'q'>, value: string | null) => void
  readonly search: (text: string, step: Step) => void
  readonly clear: () => void
  /** Takes filters and sorts as they were kept, in place of those that are there. */
  readonly take: (query: string) => void
  /** Opens an order: a step that Back takes back. */
  readonly open: (order: number) => void
}

const filters = [
  'state',
  'channel',
  'country',
  'service',
  'location',
  'tag',
  'reason',
  'late',
  'pinned',
  'flagged',
  'reported',
  'q',
] as const
const keys = [...filters, 'sort', 'order', 'new'] as const
export type DeskKey = (typeof keys)[number]

const parsers = Object.fromEntries(keys.map((key) => [key, parseAsString])) as Record<DeskKey, typeof parseAsString>
const noFilter = Object.fromEntries(filters.map((key) => [key, null]))

const members = (value: string | null): string[] => (value ?? '').split(',').filter(Boolean)

export function useDeskAddress(): DeskAddress {
  // The history alone: the page itself need not be asked from the server again.
  const [state, put] = useQueryStates(parsers, { history: 'replace', shallow: true, scroll: false })
  const params = useMemo(
    () => new URLSearchParams(keys.flatMap((key) => (state[key] === null ? [] : [[key, state[key]]]))),
    [state],
  )
  const query = useMemo(() => {
    const only = new URLSearchParams(params)
    only.delete('order')
    only.delete('new')
    return only.toString()
  }, [params])
  const filter = useMemo(() => {
    const only = new URLSearchParams(query)
    only.delete('sort')
    return only.toString()
  }, [query])
  const values = useCallback((name: DeskKey) => members(state[name]), [state])
  const set = useCallback(
    (name: Exclude<DeskKey, 'q'>, value: string | null) =>
      void put({ [name]: value || null }, filters.some((each) => each === name) ? aStep : {}),
    [put],
  )
  const search = useCallback((text: string, step: Step) => void put({ q: text || null }, step), [put])
  const toggle = useCallback(
    (name: DeskKey, value: string) =>
      void put((now) => {
        const list = members(now[name])
        const next = list.includes(value) ? list.filter((other) => other !== value) : [...list, value]
        return { [name]: next.join(',') || null }
      }, aStep),
    [put],
  )
  const clear = useCallback(() => void put(noFilter, aStep), [put])
  const take = useCallback(
    (query: string) => {
      const kept = new URLSearchParams(query)
      const listed = [...filters, 'sort'] as const
      void put(Object.fromEntries(listed.map((key) => [key, kept.get(key)])), aStep)
    },
    [put],
  )
  const { order } = state
  const open = useCallback(
    // From one order to the next is no step of its own.
    (id: number) => void put({ order: String(id), new: null }, { history: order === null ? 'push' : 'replace' }),
    [order, put],
  )
  return { params, query, filter, values, toggle, set, search, clear, take, open }
}
