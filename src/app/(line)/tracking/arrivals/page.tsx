import type { Metadata } from 'next'
import { ArrivalsPage } from '@/ui/tracking/ArrivalsPage'
import { showArrivals } from '@/usecases/tracking/showArrivals'
import { showBoardDays } from '@/usecases/tracking/showBoard'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Arrivals' }

export default async function Page() {
  const gharry = await applicationFor('orders.see')
  return <ArrivalsPage arrivals={await showArrivals(gharry)} days={await showBoardDays(gharry)} />
}
