import type { Metadata } from 'next'
import { showPrivacy } from '@/usecases/privacy/buyers'
import { Privacy } from '@/ui/privacy/Privacy'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Privacy' }

export default async function PrivacyPage() {
  return <Privacy initial={await showPrivacy(await applicationFor('setup.see'))} />
}
