import type { TrackingStatus } from '@/core/tracking'

/** The steps that a person would want to hear of, in the order of the way. */
export const noticeSteps = [
  'label made',
  'number changed',
  'collected',
  'out for delivery',
  'waiting to be fetched',
  'delivered',
  'delayed',
  'delivery failed',
  'coming back',
  'arrived back',
  'return agreed',
  'return refused',
  'return arrived',
  'paid back',
] as const
export type NoticeStep = (typeof noticeSteps)[number]

/** How a customer is reached. */
export const mediums = ['mail', 'text'] as const
export type Medium = (typeof mediums)[number]

/**
 * What is of no use an hour later, or asks for an answer: it goes out although something else was said within the hour.
 */
const urgent: ReadonlySet<string> = new Set<NoticeStep>([
  'out for delivery',
  'waiting to be fetched',
  'delivery failed',
  'coming back',
  'number changed',
  // They answer what a customer has just asked.
  'return agreed',
  'return refused',
])
/** Steps of what a customer sends back. */
const ofReturns: ReadonlySet<string> = new Set<NoticeStep>([
  ...(['return agreed', 'return refused', 'return arrived', 'paid back'] as const),
])
/** Whether a step is about what a customer sends back, and not about what was sent. */
export const isOfReturn = (step: string): boolean => ofReturns.has(step)
/** Whether a step is said at once, whatever was said within the last hour. */
export const isUrgent = (step: string): boolean => urgent.has(step)

const byStatus: Partial<Record<TrackingStatus, NoticeStep>> = {
  collected: 'collected',
  'out for delivery': 'out for delivery',
  'waiting to be fetched': 'waiting to be fetched',
  delivered: 'delivered',
  'delivery failed': 'delivery failed',
  returned: 'coming back',
  'arrived back': 'arrived back',
}
/** The step that news of a parcel are, if a customer would want to hear of it. */
export const stepOfStatus = (status: string): NoticeStep | undefined => byStatus[status as TrackingStatus]

const onTheWay: ReadonlySet<string> = new Set<NoticeStep>([
  ...(['collected', 'out for delivery', 'waiting to be fetched', 'delayed', 'delivery failed'] as const),
])
const along: readonly NoticeStep[] = ['label made', 'number changed', 'collected', 'out for delivery', 'delivered']
/**
 * Whether what waits to be said of a parcel is overtaken by what happened since: nobody wants to hear that it was
 * collected once it is with the driver. What went wrong is not overtaken, but by the delivery.
 */
export function isOvertaken(step: string, by: string): boolean {
  if (isOfReturn(step) || isOfReturn(by)) return step === 'return arrived' && by === 'paid back'
  if (by === 'delivered') return step !== 'delivered' && step !== 'coming back' && step !== 'arrived back'
  // What goes back is not awaited any more.
  if (by === 'coming back' || by === 'arrived back')
    return onTheWay.has(step) || (step === 'coming back' && by !== step)
  const [at, then] = [along.indexOf(step as NoticeStep), along.indexOf(by as NoticeStep)]
  // The numbers are said, whatever came after.
  return at >= 2 && then > at
}
