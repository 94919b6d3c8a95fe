import { passwordFault, roles, type Role } from '@/core/people'
import {
  addAudit,
  changePerson,
  endSignIns,
  factorsOf,
  fromJson,
  passkeysOf,
  removePasskey,
  type SignInRow,
  signInsOf,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { hashPassword, isPassword, leakedPasswords } from './secrets'
import type { From, Person } from './signedIn'
import { countTry, tooManyTries } from './tries'

export interface AccountView {
  readonly name: string
  readonly email: string
  readonly role: Role
  readonly roleName: string
  readonly hasPassword: boolean
  readonly secondSince: string | null
  readonly recoveryLeft: number
  readonly passkeys: readonly {
    readonly id: number
    readonly name: string
    readonly madeAt: string
    readonly usedAt: string | null
  }[]
  readonly signIns: readonly (Omit<SignInRow, 'person' | 'whole'> & { readonly here: boolean })[]
}

/** The own account: what one signs in with, and where one is signed in. */
export async function showAccount({ db, now }: Application, person: Person): Promise<AccountView> {
  const factors = await factorsOf(db, person.id)
  return {
    ...{ name: person.name, email: person.email, role: person.role, roleName: roles[person.role].name },
    hasPassword: factors.password !== null,
    secondSince: factors.secondSince,
    recoveryLeft: fromJson<string[]>(factors.recovery).length,
    passkeys: (await passkeysOf(db, person.id)).map(({ id, name, madeAt, usedAt }) => ({ id, name, madeAt, usedAt })),
    signIns: (await signInsOf(db, person.id, now().toISOString())).map(({ person: _, whole: __, ...signIn }) => ({
      ...signIn,
      here: signIn.id === person.signIn,
    })),
  }
}

/** What is wrong with a password for somebody; null when it may be theirs. */
export async function refusedPassword(password: string, own: readonly string[]): Promise<Refused | null> {
  const fault = passwordFault(password, await leakedPasswords(), own)
  return fault === null ? null : { ...refuse('bad-password', fault), fields: { password: fault } }
}

/** Sets another password; all other sign-ins end. */
export async function changePassword(
  gharry: Application,
  person: Person,
  { before, password }: { readonly before: string; readonly password: string },
  from: From,
): Promise<Answer<{ readonly ended: number }>> {
  const { db, now } = gharry
  const many = await tooManyTries(gharry, person.email, from.address)
  if (many) return many
  if (!(await isPassword((await factorsOf(db, person.id)).password, before))) {
    await countTry(gharry, person.email, from.address)
    return {
      ...refuse('bad-value', 'This is not your password now.'),
      fields: { before: 'This is not your password now.' },
    }
  }
  const bad = await refusedPassword(password, [person.name, person.email])
  if (bad) return bad
  const hash = await hashPassword(password)
  return db.transaction(async (trx) => {
    await changePerson(trx, person.id, { password: hash })
    const ended = await endSignIns(trx, person.id, { but: person.signIn })
    await addAudit(trx, { action: 'password changed', about: `person ${person.id}` }, now().toISOString())
    return { ok: true, ended }
  })
}

/** Ends own sign-ins elsewhere: one, or all but the one that asks. */
export async function endElsewhere(
  { db, now }: Application,
  person: Person,
  which: number | 'others',
): Promise<Answer<{ readonly ended: number }>> {
  if (which === person.signIn) return refuse('bad-value', 'This is where you are: use “Sign out”.')
  const ended = await endSignIns(db, person.id, which === 'others' ? { but: person.signIn } : { only: which })
  if (ended > 0)
    await addAudit(
      db,
      { action: 'sign-ins ended', about: `person ${person.id}`, after: { ended } },
      now().toISOString(),
    )
  return { ok: true, ended }
}

/** Forgets one of the own passkeys, unless nothing would be left to sign in with. */
export async function forgetPasskey({ db, now }: Application, person: Person, id: number): Promise<Answer<object>> {
  const [keys, { password }] = await Promise.all([passkeysOf(db, person.id), factorsOf(db, person.id)])
  if (password === null && keys.length < 2)
    return refuse(
      'in-use',
      'You have no password, so this passkey is your only way in. Ask the owner for a new link first.',
    )
  if (!(await removePasskey(db, person.id, id))) return refuse('not-found', 'You have no such passkey (any more).')
  await addAudit(db, { action: 'passkey forgotten', about: `person ${person.id}` }, now().toISOString())
  return { ok: true }
}
