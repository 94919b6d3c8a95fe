import type { ReactNode } from 'react'
import { PartsHead } from '../kit/PartsHead'

const parts = [
  ['spend', '/ledger', 'Spend'],
  ['report', '/ledger/report', 'Reports'],
  ['balance', '/ledger/balance', 'Balance'],
  ['refunds', '/ledger/refunds', 'Refunds'],
  ['claims', '/ledger/claims', 'Claims'],
  ['tariffs', '/ledger/tariffs', 'Tariffs'],
  ['rates', '/ledger/rates', 'Compare rates'],
] as const

interface Props {
  readonly at: (typeof parts)[number][0]
  readonly about: ReactNode
  readonly children?: ReactNode
}

/** The head of the Ledger with its surfaces. */
export const LedgerHead = (props: Props) => <PartsHead title="Ledger" of="the Ledger" parts={parts} {...props} />
