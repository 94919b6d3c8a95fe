import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Report } from '@/ui/ledger/report/Report'
import { showReport } from '@/usecases/ledger/report'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Reports' }

export default async function ReportPage() {
  return (
    <Suspense>
      <Report initial={await showReport(await theApplication(), { by: 'carrier' })} />
    </Suspense>
  )
}
