import { randomInt } from 'node:crypto'
import bwipjs from 'bwip-js'
import { actingAs, addAudit, changePerson, factorsOf, personBy } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { digest, hashPassword, isPassword } from './secrets'
import { enter } from './signIn'
import { actorOf, byBadge, type From, type Person } from './signedIn'
import { countTry, forgetTries, tooManyTries } from './tries'

/*
 * A badge and a short code let onto the floor for a shift: what a packer can do with gloves on. What is on the badge is
 * a secret of 12 digits; the code keeps one that was found from being enough.
 */
const digits = (count: number): string => Array.from({ length: count }, () => randomInt(10)).join('')

/**
 * Makes a badge for somebody: its code to be printed and scanned, and the short code. Both are shown this once; a
 * former badge ends.
 */
export async function makeBadge(
  { db, now }: Application,
  id: number,
): Promise<Answer<{ readonly badge: string; readonly code: string; readonly picture: string }>> {
  const person = await personBy(db, { id })
  if (!person || person.endedAt !== null) return refuse('not-found', 'There is no such person (any more).')
  const [badge, code] = [`GB${digits(12)}`, digits(6)]
  const badgeCode = await hashPassword(code)
  await db.transaction(async (trx) => {
    await changePerson(trx, id, { badge: digest(badge), badgeCode })
    await addAudit(trx, { action: 'badge made', about: `person ${id}` }, now().toISOString())
  })
  const svg = bwipjs.toSVG({ bcid: 'code128', text: badge, includetext: true, height: 14, scale: 2 })
  return { ok: true, badge, code, picture: `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}` }
}

/** Ends the badge of somebody; it was lost. */
export async function endBadge({ db, now }: Application, id: number): Promise<Answer<object>> {
  const person = await personBy(db, { id })
  if (!person || (await factorsOf(db, id)).badge === null) return refuse('not-found', 'They have no badge (any more).')
  await db.transaction(async (trx) => {
    await changePerson(trx, id, { badge: null, badgeCode: null })
    await addAudit(trx, { action: 'badge ended', about: `person ${id}` }, now().toISOString())
  })
  return { ok: true }
}

/** Signs in with a badge and its short code: for a shift, and to work the floor alone. */
export async function signInByBadge(
  gharry: Application,
  given: { readonly badge: string; readonly code: string },
  from: From,
): Promise<Answer<{ readonly cookie: string }>> {
  const badge = digest(given.badge.trim().toUpperCase())
  const many = await tooManyTries(gharry, badge, from.address)
  if (many) return many
  const person = await personBy(gharry.db, { badge })
  const kept = person?.endedAt === null ? (await factorsOf(gharry.db, person.id)).badgeCode : null
  if (!(await isPassword(kept, given.code.trim())) || !person) {
    await countTry(gharry, badge, from.address)
    if (person)
      await actingAs(actorOf(person as Person, from.address, ''), () =>
        addAudit(
          gharry.db,
          { action: 'sign-in refused', about: `person ${person.id}`, after: { how: byBadge } },
          gharry.now().toISOString(),
        ),
      )
    return refuse('wrong-sign-in', 'Badge and code do not fit. Scan the badge again; the owner makes a new one.')
  }
  await forgetTries(gharry, badge, from.address)
  return { ok: true, cookie: await enter(gharry, person, byBadge, from) }
}
