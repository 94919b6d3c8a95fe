import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Collections } from '@/ui/dispatch/collections/Collections'
import { deskNames } from '@/usecases/desk/showDesk'
import { showCollections } from '@/usecases/dispatch/collections/showCollections'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Collections' }

export default async function CollectionsPage() {
  const gharry = await theApplication()
  return (
    <Suspense>
      <Collections initial={await showCollections(gharry)} names={await deskNames(gharry)} />
    </Suspense>
  )
}
