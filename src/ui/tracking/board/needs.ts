import type { BoardNeed, BoardRow } from '@/usecases/tracking/showBoard'

/** Why a parcel needs a person, in words, the most urgent first. */
export const needWords: Readonly<Record<BoardNeed, { readonly name: string; readonly about: string }>> = {
  lost: { name: 'lost', about: 'The carrier says that it cannot find it.' },
  returned: { name: 'coming back', about: 'It is sent back to you.' },
  'delivery failed': { name: 'could not be delivered', about: 'The carrier tried, and nobody took it.' },
  'the customer wrote': { name: 'the customer wrote', about: 'A note or a report that nobody has read yet.' },
  'late and not told': {
    name: 'late and not told',
    about: 'Its day is past, and the customer was not told of a later one.',
  },
  'held at customs': { name: 'held at customs', about: 'Customs wait for something.' },
  'never collected': {
    name: 'announced, never collected',
    about: 'The label was bought, the day of its hand-over is past, and the carrier has not seen it.',
  },
  silent: {
    name: 'silent',
    about: 'No news for longer than 95 of 100 parcels of this service and zone are without any.',
  },
  late: { name: 'late', about: 'The promised day is past, or the foreseen one where none was promised.' },
  'waiting to be fetched': { name: 'to be fetched', about: 'It waits for the customer at a counter or locker.' },
}
export const needsInOrder = Object.keys(needWords) as BoardNeed[]

const day = 86_400_000

/** Days that a parcel is late at a moment; 0 when it is not. */
export const daysLate = ({ due }: Pick<BoardRow, 'due'>, now: string): number =>
  due === null || due >= now.slice(0, 10) ? 0 : Math.round((Date.parse(now.slice(0, 10)) - Date.parse(due)) / day)

/** How long it is silent, in whole hours or days: `5 h`, `3 d`. */
export function silence({ statusAt }: Pick<BoardRow, 'statusAt'>, now: string): string {
  const hours = Math.max(0, Math.floor((Date.parse(now) - Date.parse(statusAt)) / 3_600_000))
  return hours < 48 ? `${hours} h` : `${Math.floor(hours / 24)} d`
}
