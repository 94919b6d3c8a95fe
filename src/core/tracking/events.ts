/** What happened to a parcel, in our words whatever the carrier calls it. */
export type TrackingStatus =
  'announced' | 'collected' | 'in transit' | 'out for delivery' | 'delivered' | 'delivery failed' | 'returned'

/** In the order of the way. */
export const trackingStatuses: readonly TrackingStatus[] = [
  'announced',
  'collected',
  'in transit',
  'out for delivery',
  'delivered',
  'delivery failed',
  'returned',
]

/** Whether a text is one of the states that a parcel can be in. */
export const isTrackingStatus = (text: string): text is TrackingStatus =>
  (trackingStatuses as readonly string[]).includes(text)

/**
 * Where a parcel is after one more piece of news. News can come late and in the wrong order: what was seen before the
 * last news changes nothing, and a delivery is only unmade by a return.
 */
export function afterNews(
  known: { readonly status: string | null; readonly at: string | null },
  news: { readonly status: TrackingStatus; readonly at: string },
): { readonly status: TrackingStatus; readonly at: string } | null {
  if (known.status === 'returned' || (known.status === 'delivered' && news.status !== 'returned')) return null
  const older = known.at !== null && news.at < known.at
  return older && news.status !== 'delivered' && news.status !== 'returned'
    ? null
    : { status: news.status, at: news.at }
}

/** How far a parcel is along its way, 0 to 4, for the customer's page. */
export function progressOf(status: TrackingStatus): number {
  switch (status) {
    case 'announced':
      return 0
    case 'collected':
      return 1
    case 'in transit':
      return 2
    case 'delivery failed':
    case 'out for delivery':
      return 3
    case 'delivered':
    case 'returned':
      return 4
  }
}
