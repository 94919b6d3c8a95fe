import type { ReactNode } from 'react'
import { PartsNav } from '../kit/PartsNav'
import { ScreenHead } from '../kit/Screen'

const parts = [
  ['board', '/tracking', 'Board'],
  ['told', '/tracking/told', 'Notifications'],
  ['arrivals', '/tracking/arrivals', 'Arrivals'],
  ['numbers', '/tracking/numbers', 'Numbers'],
] as const

/** The head of Tracking with its surfaces. */
export function TrackingHead({
  at,
  about,
  children,
}: {
  at: (typeof parts)[number][0]
  about: ReactNode
  children?: ReactNode
}) {
  return (
    <ScreenHead title="Tracking" about={about}>
      {children}
      <PartsNav of="Tracking" parts={parts} at={at} />
    </ScreenHead>
  )
}
