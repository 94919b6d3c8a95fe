import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Dispatch } from '@/ui/dispatch/Dispatch'
import { deskNames } from '@/usecases/showDesk'
import { showBatches } from '@/usecases/showLine'
import { theGharry } from '../../gharry'

export const metadata: Metadata = { title: 'Dispatch' }

export default async function DispatchPage() {
  const gharry = await theGharry()
  return (
    <Suspense>
      <Dispatch initial={await showBatches(gharry)} names={await deskNames(gharry)} />
    </Suspense>
  )
}
