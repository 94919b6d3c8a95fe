import type { Metadata } from 'next'
import { Board } from '@/ui/tracking/board/Board'

export const metadata: Metadata = { title: 'Tracking' }

export default function TrackingPage() {
  return <Board />
}
