import type { Metadata } from 'next'
import { Tracking } from '@/ui/tracking/Tracking'
import { showTracking } from '@/usecases/tracking/showTracking'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Tracking' }

export default async function TrackingPage() {
  return <Tracking initial={await showTracking(await theApplication(), null)} />
}
