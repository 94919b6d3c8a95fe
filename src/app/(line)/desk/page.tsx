import type { Metadata } from 'next'
import { Suspense } from 'react'
import { Desk } from '@/ui/desk/Desk'
import { showWorld } from '@/usecases/rules/editRulebook'
import { deskNames } from '@/usecases/desk/showDesk'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Desk' }

export default async function DeskPage() {
  const gharry = await applicationFor('orders.see')
  return (
    <Suspense>
      <Desk names={await deskNames(gharry)} world={await showWorld(gharry)} />
    </Suspense>
  )
}
