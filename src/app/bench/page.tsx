import type { Metadata } from 'next'
import { Bench } from '@/ui/dispatch/bench/Bench'
import { wholeScreen } from '../wholeScreen'

export const metadata: Metadata = { title: 'Bench' }

export default function BenchPage() {
  return wholeScreen('floor.work', (names) => <Bench names={names} />)
}
