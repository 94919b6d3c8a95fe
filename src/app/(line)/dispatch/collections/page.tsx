import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Collections } from '@/ui/dispatch/collections/Collections'
import { deskNames } from '@/usecases/desk/showDesk'
import { showCollections } from '@/usecases/dispatch/collections/showCollections'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Collections' }

export default async function CollectionsPage() {
  const gharry = await applicationFor('labels.see')
  return (
    <Suspense>
      <Collections initial={await showCollections(gharry)} names={await deskNames(gharry)} />
    </Suspense>
  )
}
