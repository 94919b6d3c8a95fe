import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Audit } from '@/ui/people/Audit'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Audit' }

export default async function AuditPage() {
  await applicationFor('audit.see')
  return (
    <Suspense>
      <Audit />
    </Suspense>
  )
}
