import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server'
import {
  addAudit,
  addPasskey,
  fromJson,
  keepChallenge,
  notePasskey,
  passkeyBy,
  passkeysOf,
  personBy,
  takeChallenge,
  toJson,
} from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { freshSecret } from './secrets'
import { enter } from './signIn'
import type { From, Person } from './signedIn'

const goodForMs = 5 * 60_000

/** Keeps a challenge for some minutes under what only the asking browser gets back with its answer. */
async function giveOut({ db, now }: Application, challenge: string): Promise<string> {
  const key = freshSecret()
  await keepChallenge(db, key, challenge, goodForMs, now())
  return key
}

/** The site that passkeys are for: by the address under which Gharry was reached, one of its own names. */
export interface Site {
  readonly origin: string
}
const nameOf = ({ origin }: Site): string => new URL(origin).hostname

const tooOld = 'That took too long. Try again.'

/** What the browser needs to make a passkey for whoever is signed in. */
export async function beginPasskey(
  gharry: Application,
  person: Person,
  site: Site,
): Promise<Answer<{ readonly key: string; readonly options: PublicKeyCredentialCreationOptionsJSON }>> {
  const had = await passkeysOf(gharry.db, person.id)
  const options = await generateRegistrationOptions({
    ...{ rpName: 'Gharry', rpID: nameOf(site), userName: person.email, userDisplayName: person.name },
    userID: new TextEncoder().encode(`person:${person.id}`),
    attestationType: 'none',
    excludeCredentials: had.map(({ credential }) => ({ id: credential })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  })
  return { ok: true, key: await giveOut(gharry, options.challenge), options }
}

/** Keeps a passkey that the browser has made. */
export async function keepPasskey(
  { db, now }: Application,
  person: Person,
  given: { readonly key: string; readonly name: string; readonly response: RegistrationResponseJSON },
  site: Site,
): Promise<Answer<object>> {
  const at = now()
  const expectedChallenge = await takeChallenge(db, given.key, at)
  if (expectedChallenge === undefined) return refuse('not-known', tooOld)
  const made = await verifyRegistrationResponse({
    ...{ response: given.response, expectedChallenge },
    ...{ expectedOrigin: site.origin, expectedRPID: nameOf(site), requireUserVerification: true },
  }).catch(() => null)
  if (!made?.verified) return refuse('bad-value', 'This passkey cannot be used here. Try again.')
  const { credential } = made.registrationInfo
  const kept = await addPasskey(db, {
    ...{ person: person.id, credential: credential.id, publicKey: Buffer.from(credential.publicKey) },
    ...{ counter: credential.counter, transports: toJson(credential.transports ?? []) },
    ...{ name: given.name.trim().slice(0, 60) || 'Passkey', madeAt: at.toISOString() },
  })
  if (!kept) return refuse('taken', 'This passkey is known already.')
  await addAudit(db, { action: 'passkey added', about: `person ${person.id}` }, at.toISOString())
  return { ok: true }
}

/** What the browser needs to sign in with a passkey: it asks the person which one. */
export async function askForPasskey(
  gharry: Application,
  site: Site,
): Promise<Answer<{ readonly key: string; readonly options: PublicKeyCredentialRequestOptionsJSON }>> {
  const options = await generateAuthenticationOptions({ rpID: nameOf(site), userVerification: 'required' })
  return { ok: true, key: await giveOut(gharry, options.challenge), options }
}

/** Signs in with a passkey. It is two factors in one: what one has, and a finger or a code that its device asks for. */
export async function signInByPasskey(
  gharry: Application,
  given: { readonly key: string; readonly response: AuthenticationResponseJSON },
  site: Site,
  from: From,
): Promise<Answer<{ readonly cookie: string }>> {
  const at = gharry.now()
  const expectedChallenge = await takeChallenge(gharry.db, given.key, at)
  if (expectedChallenge === undefined) return refuse('signed-out', tooOld)
  const passkey = await passkeyBy(gharry.db, String(given.response.id))
  const person = passkey && (await personBy(gharry.db, { id: passkey.person }))
  const shown =
    passkey &&
    person?.endedAt === null &&
    (await verifyAuthenticationResponse({
      ...{ response: given.response, expectedChallenge },
      ...{ expectedOrigin: site.origin, expectedRPID: nameOf(site), requireUserVerification: true },
      credential: {
        id: passkey.credential,
        publicKey: new Uint8Array(passkey.publicKey),
        counter: passkey.counter,
        transports: fromJson<AuthenticatorTransport[]>(passkey.transports),
      },
    }).catch(() => null))
  // Nobody guesses a signature: wrong tries are not counted, so that nobody can shut others out by them.
  if (!passkey || !person || !shown || !shown.verified)
    return refuse('wrong-sign-in', 'This passkey is not known here. Sign in with your password.')
  await notePasskey(gharry.db, passkey.id, shown.authenticationInfo.newCounter, at.toISOString())
  return { ok: true, cookie: await enter(gharry, person, 'passkey', from) }
}
