/** What happened to a parcel, in our words whatever the carrier calls it; in the order of the way. */
export const trackingStatuses = [
  'announced',
  'collected',
  'in transit',
  'held at customs',
  'out for delivery',
  'waiting to be fetched',
  'delivered',
  'delivery failed',
  'returned',
  'arrived back',
  'lost',
] as const
export type TrackingStatus = (typeof trackingStatuses)[number]

/** Whether a text is one of the states that a parcel can be in. */
export const isTrackingStatus = (text: string): text is TrackingStatus =>
  (trackingStatuses as readonly string[]).includes(text)

/** What went wrong with a parcel, and stays so until there is better news. */
const wrong: ReadonlySet<string> = new Set<TrackingStatus>(['delivery failed', 'returned', 'arrived back', 'lost'])
/** Whether a parcel went wrong, by what was seen of it last. */
export const isAstray = (status: string | null): boolean => status !== null && wrong.has(status)

/** How a way ends: each may follow the one before it, and nothing else may follow. */
const ends: readonly string[] = ['delivered', 'returned', 'arrived back'] satisfies readonly TrackingStatus[]

/**
 * Where a parcel is after one more piece of news. News can come late and in the wrong order: what was seen before the
 * last news changes nothing, and a delivery is only unmade by a return.
 */
export function afterNews(
  known: { readonly status: string | null; readonly at: string | null },
  news: { readonly status: TrackingStatus; readonly at: string },
): { readonly status: TrackingStatus; readonly at: string } | null {
  const rank = ends.indexOf(news.status)
  if (known.status !== null && ends.indexOf(known.status) >= Math.max(rank, 0)) return null
  const older = known.at !== null && news.at < known.at
  return older && rank < 0 ? null : { status: news.status, at: news.at }
}

/** How far a parcel is along its way, 0 to 4, for the customer's page. */
export function progressOf(status: TrackingStatus): number {
  switch (status) {
    case 'announced':
      return 0
    case 'collected':
      return 1
    case 'in transit':
    case 'held at customs':
    case 'lost':
      return 2
    case 'delivery failed':
    case 'out for delivery':
    case 'waiting to be fetched':
      return 3
    case 'delivered':
    case 'returned':
    case 'arrived back':
      return 4
  }
}
