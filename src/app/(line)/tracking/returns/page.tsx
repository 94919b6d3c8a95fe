import type { Metadata } from 'next'
import { Returns } from '@/ui/tracking/returns/Returns'
import { showReturns } from '@/usecases/tracking/returns/showReturns'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Returns' }

export default async function ReturnsPage() {
  return <Returns initial={await showReturns(await applicationFor('orders.see'), 'asked')} />
}
