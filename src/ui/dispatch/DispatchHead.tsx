import type { ReactNode } from 'react'
import { PartsNav } from '../kit/PartsNav'
import { ScreenHead } from '../kit/Screen'

const parts = [
  ['batches', '/dispatch', 'Batches'],
  ['slips', '/dispatch/slips', 'Slips'],
] as const

/** The head of Dispatch with its surfaces. */
export function DispatchHead({
  at,
  about,
  children,
}: {
  at: (typeof parts)[number][0]
  about: ReactNode
  children?: ReactNode
}) {
  return (
    <ScreenHead title="Dispatch" about={about}>
      {children}
      <PartsNav of="Dispatch" parts={parts} at={at} />
    </ScreenHead>
  )
}
