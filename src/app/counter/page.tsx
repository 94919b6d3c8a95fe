import type { Metadata } from 'next'
import { Counter } from '@/ui/dispatch/counter/Counter'
import { wholeScreen } from '../wholeScreen'

export const metadata: Metadata = { title: 'Counter' }

export default function CounterPage() {
  return wholeScreen('floor.work', (names, { services }) => (
    <Counter
      names={names}
      locations={[...new Set(services.flatMap(({ fetched, locations }) => (fetched ? locations : [])))]}
    />
  ))
}
