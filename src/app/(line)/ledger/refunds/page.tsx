import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Refunds } from '@/ui/ledger/refunds/Refunds'
import { deskNames } from '@/usecases/desk/showDesk'
import { showRefunds } from '@/usecases/ledger/refunds'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Refunds' }

export default async function RefundsPage() {
  const gharry = await applicationFor('money.see')
  return (
    <Suspense>
      <Refunds initial={await showRefunds(gharry, { settled: false })} names={await deskNames(gharry)} />
    </Suspense>
  )
}
