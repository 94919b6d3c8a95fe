import type { Metadata } from 'next'
import { Presets } from '@/ui/setup/presets/Presets'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Presets' }

export default async function PresetsPage() {
  return <Presets initial={await showSetup(await applicationFor('setup.see'))} />
}
