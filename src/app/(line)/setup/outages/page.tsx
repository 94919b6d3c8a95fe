import type { Metadata } from 'next'
import { Outages } from '@/ui/setup/outages/Outages'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Outages' }

export default async function OutagesPage() {
  return <Outages initial={await showSetup(await applicationFor('setup.see'))} />
}
