import type { Metadata } from 'next'
import { Services } from '@/ui/setup/services/Services'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Services' }

export default async function ServicesPage() {
  return <Services initial={await showSetup(await applicationFor('setup.see'))} />
}
