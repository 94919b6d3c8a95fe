import type { Metadata } from 'next'
import { fileFields } from '@/adapters'
import { Intake } from '@/ui/intake/Intake'
import { showIntake } from '@/usecases/intake/showIntake'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Intake' }

export default async function IntakePage() {
  return (
    <Intake
      initial={await showIntake(await theApplication())}
      fields={fileFields.map(({ id, name, needed }) => ({ id, name, needed }))}
    />
  )
}
