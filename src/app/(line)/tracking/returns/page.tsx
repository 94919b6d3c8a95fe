import type { Metadata } from 'next'
import { Returns } from '@/ui/tracking/returns/Returns'
import { showReturns } from '@/usecases/tracking/returns/showReturns'
import { theApplication } from '../../../application'

export const metadata: Metadata = { title: 'Returns' }

export default async function ReturnsPage() {
  return <Returns initial={await showReturns(await theApplication(), 'asked')} />
}
