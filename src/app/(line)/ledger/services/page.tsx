import type { Metadata } from 'next'
import { Services } from '@/ui/ledger/services/Services'
import { showServices } from '@/usecases/ledger/services'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Services' }

export default async function ServicesPage() {
  return (
    <Services
      initial={
        (await showServices(await theApplication())) ?? {
          version: 0,
          carriers: [],
          services: [],
          locations: [],
          channels: [],
          demands: [],
        }
      }
    />
  )
}
