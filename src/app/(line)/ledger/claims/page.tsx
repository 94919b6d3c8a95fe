import type { Metadata } from 'next'
import { Claims } from '@/ui/ledger/claims/Claims'
import { showClaims } from '@/usecases/ledger/claims'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Claims' }

export default async function ClaimsPage() {
  return <Claims initial={await showClaims(await applicationFor('money.see'), false)} />
}
