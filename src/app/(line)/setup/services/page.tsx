import type { Metadata } from 'next'
import { Services } from '@/ui/setup/services/Services'
import { showSetup } from '@/usecases/setup/showSetup'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Services' }

export default async function ServicesPage() {
  return <Services initial={await showSetup(await theApplication())} />
}
