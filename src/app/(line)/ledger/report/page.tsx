import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Report } from '@/ui/ledger/report/Report'
import { showReport } from '@/usecases/ledger/report'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Reports' }

export default async function ReportPage() {
  return (
    <Suspense>
      <Report initial={await showReport(await applicationFor('money.see'), { by: 'carrier' })} />
    </Suspense>
  )
}
