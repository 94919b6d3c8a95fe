import { redirect } from 'next/navigation'
import { showSetup } from '@/usecases/setup/showSetup'
import { theApplication } from './application'

// What is set up is asked for at each visit.
export const dynamic = 'force-dynamic'

/** The Desk; who has nothing to send from or by is shown the first steps. */
export default async function Home() {
  const { done } = await showSetup(await theApplication())
  redirect(done.location && done.carrier && done.service ? '/desk' : '/setup')
}
