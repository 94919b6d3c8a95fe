import type { Metadata } from 'next'
import { Notices } from '@/ui/tracking/notices/Notices'
import { showNotices } from '@/usecases/tracking/noticeSettings'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Notices' }

export default async function NoticesPage() {
  return <Notices initial={await showNotices(await applicationFor('orders.see'))} />
}
