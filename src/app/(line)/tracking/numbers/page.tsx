import type { Metadata } from 'next'
import { Numbers } from '@/ui/tracking/numbers/Numbers'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Numbers' }

export default async function NumbersPage() {
  await applicationFor('orders.see')
  return <Numbers />
}
