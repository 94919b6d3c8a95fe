import type { ReactNode } from 'react'
import { PartsNav } from '../kit/PartsNav'
import { ScreenHead } from '../kit/Screen'

const parts = [
  ['spend', '/ledger', 'Spend'],
  ['balance', '/ledger/balance', 'Balance'],
  ['tariffs', '/ledger/tariffs', 'Tariffs'],
  ['rates', '/ledger/rates', 'Compare rates'],
] as const

/** The head of the Ledger with its surfaces. */
export function LedgerHead({
  at,
  about,
  children,
}: {
  at: (typeof parts)[number][0]
  about: ReactNode
  children?: ReactNode
}) {
  return (
    <ScreenHead title="Ledger" about={about}>
      {children}
      <PartsNav of="the Ledger" parts={parts} at={at} />
    </ScreenHead>
  )
}
