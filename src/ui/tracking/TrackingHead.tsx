import type { ReactNode } from 'react'
import { PartsHead } from '../kit/PartsHead'

const parts = [
  ['board', '/tracking', 'Board'],
  ['told', '/tracking/told', 'Notifications'],
  ['returns', '/tracking/returns', 'Returns'],
  ['arrivals', '/tracking/arrivals', 'Arrivals'],
  ['numbers', '/tracking/numbers', 'Numbers'],
  ['notices', '/tracking/notices', 'Notices'],
  ['page', '/tracking/page', 'Customer’s page'],
] as const

interface Props {
  readonly at: (typeof parts)[number][0]
  readonly about: ReactNode
  readonly children?: ReactNode
}

/** The head of Tracking with its surfaces. */
export const TrackingHead = (props: Props) => <PartsHead title="Tracking" parts={parts} {...props} />
