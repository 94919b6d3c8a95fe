import { addAudit, endSignIns, factorsOf, personBy, type PersonRow, actingAs } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { isPassword } from './secrets'
import { isSecond } from './secondFactor'
import { actorOf, beginSignIn, type From, type Person, whoIs } from './signedIn'
import { countTry, forgetTries, tooManyTries } from './tries'

/** What comes of a step of signing in: `cookie` is for the browser alone. */
export type SignedIn = Answer<{ readonly next: 'second' | 'done'; readonly cookie: string }>

const wrong = 'The e-mail address or the password is not right.'

/** Signs in with an address and a password; who has a second factor is asked for it next. */
export async function signIn(
  gharry: Application,
  { email, password }: { readonly email: string; readonly password: string },
  from: From,
): Promise<SignedIn> {
  const account = email.trim().toLowerCase()
  const many = await tooManyTries(gharry, account, from.address)
  if (many) return many
  const person = await personBy(gharry.db, { email: account })
  const factors = person && (await factorsOf(gharry.db, person.id))
  const right = await isPassword(factors?.password ?? null, password)
  if (!person || person.endedAt !== null || !right) {
    await countTry(gharry, account, from.address)
    if (person) await note(gharry, person, from, 'sign-in refused', { how: 'password' })
    else gharry.log.warn('sign-in refused: nobody has this address')
    return refuse('wrong-sign-in', wrong)
  }
  if (factors?.secondSince)
    return { ok: true, next: 'second', cookie: await beginSignIn(gharry, person, false, 'password', from) }
  await forgetTries(gharry, account, from.address)
  return { ok: true, next: 'done', cookie: await enter(gharry, person, 'password', from) }
}

/**
 * The second step: a code of the second factor, or a recovery code. The sign-in gets another secret, as it may more
 * now.
 */
export async function giveSecond(
  gharry: Application,
  secret: string | undefined,
  code: string,
  from: From,
): Promise<SignedIn> {
  const half = await whoIs(gharry, secret, false)
  if (!half) return refuse('signed-out', 'That took too long. Begin again with your password.')
  const many = await tooManyTries(gharry, half.email, from.address)
  if (many) return many
  const how = await isSecond(gharry, half.id, code)
  if (!how) {
    await countTry(gharry, half.email, from.address)
    await note(gharry, half, from, 'sign-in refused', { how: 'second factor' })
    return refuse(
      'wrong-sign-in',
      'This code is not right. Codes change every 30 seconds; each recovery code works once.',
    )
  }
  await forgetTries(gharry, half.email, from.address)
  await endSignIns(gharry.db, half.id, { only: half.signIn })
  return { ok: true, next: 'done', cookie: await enter(gharry, half, `password and ${how}`, from) }
}

/** Ends the own sign-in. */
export async function signOut({ db, now }: Application, person: Person): Promise<Answer<object>> {
  await endSignIns(db, person.id, { only: person.signIn })
  await addAudit(db, { action: 'signed out', about: `person ${person.id}` }, now().toISOString())
  return { ok: true }
}

/** Lets somebody in whose factors were right; gives what goes into the cookie. */
export async function enter(gharry: Application, person: PersonRow, how: string, from: From): Promise<string> {
  const cookie = await beginSignIn(gharry, person, true, how, from)
  await note(gharry, person, from, 'signed in', { how })
  return cookie
}

const note = (gharry: Application, person: PersonRow, from: From, action: string, after: object): Promise<void> =>
  actingAs(actorOf(person as Person, from.address, ''), () =>
    addAudit(gharry.db, { action, about: `person ${person.id}`, after }, gharry.now().toISOString()),
  )
