import type { CollectionRow } from '@/data'

/** How a collection stands, as a mark and a word. */
export const stateWords: Readonly<Record<CollectionRow['state'], readonly [mark: string, word: string, tone: string]>> =
  {
    own: ['✓', 'own record', 'text-done'],
    queued: ['…', 'being asked', 'text-act'],
    booked: ['✓', 'booked', 'text-done'],
    changing: ['…', 'being changed', 'text-act'],
    cancelling: ['…', 'being cancelled', 'text-act'],
    cancelled: ['–', 'cancelled', 'text-soft'],
    failed: ['✕', 'refused', 'text-lost'],
  }

/** `Mon 30 Nov` of a day. */
export function dayName(day: string): string {
  const moment = new Date(`${day}T00:00:00Z`)
  return new Intl.DateTimeFormat('en-GB', {
    ...{ weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' },
  }).format(moment)
}
