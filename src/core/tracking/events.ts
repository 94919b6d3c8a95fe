/** What happened to a parcel, in our words whatever the carrier calls it. */
export type TrackingStatus = 'announced' | 'collected' | 'in transit' | 'out for delivery' | 'delivered' | 'delivery failed' | 'returned'

/** In the order of the way. */
export const trackingStatuses: readonly TrackingStatus[] = ['announced', 'collected', 'in transit', 'out for delivery', 'delivered', 'delivery failed', 'returned']

export const isTrackingStatus = (text: string): text is TrackingStatus => (trackingStatuses as readonly string[]).includes(text)

/** How far a parcel is along its way, 0 to 4, for the customer's page. */
export function progressOf(status: TrackingStatus): number {
  switch (status) {
    case 'announced': return 0
    case 'collected': return 1
    case 'in transit': return 2
    case 'delivery failed':
    case 'out for delivery': return 3
    case 'delivered':
    case 'returned': return 4
  }
}
