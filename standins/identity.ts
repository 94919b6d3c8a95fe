import { generateKeyPairSync } from 'node:crypto'
import { createServer } from 'node:http'
import type { FastifyInstance } from 'fastify'
import { Provider, type Configuration } from 'oidc-provider'
import { card, escapeHtml, page } from './html'
import { makeServer } from './server'

/** Somebody whom the provider knows. */
export interface Known {
  readonly sub: string
  readonly name: string
  readonly email: string
  readonly verified: boolean
  readonly groups: readonly string[]
}
export interface IdentitySettings {
  readonly address: string
  readonly name: string
  readonly client: { readonly id: string; readonly secret: string; readonly back: string }
  readonly people: readonly Known[]
}

/**
 * An OpenID provider of a house: its page asks who one is, and believes it. What it knows of people can be changed at
 * `/admin/people`.
 */
export function identityStandIn(settings: IdentitySettings): { app: FastifyInstance } {
  const known = new Map(settings.people.map((person) => [person.sub, person]))
  const provider = new Provider(`${settings.address}/provider`, configurationOf(settings, known))
  const answer = provider.callback()
  const app = makeServer((handler) =>
    createServer((request, response) => {
      if (!request.url?.startsWith('/provider')) return handler(request, response)
      // The provider is told where it is mounted.
      Object.assign(request, { originalUrl: request.url })
      request.url = request.url.replace(/^\/provider/, '') || '/'
      void answer(request, response)
    }),
  )
  app.get('/', (_request, reply) =>
    reply.type('text/html').send(page(settings.name, card(settings.name, '<p>People of the house sign in here.</p>'))),
  )
  withWho(app, provider, settings.name, known)
  app.post('/admin/people', (request) => {
    const person = request.body as Known
    known.set(person.sub, person)
    return { ok: true }
  })
  return { app }
}

/** One application, and what it may know of people. */
function configurationOf({ client }: IdentitySettings, known: ReadonlyMap<string, Known>): Configuration {
  const { privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' })
  return {
    clients: [
      {
        client_id: client.id,
        client_secret: client.secret,
        redirect_uris: [client.back],
        grant_types: ['authorization_code'],
        response_types: ['code'],
        id_token_signed_response_alg: 'ES256',
      },
    ],
    scopes: ['openid', 'email', 'profile', 'groups'],
    claims: { openid: ['sub'], email: ['email', 'email_verified'], profile: ['name'], groups: ['groups'] },
    pkce: { required: () => true },
    features: { devInteractions: { enabled: false } },
    interactions: { url: (_ctx, interaction) => `/who/${interaction.uid}` },
    findAccount: (_ctx, sub) => {
      const person = known.get(sub)
      return (
        person && {
          accountId: sub,
          claims: () => ({
            ...{ sub, name: person.name, email: person.email, email_verified: person.verified },
            groups: [...person.groups],
          }),
        }
      )
    },
    cookies: { keys: [client.secret] },
    jwks: { keys: [{ ...privateKey.export({ format: 'jwk' }), alg: 'ES256', use: 'sig', kid: 'house' }] },
    ttl: { AccessToken: 300, AuthorizationCode: 60, Interaction: 3600, Session: 60, Grant: 3600, IdToken: 300 },
  }
}

/** The page that asks who one is. */
function withWho(app: FastifyInstance, provider: Provider, name: string, known: ReadonlyMap<string, Known>): void {
  app.get('/who/:uid', (_request, reply) => {
    const buttons = [...known.values()].map(
      (person) =>
        `<p><button name="sub" value="${escapeHtml(person.sub)}">${escapeHtml(person.name)}</button> ${escapeHtml(person.groups.join(', '))}</p>`,
    )
    return reply
      .type('text/html')
      .send(
        page(
          name,
          card(
            'Who are you?',
            `<form method="post">${buttons.join('')}<button name="sub" value="">Nobody</button></form>`,
          ),
        ),
      )
  })
  app.post('/who/:uid', async (request, reply) => {
    const details = await provider.interactionDetails(request.raw, reply.raw)
    const { sub } = request.body as { sub: string }
    reply.hijack()
    if (!known.has(sub))
      return provider.interactionFinished(request.raw, reply.raw, {
        error: 'access_denied',
        error_description: 'Nobody.',
      })
    const grant = new provider.Grant({ accountId: sub, clientId: String(details.params.client_id) })
    grant.addOIDCScope(String(details.params.scope))
    const grantId = await grant.save()
    return provider.interactionFinished(request.raw, reply.raw, { login: { accountId: sub }, consent: { grantId } })
  })
}
