import type { Metadata } from 'next'
import { redirect } from 'next/navigation'
import { SignIn } from '@/ui/people/SignIn'
import { homeOf, ownAddress } from '../homeOf'
import { personHere } from '../who'

export const metadata: Metadata = { title: 'Sign in' }

export default async function SignInPage({ searchParams }: { searchParams: Promise<{ to?: string | string[] }> }) {
  const to = [(await searchParams).to].flat()[0]
  const person = await personHere()
  if (person) redirect(ownAddress(to, homeOf(person.role)))
  return <SignIn to={ownAddress(to, '/')} />
}
