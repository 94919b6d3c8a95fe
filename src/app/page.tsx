import { redirect } from 'next/navigation'
import { showSetup } from '@/usecases/setup/showSetup'
import { theApplication } from './application'
import { homeOf } from './homeOf'
import { personHere } from './who'

// What is set up is asked for at each visit.
export const dynamic = 'force-dynamic'

/** Where a role begins: mostly the Desk; who has nothing to send from or by is shown the first steps. */
export default async function Home() {
  const person = await personHere()
  if (!person) redirect('/sign-in')
  const home = homeOf(person.role)
  if (home !== '/desk') redirect(home)
  const { done } = await showSetup(await theApplication())
  redirect(done.location && done.carrier && done.service ? '/desk' : '/setup')
}
