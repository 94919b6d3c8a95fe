import type { Metadata } from 'next'
import { Locations } from '@/ui/setup/locations/Locations'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Locations' }

export default async function LocationsPage() {
  return <Locations initial={await showSetup(await applicationFor('setup.see'))} />
}
