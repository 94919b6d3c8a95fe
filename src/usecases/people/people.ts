import { type Role, roleIds, roles } from '@/core/people'
import {
  addAudit,
  addLink,
  addPerson,
  changePerson,
  countOwners,
  endSignIns,
  listPeople,
  personBy,
  type PersonRow,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { forgetSecond } from './secondFactor'
import { digest, freshSecret } from './secrets'
import type { Person } from './signedIn'

export interface PersonView extends Omit<PersonRow, 'role'> {
  readonly role: Role
  readonly seenAt: string | null
  /** How they sign in, in words; empty while their link was not used. */
  readonly factors: readonly string[]
}

/** Everybody who may sign in or could, with the roles to choose from. */
export async function showPeople({ db }: Application): Promise<{
  readonly people: readonly PersonView[]
  readonly roles: readonly { readonly id: Role; readonly name: string; readonly about: string }[]
  readonly locations: readonly { readonly id: string; readonly name: string }[]
}> {
  const [people, { world }] = await Promise.all([listPeople(db), currentWorld(db)])
  return {
    people: people.map(({ hasPassword, hasSecond, hasBadge, hasSubject, passkeys, ...person }) => ({
      ...person,
      role: person.role as Role,
      factors: [
        ...(hasPassword ? ['Password'] : []),
        ...(hasSecond ? ['code'] : []),
        ...(hasBadge ? ['badge'] : []),
        ...(hasSubject ? ['provider'] : []),
        ...(passkeys > 0 ? [passkeys === 1 ? 'passkey' : `${passkeys} passkeys`] : []),
      ],
    })),
    roles: roleIds.map((id) => ({ id, name: roles[id].name, about: roles[id].about })),
    locations: world.locations.map(({ id, name }) => ({ id, name })),
  }
}

export interface PersonGiven {
  readonly name: string
  readonly email: string
  readonly role: Role
  /** The location of a partner. */
  readonly location: string | null
}

/** Whether somebody can sign in with this as their e-mail address. */
export const isAddress = (email: string): boolean => /^[^\s@]{1,64}@[^\s@]{1,180}$/.test(email)

/** A link is good for so long. */
const linkHours = 72

/** Adds somebody; gives the link by which they choose what they sign in with. It is shown this once. */
export async function invite(
  gharry: Application,
  given: PersonGiven,
): Promise<Answer<{ readonly id: number; readonly link: string }>> {
  const wrong = await whatIsWrong(gharry, given)
  if (wrong) return wrong
  const at = gharry.now().toISOString()
  const person = { ...plain(given), madeAt: at }
  const id = await gharry.db.transaction(async (trx) => {
    const added = await addPerson(trx, person)
    if (added !== undefined)
      await addAudit(trx, { action: 'person added', about: `person ${added}`, after: shown(person) }, at)
    return added
  })
  if (id === undefined)
    return {
      ...refuse('taken', 'Somebody has this address already.'),
      fields: { email: 'Somebody has this address already.' },
    }
  return { ok: true, id, link: await linkFor(gharry, id) }
}

/** A new link for somebody: they choose anew what they sign in with, and all they had before ends when they do. */
export async function newLink(gharry: Application, id: number): Promise<Answer<{ readonly link: string }>> {
  const person = await personBy(gharry.db, { id })
  if (!person || person.endedAt !== null) return refuse('not-found', 'There is no such person (any more).')
  const link = await linkFor(gharry, id)
  await addAudit(gharry.db, { action: 'link made', about: `person ${id}` }, gharry.now().toISOString())
  return { ok: true, link }
}

/** A link that can be used once; without a person it makes the first owner. */
export async function linkFor(gharry: Application, person: number | null): Promise<string> {
  const secret = freshSecret()
  const endsAt = new Date(gharry.now().getTime() + linkHours * 3_600_000).toISOString()
  await addLink(gharry.db, { hash: digest(secret), person, endsAt })
  return `${gharry.settings.publicUrl}/welcome/${secret}`
}

export type PersonChange =
  | { readonly id: number; readonly role: Role; readonly location: string | null; readonly name: string }
  | { readonly id: number; readonly ended: boolean }
  | { readonly id: number; readonly second: null }

/**
 * Changes role, location or name of somebody, ends them or takes them back, or takes their second factor off. It holds
 * at their next request.
 */
export async function changePersonBy(gharry: Application, by: Person, change: PersonChange): Promise<Answer<object>> {
  const { db, now } = gharry
  const person = await personBy(db, { id: change.id })
  if (!person) return refuse('not-found', 'There is no such person (any more).')
  if (by.id === person.id && ('ended' in change || ('role' in change && change.role !== person.role)))
    return refuse('last-owner', 'Nobody changes their own role or ends themselves: ask another owner.')
  if ('second' in change) {
    await forgetSecond(gharry, person.id)
    return { ok: true }
  }
  if ('role' in change) {
    const wrong = await whatIsWrong(gharry, { ...change, email: person.email })
    if (wrong) return wrong
  }
  const at = now().toISOString()
  const next: PersonRow =
    'ended' in change
      ? { ...person, endedAt: change.ended ? at : null }
      : { ...person, ...plain({ ...change, email: person.email }) }
  return db.transaction(async (trx) => {
    const { name, role, location, endedAt } = next
    const leaves = person.role === 'owner' && person.endedAt === null && (role !== 'owner' || endedAt !== null)
    if (leaves && (await countOwners(trx)) === 1)
      return refuse('last-owner', 'Gharry needs an owner: make somebody else one first.')
    await changePerson(trx, person.id, { name, role, location, endedAt })
    if (endedAt !== null) await endSignIns(trx, person.id)
    await addAudit(
      trx,
      { action: 'person changed', about: `person ${person.id}`, before: shown(person), after: shown(next) },
      at,
    )
    return { ok: true }
  })
}

/** Ends all sign-ins of somebody. */
export async function endAllOf({ db, now }: Application, id: number): Promise<Answer<{ readonly ended: number }>> {
  const ended = await endSignIns(db, id)
  await addAudit(db, { action: 'sign-ins ended', about: `person ${id}`, after: { ended } }, now().toISOString())
  return { ok: true, ended }
}

const plain = ({ name, email, role, location }: PersonGiven): PersonGiven => ({
  name: name.trim(),
  email: email.trim().toLowerCase(),
  role,
  location: role === 'partner' ? location : null,
})
const shown = ({
  name,
  role,
  location,
  endedAt,
}: Pick<PersonRow, 'name' | 'role' | 'location'> & { endedAt?: string | null }): object => ({
  name,
  role,
  ...(location === null ? {} : { location }),
  ...(endedAt ? { endedAt } : {}),
})

async function whatIsWrong({ db }: Application, given: PersonGiven): Promise<Refused | null> {
  const { name, email, role, location } = plain(given)
  const fields: Record<string, string> = {}
  if (name === '' || name.length > 80) fields.name = 'Give a name of at most 80 characters.'
  if (!isAddress(email)) fields.email = 'Give an e-mail address: it is what they sign in with.'
  if (role === 'partner' && !(await currentWorld(db)).world.locations.some(({ id }) => id === location))
    fields.location = 'Choose the location whose orders they see.'
  const [first] = Object.values(fields)
  return first === undefined ? null : { ...refuse('bad-value', first), fields }
}
