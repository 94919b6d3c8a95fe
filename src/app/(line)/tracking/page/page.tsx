import type { Metadata } from 'next'
import { PageEditor } from '@/ui/tracking/page/PageEditor'
import { showFaces } from '@/usecases/tracking/faces'
import { showNotices } from '@/usecases/tracking/noticeSettings'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'The customer’s page' }

export default async function CustomersPage() {
  const gharry = await applicationFor('orders.see')
  return <PageEditor initial={await showFaces(gharry)} channels={(await showNotices(gharry)).channels} />
}
