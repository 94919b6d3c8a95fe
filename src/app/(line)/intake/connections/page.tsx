import type { Metadata } from 'next'
import { Connections } from '@/ui/intake/connections/Connections'
import { showConnections } from '@/usecases/intake/connections'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Connections' }

export default async function ConnectionsPage() {
  return <Connections initial={await showConnections(await applicationFor('intake.see'))} />
}
