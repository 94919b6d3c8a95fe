import type { Metadata } from 'next'
import { Start } from '@/ui/setup/start/Start'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'First steps' }

export default async function SetupPage() {
  return <Start initial={await showSetup(await applicationFor('setup.see'))} />
}
