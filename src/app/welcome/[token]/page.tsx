import type { Metadata } from 'next'
import { Doorway } from '@/ui/people/Doorway'
import { Welcome } from '@/ui/people/Welcome'
import { showWelcome } from '@/usecases/people/welcome'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Welcome', robots: { index: false, follow: false } }

export default async function WelcomePage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params
  const whose = await showWelcome(await theApplication(), token)
  return whose === undefined ? (
    <Doorway title="This link is no good any more" about="It was used, or it is older than three days.">
      <p className="mt-3">
        Ask the owner for a new one.{' '}
        <a className="text-act underline decoration-hair underline-offset-4" href="/sign-in">
          Sign in
        </a>
      </p>
    </Doorway>
  ) : (
    <Welcome secret={token} whose={whose} />
  )
}
