import type { ArrivalBook } from '@/core/arrival'
import type { BoardRow } from '@/data'

const dayMs = 86_400_000

/** The day by which a parcel that has not come comes with a chance (per cent), from the history of its lane. */
export function dayStillAhead(
  arrivals: ArrivalBook | undefined,
  row: Pick<BoardRow, 'service' | 'location' | 'zone' | 'country'>,
  foreseen: string | null,
  percent: number,
  today: string,
): string | null {
  if (!foreseen) return null
  const yesterday = new Date(Date.parse(today) - dayMs).toISOString().slice(0, 10)
  return arrivals?.day(row, foreseen, percent * 10, yesterday) ?? null
}
