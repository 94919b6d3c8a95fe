import type { Metadata } from 'next'
import { Ledger } from '@/ui/ledger/Ledger'
import { deskNames } from '@/usecases/desk/showDesk'
import { showLedger } from '@/usecases/ledger/showLedger'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Ledger' }

export default async function LedgerPage() {
  const gharry = await applicationFor('money.see')
  return <Ledger initial={await showLedger(gharry, {})} names={await deskNames(gharry)} />
}
