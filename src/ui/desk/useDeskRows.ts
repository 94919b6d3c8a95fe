import { useState } from 'react'
import { useQueries } from '@tanstack/react-query'
import type { DeskView } from '@/usecases/desk/showDesk'
import type { OrderRow } from '@/data'
import { call } from '../kit/api'

export const pageSize = 100

/** Rows of the Desk, fetched page by page as they come into view; rows that are not there yet are undefined. */
export function useDeskRows(
  query: string,
  first: number,
  until: number,
): {
  rows: (index: number) => OrderRow | undefined
  /** Where an order is among the rows that are fetched; null when it is not. */
  placeOf: (order: number) => number | null
  /** How many there are, as far as they are counted, and how many are listed. */
  total: number
  more: boolean
  listed: number
  failed: Error | null
  loading: boolean
  retry: () => unknown
} {
  const from = Math.floor(Math.max(0, first) / pageSize)
  const to = Math.floor(Math.max(first, until) / pageSize)
  const pages = Array.from({ length: to - from + 1 }, (_, i) => from + i)
  const results = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['desk', 'rows', query, page],
      queryFn: () =>
        call('GET /api/desk', {
          query: new URLSearchParams(`${query}&offset=${page * pageSize}&most=${pageSize}`),
        }),
      refetchInterval: 6000,
      placeholderData: (before: DeskView | undefined) => before,
    })),
  })
  const byPage = new Map(results.map((result, i) => [pages[i]!, result.data]))
  const known = results.find((result) => result.data)?.data
  // While a page far away is fetched, the list is as long as it was.
  const [last, setLast] = useState<{ query: string; total: number; more: boolean; listed: number } | null>(null)
  if (known && (last?.query !== query || last.total !== known.total))
    setLast({ query, total: known.total, more: known.more, listed: known.listed })
  const sums = known ?? (last?.query === query ? last : undefined)
  return {
    rows: (index) => {
      const page = byPage.get(Math.floor(index / pageSize))
      return page && page.offset === Math.floor(index / pageSize) * pageSize ? page.rows[index % pageSize] : undefined
    },
    placeOf: (order) => {
      for (const [page, data] of byPage) {
        // What is shown until a page comes is another one.
        if (data?.offset !== page * pageSize) continue
        const at = data.rows.findIndex(({ id }) => id === order)
        if (at >= 0) return data.offset + at
      }
      return null
    },
    total: sums?.total ?? 0,
    more: sums?.more ?? false,
    listed: sums?.listed ?? 0,
    failed: results.find((result) => result.error && !result.data)?.error ?? null,
    loading: sums === undefined,
    retry: () => Promise.all(results.map((result) => result.refetch())),
  }
}
