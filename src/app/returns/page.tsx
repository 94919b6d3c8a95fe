import type { Metadata } from 'next'
import { ReturnsBench } from '@/ui/tracking/returns/ReturnsBench'
import { wholeScreen } from '../wholeScreen'

export const metadata: Metadata = { title: 'Returns that come' }

export default function ReturnsBenchPage() {
  return wholeScreen('floor.work', () => <ReturnsBench />)
}
