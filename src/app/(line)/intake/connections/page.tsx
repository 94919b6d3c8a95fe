import type { Metadata } from 'next'
import { Connections } from '@/ui/intake/connections/Connections'
import { showConnections } from '@/usecases/intake/connections'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Connections' }

export default async function ConnectionsPage() {
  return <Connections initial={await showConnections(await theApplication())} />
}
