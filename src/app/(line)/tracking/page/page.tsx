import type { Metadata } from 'next'
import { PageEditor } from '@/ui/tracking/page/PageEditor'
import { showFaces } from '@/usecases/tracking/faces'
import { showNotices } from '@/usecases/tracking/noticeSettings'
import { theApplication } from '../../../application'

export const metadata: Metadata = { title: 'The customer’s page' }

export default async function CustomersPage() {
  const gharry = await theApplication()
  return <PageEditor initial={await showFaces(gharry)} channels={(await showNotices(gharry)).channels} />
}
