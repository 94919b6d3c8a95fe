import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Desk } from '@/ui/desk/Desk'
import { showWorld } from '@/usecases/editRulebook'
import { deskNames } from '@/usecases/showDesk'
import { theGharry } from '../../gharry'

export const metadata: Metadata = { title: 'Desk' }

export default async function DeskPage() {
  const gharry = await theGharry()
  return (
    <Suspense>
      <Desk names={await deskNames(gharry)} world={await showWorld(gharry)} />
    </Suspense>
  )
}
