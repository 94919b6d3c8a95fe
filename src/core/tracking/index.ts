export { afterNews, isAstray, isTrackingStatus, progressOf, type TrackingStatus, trackingStatuses } from './events'
export { cleanTrackingNumber } from './link'
export { carriersOfNumber, type NumberForm, numberChecks, type Numbering, readNumber } from './numbers'
