import type { Metadata } from 'next'
import { redirect } from 'next/navigation'
import { type Permission, permissions } from '@/core/people'
import { Doorway } from '@/ui/people/Doorway'
import { unlessMay } from '@/usecases/people/signedIn'
import { homeOf } from '../homeOf'
import { personHere } from '../who'

export const metadata: Metadata = { title: 'Not yours' }

export default async function NotYoursPage({ searchParams }: { searchParams: Promise<{ needs?: string | string[] }> }) {
  const needs = [(await searchParams).needs].flat()[0] ?? ''
  const person = await personHere()
  if (!person) redirect('/sign-in')
  const refusal = needs in permissions ? unlessMay(person, needs as Permission) : null
  if (!refusal) redirect(homeOf(person.role))
  return (
    <Doorway title="This screen is not yours">
      <p className="mt-2">{refusal.sentence}</p>
      <p className="mt-4">
        <a className="text-act underline decoration-hair underline-offset-4" href={homeOf(person.role)}>
          To where your work is
        </a>
      </p>
    </Doorway>
  )
}
