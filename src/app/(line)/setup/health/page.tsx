import type { Metadata } from 'next'
import { showHealth } from '@/usecases/health/showHealth'
import { Health } from '@/ui/health/Health'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Health' }
export const dynamic = 'force-dynamic'

export default async function HealthPage() {
  return <Health initial={await showHealth(await applicationFor('setup.see'))} />
}
