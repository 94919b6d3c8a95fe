import type { ReactNode } from 'react'
import { PartsHead } from '../kit/PartsHead'

const parts = [
  ['batches', '/dispatch', 'Batches'],
  ['bench', '/bench', 'Bench'],
  ['collections', '/dispatch/collections', 'Collections'],
  ['handover', '/dispatch/handover', 'Hand-over'],
  ['stock', '/dispatch/stock', 'Stock'],
  ['counter', '/counter', 'Counter'],
  ['slips', '/dispatch/slips', 'Slips'],
] as const

interface Props {
  readonly at: (typeof parts)[number][0]
  readonly about: ReactNode
  readonly children?: ReactNode
}

/** The head of Dispatch with its surfaces. */
export const DispatchHead = (props: Props) => <PartsHead title="Dispatch" parts={parts} {...props} />
