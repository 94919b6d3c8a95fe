import type { Metadata } from 'next'
import { Claims } from '@/ui/ledger/claims/Claims'
import { showClaims } from '@/usecases/ledger/claims'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Claims' }

export default async function ClaimsPage() {
  return <Claims initial={await showClaims(await theApplication(), false)} />
}
