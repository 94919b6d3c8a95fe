import {
  actingAs,
  addAudit,
  addPerson,
  changePerson,
  countOwners,
  endSignIns,
  linkBy,
  personBy,
  takeLink,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { refusedPassword } from './account'
import { digest, hashPassword } from './secrets'
import { isAddress } from './people'
import { enter } from './signIn'
import { actorOf, type From, type Person } from './signedIn'

/** What a link is for: whose it is, or null when it makes the first owner; undefined when it is no good (any more). */
export async function showWelcome(
  { db, now }: Application,
  secret: string,
): Promise<{ readonly name: string; readonly email: string } | null | undefined> {
  const link = await linkBy(db, digest(secret), now().toISOString())
  if (!link) return undefined
  if (link.person === null) return (await countOwners(db)) === 0 ? null : undefined
  const person = await personBy(db, { id: link.person })
  return person?.endedAt === null ? { name: person.name, email: person.email } : undefined
}

/**
 * Uses a link: chooses the password (and the first owner gives name and address), and signs in. What there was before
 * ends.
 */
export async function useWelcome(
  gharry: Application,
  given: { readonly secret: string; readonly name: string; readonly email: string; readonly password: string },
  from: From,
): Promise<Answer<{ readonly cookie: string }>> {
  const { db, now } = gharry
  const whose = await showWelcome(gharry, given.secret)
  if (whose === undefined) return refuse('not-found', 'This link was used, or is too old. Ask the owner for a new one.')
  const { name, email } = whose ?? { name: given.name.trim(), email: given.email.trim().toLowerCase() }
  if (name === '' || !isAddress(email)) return refuse('bad-value', 'Give your name and your e-mail address.')
  const bad = await refusedPassword(given.password, [name, email])
  if (bad) return bad
  const [password, hash, at] = [await hashPassword(given.password), digest(given.secret), now().toISOString()]
  const person = await db.transaction(async (trx) => {
    const link = await linkBy(trx, hash, at)
    if (!link || !(await takeLink(trx, hash, at))) return undefined
    const id = link.person ?? (await addPerson(trx, { name, email, role: 'owner', location: null, madeAt: at }))
    if (id === undefined) return undefined
    // A link in hand is a new beginning: whoever lost their phone has no codes either.
    await changePerson(trx, id, { password, second: null, secondSince: null, recovery: '[]' })
    await endSignIns(trx, id)
    const made = (await personBy(trx, { id }))!
    await actingAs(actorOf(made as Person, from.address, ''), () =>
      addAudit(trx, { action: link.person === null ? 'first owner' : 'link used', about: `person ${id}` }, at),
    )
    return made
  })
  if (!person) return refuse('not-found', 'This link was used meanwhile. Ask the owner for a new one.')
  return { ok: true, cookie: await enter(gharry, person, 'link', from) }
}
