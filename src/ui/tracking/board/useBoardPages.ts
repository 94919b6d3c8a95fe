import { keepPreviousData, useQueries } from '@tanstack/react-query'
import type { BoardLine } from '@/usecases/tracking/showBoard'
import { call } from '../../kit/api'

const pageSize = 100

/** Rows of the board, page by page as they come into view; rows that are not there yet are undefined. */
export function useBoardPages(query: Readonly<Record<string, string>>, [first, until]: readonly [number, number]) {
  const from = Math.floor(Math.max(0, first) / pageSize)
  const to = Math.floor(Math.max(first, until) / pageSize)
  const pages = Array.from({ length: to - from + 1 }, (_, i) => from + i)
  const results = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['board', 'rows', query, page],
      queryFn: () => call('GET /api/tracking/board', { query: { ...query, offset: page * pageSize, most: pageSize } }),
      refetchInterval: 10_000,
      placeholderData: keepPreviousData,
    })),
  })
  const known = results.find((result) => result.data)?.data
  return {
    rows: (index: number): BoardLine | undefined => {
      const page = Math.floor(index / pageSize)
      const data = results[pages.indexOf(page)]?.data
      return data?.offset === page * pageSize ? data.rows[index % pageSize] : undefined
    },
    total: known?.total ?? 0,
    now: known?.now ?? '',
    loading: known === undefined,
    failed: results.find((result) => result.error && !result.data)?.error ?? null,
    retry: () => Promise.all(results.map((result) => result.refetch())),
  }
}
