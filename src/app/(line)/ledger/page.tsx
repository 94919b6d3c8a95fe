import type { Metadata } from 'next'
import { Ledger } from '@/ui/ledger/Ledger'
import { deskNames } from '@/usecases/desk/showDesk'
import { showLedger } from '@/usecases/ledger/showLedger'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Ledger' }

export default async function LedgerPage() {
  const gharry = await theApplication()
  return <Ledger initial={await showLedger(gharry, {})} names={await deskNames(gharry)} />
}
