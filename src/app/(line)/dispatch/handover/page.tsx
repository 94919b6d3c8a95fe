import type { Metadata } from 'next'
import { HandOvers } from '@/ui/dispatch/handover/HandOvers'
import { deskNames } from '@/usecases/desk/showDesk'
import { showManifests } from '@/usecases/dispatch/door/showManifests'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Hand-over' }

export default async function HandOverPage() {
  const gharry = await applicationFor('labels.see')
  return <HandOvers initial={await showManifests(gharry)} names={await deskNames(gharry)} />
}
