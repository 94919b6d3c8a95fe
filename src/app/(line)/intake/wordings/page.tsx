import type { Metadata } from 'next'
import { IntakeHead } from '@/ui/intake/IntakeHead'
import { Wordings } from '@/ui/intake/Wordings'
import { showWordings } from '@/usecases/intake/wordings'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Wording tables' }

export default async function WordingsPage() {
  return (
    <div className="flex h-full flex-col">
      <IntakeHead at="wordings" />
      <Wordings initial={await showWordings(await applicationFor('intake.see'))} />
    </div>
  )
}
