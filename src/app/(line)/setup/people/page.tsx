import type { Metadata } from 'next'
import { People } from '@/ui/people/People'
import { showPeople } from '@/usecases/people/people'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'People' }

export default async function PeoplePage() {
  return <People initial={await showPeople(await applicationFor('people.manage'))} />
}
