import type { Role } from '@/core/people'
import { addPerson, changePerson, type Database } from '@/data'
import { hashPassword } from '@/usecases/people/secrets'
import given from './staff.json'

/** One person a role, as they are printed when the demo starts. */
export const demoPeople = given.people as readonly {
  readonly role: Role
  readonly name: string
  readonly email: string
  readonly location?: string
}[]

/** What all of them sign in with. */
export const demoPassword = given.password

/** Adds them to an empty Gharry. */
export async function addDemoPeople(db: Database, madeAt: string): Promise<void> {
  const password = await hashPassword(demoPassword)
  for (const { role, name, email, location = null } of demoPeople) {
    const id = await addPerson(db, { role, name, email, location, madeAt })
    if (id !== undefined) await changePerson(db, id, { password })
  }
}
