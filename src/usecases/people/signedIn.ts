import { may, type Permission, type Role, roles, whoMay, permissions } from '@/core/people'
import { type Actor, addSignIn, noteSignIn, type PersonRow, signInBy } from '@/data'
import { refuse, type Application, type Refused } from '../shared/application'
import { digest, freshSecret } from './secrets'

/** Somebody who has signed in. */
export interface Person extends Omit<PersonRow, 'role'> {
  readonly role: Role
  /** The sign-in by which they are here. */
  readonly signIn: number
}
/** Where a request comes from, as far as it is known. */
export interface From {
  readonly address: string
  readonly agent: string
}

/** How a sign-in by badge is called. */
export const byBadge = 'badge'

const hours = 3_600_000
/** A sign-in ends after so long, whatever is done with it, and sooner when nothing is. */
const lasts = { whole: 7 * 24 * hours, idle: 12 * hours, half: 0.1 * hours, shift: 10 * hours } as const
const seenEvery = 60_000

/**
 * Begins a sign-in; gives what goes into the cookie. One that waits for the second factor is short, and may do nothing
 * else.
 */
export async function beginSignIn(
  { db, now }: Application,
  person: PersonRow,
  whole: boolean,
  how: string,
  { address, agent }: From,
): Promise<string> {
  const secret = freshSecret()
  const at = now()
  const whileWhole = person.role === 'packer' || how === byBadge ? lasts.shift : lasts.whole
  await addSignIn(db, {
    ...{ hash: digest(secret), person: person.id, whole, how, madeAt: at.toISOString() },
    endsAt: new Date(at.getTime() + (whole ? whileWhole : lasts.half)).toISOString(),
    ...{ address: address.slice(0, 60), agent: agent.slice(0, 200) },
  })
  return secret
}

/**
 * Who has signed in with what a cookie holds; null when nobody has. Role and end are read each time: what the owner
 * changes holds at the next request.
 */
export async function whoIs(
  { db, now }: Application,
  secret: string | undefined,
  whole = true,
): Promise<Person | null> {
  if (!secret || secret.length > 100) return null
  const at = now()
  const found = await signInBy(db, digest(secret), at.toISOString())
  if (found?.signIn.whole !== whole) return null
  const { signIn, person } = found
  const idle = at.getTime() - Date.parse(signIn.seenAt)
  if (idle > lasts.idle) return null
  if (idle > seenEvery) await noteSignIn(db, signIn.id, at.toISOString())
  // A badge is left lying about: it lets onto the floor alone, whoever's it is.
  const role = signIn.how === byBadge ? 'packer' : (person.role as Role)
  return { ...person, role, signIn: signIn.id }
}

/** The person as whoever acts, for logs and the audit. */
export const actorOf = (
  { id, name, role }: Pick<Person, 'id' | 'name' | 'role'>,
  address: string,
  request: string,
): Actor => ({
  ...{ id: `person:${id}`, name, role, address, request },
})

/** Refuses what somebody may not do, and says who may; null when they may. */
export function unlessMay({ role }: Pick<Person, 'role'>, permission: Permission): Refused | null {
  if (may(role, permission)) return null
  const many = roles[role].many
  return refuse(
    'not-allowed',
    `${many[0]!.toUpperCase()}${many.slice(1)} may not ${permissions[permission]}. Ask one of those who may: ${whoMay(permission)}.`,
  )
}
