import type { Metadata } from 'next'
import { Presets } from '@/ui/setup/presets/Presets'
import { showSetup } from '@/usecases/setup/showSetup'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Presets' }

export default async function PresetsPage() {
  return <Presets initial={await showSetup(await theApplication())} />
}
