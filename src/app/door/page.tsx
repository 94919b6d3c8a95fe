import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Door } from '@/ui/dispatch/door/Door'
import { wholeScreen } from '../wholeScreen'

export const metadata: Metadata = { title: 'Door' }

export default function DoorPage() {
  return wholeScreen('floor.work', (names) => (
    <Suspense>
      <Door names={names} />
    </Suspense>
  ))
}
