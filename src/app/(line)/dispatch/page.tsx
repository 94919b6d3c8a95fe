import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Dispatch } from '@/ui/dispatch/Dispatch'
import { deskNames } from '@/usecases/desk/showDesk'
import { showBatches } from '@/usecases/dispatch/showBatches'
import { showDay } from '@/usecases/dispatch/waves'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Dispatch' }

export default async function DispatchPage() {
  const gharry = await applicationFor('labels.see')
  return (
    <Suspense>
      <Dispatch
        initial={await showBatches(gharry)}
        initialDay={await showDay(gharry)}
        names={await deskNames(gharry)}
      />
    </Suspense>
  )
}
