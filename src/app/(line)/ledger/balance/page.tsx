import type { Metadata } from 'next'
import { Balance } from '@/ui/ledger/balance/Balance'
import { showMoney } from '@/usecases/ledger/balances'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Balance' }

export default async function BalancePage() {
  return <Balance initial={await showMoney(await applicationFor('money.see'))} />
}
