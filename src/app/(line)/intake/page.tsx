import type { Metadata } from 'next'
import { fileFields } from '@/adapters'
import { Intake } from '@/ui/intake/Intake'
import { showIntake } from '@/usecases/intake/showIntake'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Intake' }

export default async function IntakePage() {
  return (
    <Intake
      initial={await showIntake(await applicationFor('intake.see'))}
      fields={fileFields.map(({ id, name, needed }) => ({ id, name, needed }))}
    />
  )
}
