export { afterNews, isTrackingStatus, progressOf, type TrackingStatus, trackingStatuses } from './events'
export { cleanTrackingNumber } from './link'
