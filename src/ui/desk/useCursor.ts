import { skipToken, useQuery } from '@tanstack/react-query'
import { type RefObject, useEffect, useState } from 'react'
import { call } from '../kit/api'
import type { GridHandle } from '../kit/grid/Grid'
import type { DeskAddress } from './deskAddress'
import type { useDeskRows } from './useDeskRows'

/** The row that the cursor is on. It stays with the order that is open when others come in above it. */
export function useCursor(
  address: DeskAddress,
  { rows, listed, placeOf }: ReturnType<typeof useDeskRows>,
  grid: RefObject<GridHandle | null>,
): readonly [cursor: number, setCursor: (index: number) => void] {
  const open = Number(address.params.get('order')) || null
  const [cursor, setCursor] = useState(0)
  // Where the open order was last.
  const [held, setHeld] = useState<number | null>(null)
  useEffect(() => {
    setCursor(0)
    grid.current?.scrollToTop()
  }, [address.query, grid])
  // Whoever comes back finds the cursor on the order that is open: asked once, for what the address said then.
  const [opened] = useState(() => (open === null ? null : new URLSearchParams(address.params)))
  const { data: place } = useQuery({
    queryKey: ['place', opened?.toString()],
    queryFn: opened ? () => call('GET /api/desk/place', { query: opened }).then((found) => found.place) : skipToken,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  })
  const [there, setThere] = useState(false)
  useEffect(() => {
    if (there || typeof place !== 'number' || listed <= place) return
    setThere(true)
    setCursor(place)
    setHeld(place)
    grid.current?.scrollTo(place)
  }, [there, place, listed, grid])
  const here = rows(cursor)?.id
  if (open !== null && here === open && held !== cursor) setHeld(cursor)
  if (open !== null && here !== undefined && here !== open && held === cursor) {
    const now = placeOf(open)
    setHeld(now === cursor ? null : now)
    if (now !== null && now !== cursor) setCursor(now)
  }
  return [cursor, setCursor]
}
