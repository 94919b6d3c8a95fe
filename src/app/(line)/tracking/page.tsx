import type { Metadata } from 'next'
import { Board } from '@/ui/tracking/board/Board'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Tracking' }

export default async function TrackingPage() {
  await applicationFor('orders.see')
  return <Board />
}
