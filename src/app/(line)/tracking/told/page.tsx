import type { Metadata } from 'next'
import { Told } from '@/ui/tracking/Told'
import { showTracking } from '@/usecases/tracking/showTracking'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Notifications' }

export default async function ToldPage() {
  return <Told initial={await showTracking(await applicationFor('orders.see'), null)} />
}
