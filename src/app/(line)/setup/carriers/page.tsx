import type { Metadata } from 'next'
import { Carriers } from '@/ui/setup/carriers/Carriers'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Carriers' }

export default async function CarriersPage() {
  return <Carriers initial={await showSetup(await applicationFor('setup.see'))} />
}
