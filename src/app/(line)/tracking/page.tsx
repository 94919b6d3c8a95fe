import type { Metadata } from 'next'
import { Tracking } from '@/ui/tracking/Tracking'
import { showArrivals } from '@/usecases/tracking/showArrivals'
import { showTracking } from '@/usecases/tracking/showTracking'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Tracking' }

export default async function TrackingPage() {
  const gharry = await theApplication()
  return <Tracking initial={await showTracking(gharry, null)} arrivals={await showArrivals(gharry)} />
}
