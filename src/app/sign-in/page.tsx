import type { Metadata } from 'next'
import { redirect } from 'next/navigation'
import { SignIn } from '@/ui/people/SignIn'
import { theApplication } from '../application'
import { homeOf, ownAddress } from '../homeOf'
import { personHere } from '../who'
import { whyNot } from './whyNot'

type Given = string | string[]

export const metadata: Metadata = { title: 'Sign in' }

export default async function SignInPage({ searchParams }: { searchParams: Promise<{ to?: Given; why?: Given }> }) {
  const query = await searchParams
  const to = [query.to].flat()[0]
  const person = await personHere()
  if (person) redirect(ownAddress(to, homeOf(person.role)))
  const { settings } = await theApplication()
  const why = [query.why].flat()[0] ?? ''
  return <SignIn to={ownAddress(to, '/')} provider={settings.provider?.name ?? null} why={whyNot[why] ?? ''} />
}
