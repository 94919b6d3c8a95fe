import { z } from 'zod'
import { beginOAuth, finishIdentity, type Identity, LostKey } from '@/adapters'
import { type Role, roleIds } from '@/core/people'
import { actingAs, addAudit, addPerson, changePerson, personBy, type PersonRow } from '@/data'
import { refuse, type Answer, type Application, type ProviderSettings, type Refused } from '../shared/application'
import { enter } from './signIn'
import { actorOf, type From, type Person } from './signedIn'

/** Where the provider sends people back to. */
export const providerCallback = '/api/people/provider/callback'

const sealedAs = 'on the way to the provider'
/** Whoever is sent there has so long to come back. */
const patienceMs = 10 * 60_000
const kept = z.object({ pending: z.string(), to: z.string(), at: z.number() })

const clientOf = ({ issuer, clientId, clientSecret }: ProviderSettings) => ({
  ...{ issuer, clientId, clientSecret },
  scope: 'openid email profile groups',
})

/** Where somebody is sent who signs in at the outside provider, and what their browser keeps meanwhile, sealed. */
export async function beginProvider(
  { settings, vault, outside, now }: Application,
  to: string,
): Promise<Answer<{ readonly url: string; readonly kept: string }>> {
  const { provider, publicUrl } = settings
  if (!provider) return refuse('not-known', 'There is no provider to sign in at.')
  const begun = await beginOAuth(clientOf(provider), `${publicUrl}${providerCallback}`, outside)
  if (!begun.ok) return refuse('not-reached', begun.sentence)
  const { url, pending } = begun.body
  return { ok: true, url, kept: vault.seal(JSON.stringify({ pending, to, at: now().getTime() }), sealedAs) }
}

/**
 * Somebody is back from the provider: who they are there says who they are here, and their groups say what they may,
 * each time anew. Who was never here is added. The provider asks for the second factor; here it is not asked for once
 * more.
 */
export async function finishProvider(
  gharry: Application,
  search: string,
  sealed: string | undefined,
  from: From,
): Promise<Answer<{ readonly cookie: string; readonly to: string }>> {
  const { settings, outside, now, log } = gharry
  const { provider, publicUrl } = settings
  const begun = opened(gharry, sealed)
  if (!provider || !begun || now().getTime() - begun.at > patienceMs)
    return refuse('signed-out', 'That took too long, or was begun in another browser.')
  const returned = new URL(`${publicUrl}${providerCallback}${search}`)
  const told = await finishIdentity(clientOf(provider), begun.pending, returned, outside)
  if (!told.ok) {
    log.warn({ kind: told.kind }, 'nobody let in by the provider')
    return refuse('wrong-sign-in', told.sentence)
  }
  const role = roleOf(provider, told.body)
  if (!role) return refuse('not-allowed', 'You are known there, but none of your groups may use Gharry.')
  const person = await personOf(gharry, `${provider.issuer} ${told.body.sub}`, told.body, role, from)
  return 'ok' in person ? person : { ok: true, cookie: await enter(gharry, person, provider.name, from), to: begun.to }
}

function opened({ vault }: Application, sealed: string | undefined): z.infer<typeof kept> | null {
  try {
    return sealed === undefined ? null : kept.parse(JSON.parse(vault.open(sealed, sealedAs)))
  } catch (error) {
    if (error instanceof LostKey || error instanceof z.ZodError || error instanceof SyntaxError) return null
    throw error
  }
}

/** The most powerful role that one of the groups gives. */
const roleOf = ({ roles }: ProviderSettings, { groups = [] }: Identity): Role | undefined =>
  roleIds.find((role) => groups.some((group) => roles.get(group) === role))

async function personOf(
  gharry: Application,
  subject: string,
  { email, email_verified: verified, name }: Identity,
  role: Role,
  from: From,
): Promise<PersonRow | Refused> {
  const at = gharry.now().toISOString()
  const address = email?.trim().toLowerCase() ?? ''
  return gharry.db.transaction(async (trx): Promise<PersonRow | Refused> => {
    const known =
      (await personBy(trx, { subject })) ??
      (verified && address !== '' ? await personBy(trx, { email: address }) : undefined)
    if (known && known.endedAt !== null) return refuse('not-allowed', 'You may not use Gharry any more. Ask the owner.')
    if (!known && address === '') return refuse('not-allowed', 'The provider says no e-mail address of yours.')
    const id =
      known?.id ?? (await addPerson(trx, { name: name ?? address, email: address, role, location: null, madeAt: at }))
    // Somebody has this address, and the provider does not say that it is theirs.
    if (id === undefined) return refuse('not-allowed', 'Your address is not confirmed there. Ask the owner.')
    await changePerson(trx, id, { role, subject, location: null })
    const person = (await personBy(trx, { id }))!
    if (known?.role !== role)
      await actingAs(actorOf(person as Person, from.address, ''), () =>
        addAudit(
          trx,
          {
            ...{
              action: known ? 'person changed by the provider' : 'person added by the provider',
              about: `person ${id}`,
            },
            before: known && { role: known.role },
            after: { name: person.name, role },
          },
          at,
        ),
      )
    return person
  })
}
