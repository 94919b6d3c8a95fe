import type { Metadata } from 'next'
import { Numbers } from '@/ui/tracking/numbers/Numbers'

export const metadata: Metadata = { title: 'Numbers' }

export default function NumbersPage() {
  return <Numbers />
}
