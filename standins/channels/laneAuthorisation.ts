import { generateKeyPairSync } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import type { FastifyInstance } from 'fastify'
import { Provider, type Adapter, type AdapterPayload, type Configuration } from 'oidc-provider'
import { z } from 'zod'
import type { Books } from '../books'
import { card, escapeHtml, page } from '../html'

/** What the seller has allowed, and until when. */
export interface Authorisation {
  /** The grant of the authorisation server that it is. */
  grant: string
  country: string
  until: string
  withdrawn: boolean
}

export interface LaneApplication {
  readonly clientId: string
  readonly clientSecret: string
  /** Where people are sent back to. */
  readonly back: string
  readonly name: string
}

const countries: Readonly<Record<string, string>> = {
  BE: 'Belgium',
  NL: 'Netherlands',
  DE: 'Germany',
  FR: 'France',
  GB: 'United Kingdom',
}
const durations = [30, 90, 365]
const day = 86_400_000
/** An access token lives this long; switched by tests. */
const usualSeconds = 300

/** The authorisation server's memory, in the marketplace's own books. */
class BooksAdapter implements Adapter {
  constructor(
    private readonly kind: string,
    private readonly books: Books,
  ) {}
  private stored(id: string): AdapterPayload | undefined {
    const stored = this.books.get<{ payload: AdapterPayload; until: number | null; gone?: boolean }>(this.kind, id)
    if (!stored || stored.gone || (stored.until !== null && stored.until < Date.now())) return undefined
    const revoked = stored.payload.grantId && this.books.get('revoked', stored.payload.grantId)
    return revoked ? undefined : stored.payload
  }
  upsert(id: string, payload: AdapterPayload, expiresIn?: number): Promise<void> {
    this.books.put(this.kind, id, { payload, until: expiresIn ? Date.now() + expiresIn * 1000 : null })
    return Promise.resolve()
  }
  find(id: string): Promise<AdapterPayload | undefined> {
    return Promise.resolve(this.stored(id))
  }
  findByUid(uid: string): Promise<AdapterPayload | undefined> {
    const found = this.books
      .newest<unknown>(this.kind, 1000)
      .map(({ id }) => this.stored(id))
      .find((payload) => payload?.uid === uid)
    return Promise.resolve(found)
  }
  findByUserCode(): Promise<undefined> {
    return Promise.resolve(undefined)
  }
  async consume(id: string): Promise<void> {
    const payload = this.stored(id)
    if (payload) await this.upsert(id, { ...payload, consumed: Math.floor(Date.now() / 1000) })
  }
  destroy(id: string): Promise<void> {
    const stored = this.books.get<object>(this.kind, id)
    if (stored) this.books.put(this.kind, id, { ...stored, gone: true })
    return Promise.resolve()
  }
  revokeByGrantId(grantId: string): Promise<void> {
    this.books.put('revoked', grantId, {})
    return Promise.resolve()
  }
}

export interface LaneAuthorisation {
  readonly handle: (request: IncomingMessage, response: ServerResponse) => void
  /** The authorisation that a token belongs to; undefined when the token is not (any more) worth anything. */
  readonly of: (token: string) => Promise<Authorisation | undefined>
  readonly all: () => Authorisation[]
  readonly change: (grant: string, change: Partial<Authorisation>) => void
  /** How long access tokens live from now on. */
  readonly accessSeconds: (seconds: number) => void
}

/** OAuth 2.0 with authorization code and PKCE, at `/authorise`; the page of consent is the marketplace's own. */
export function laneAuthorisation(
  app: FastifyInstance,
  books: Books,
  { address, name, application }: { address: string; name: string; application: LaneApplication },
): LaneAuthorisation {
  let accessSeconds = usualSeconds
  const authorisation = (grant: string | undefined): Authorisation | undefined =>
    grant ? books.get<Authorisation>('authorisation', grant) : undefined
  const secondsLeft = (grant: string | undefined): number => {
    const found = authorisation(grant)
    return found ? Math.max(1, Math.ceil((Date.parse(found.until) - Date.now()) / 1000)) : 86_400
  }
  const provider = new Provider(
    `${address}/authorise`,
    configurationOf(application, books, () => accessSeconds, secondsLeft),
  )
  const answer = provider.callback()
  withConsent(app, books, provider, name, application)
  return {
    handle: (request, response) => {
      // The server is told where it is mounted.
      Object.assign(request, { originalUrl: request.url })
      request.url = (request.url ?? '').replace(/^\/authorise/, '') || '/'
      void answer(request, response)
    },
    of: async (token) => {
      const found = authorisation((await provider.AccessToken.find(token))?.grantId)
      return found && holds(found) ? found : undefined
    },
    all: () => books.newest<Authorisation>('authorisation', 100).map(({ document }) => document),
    change: (grant, change) => {
      const changed = { ...authorisation(grant)!, ...change }
      books.put('authorisation', grant, changed)
      if (!holds(changed)) books.put('revoked', grant, {})
    },
    accessSeconds: (seconds) => void (accessSeconds = seconds),
  }
}

const holds = ({ withdrawn, until }: Authorisation): boolean => !withdrawn && Date.parse(until) > Date.now()

/** One application, whose tokens live as long as what the seller has allowed. */
function configurationOf(
  application: LaneApplication,
  books: Books,
  accessSeconds: () => number,
  secondsLeft: (grant: string | undefined) => number,
): Configuration {
  const { privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' })
  return {
    adapter: (kind) => new BooksAdapter(kind, books),
    clients: [
      {
        client_id: application.clientId,
        client_secret: application.clientSecret,
        client_name: application.name,
        redirect_uris: [application.back],
        grant_types: ['authorization_code', 'refresh_token'],
        response_types: ['code'],
        id_token_signed_response_alg: 'ES256',
      },
    ],
    scopes: ['orders', 'despatch'],
    pkce: { required: () => true },
    features: { devInteractions: { enabled: false }, revocation: { enabled: true } },
    interactions: { url: (_ctx, interaction) => `/consent/${interaction.uid}` },
    findAccount: (_ctx, id) => ({ accountId: id, claims: () => ({ sub: id }) }),
    issueRefreshToken: () => true,
    rotateRefreshToken: true,
    cookies: { keys: [application.clientSecret] },
    jwks: { keys: [{ ...privateKey.export({ format: 'jwk' }), alg: 'ES256', use: 'sig', kid: 'lane' }] },
    ttl: {
      AccessToken: accessSeconds,
      AuthorizationCode: 60,
      Interaction: 3600,
      Session: 3600,
      Grant: 366 * 86_400,
      RefreshToken: (_ctx, token) => secondsLeft(token.grantId),
    },
  }
}

const consent = z.object({
  answer: z.enum(['allow', 'deny']),
  country: z.string().default('BE'),
  days: z.coerce.number().int().positive().default(90),
})

/** The page on which the seller allows access, for a country and so many days. */
function withConsent(
  app: FastifyInstance,
  books: Books,
  provider: Provider,
  name: string,
  application: LaneApplication,
): void {
  app.get('/consent/:uid', async (request, reply) => {
    const { params } = await provider.interactionDetails(request.raw, reply.raw)
    return reply.type('text/html').send(page(name, consentPage(String(params.client_id), application.name)))
  })
  app.post('/consent/:uid', async (request, reply) => {
    const details = await provider.interactionDetails(request.raw, reply.raw)
    const form = consent.parse(request.body)
    reply.hijack()
    if (form.answer === 'deny')
      return provider.interactionFinished(request.raw, reply.raw, {
        error: 'access_denied',
        error_description: 'The seller did not agree.',
      })
    const accountId = 'mossgill'
    const grant = new provider.Grant({ accountId, clientId: String(details.params.client_id) })
    grant.addOIDCScope(String(details.params.scope))
    const grantId = await grant.save()
    const given: Authorisation = {
      grant: grantId,
      country: form.country,
      until: new Date(Date.now() + form.days * day).toISOString(),
      withdrawn: false,
    }
    books.put('authorisation', grantId, given)
    return provider.interactionFinished(request.raw, reply.raw, { login: { accountId }, consent: { grantId } })
  })
}

function consentPage(client: string, application: string): string {
  const options = Object.entries(countries).map(([code, named]) => `<option value="${code}">${named}</option>`)
  const days = durations.map((n) => `<option value="${n}"${n === 90 ? ' selected' : ''}>${n} days</option>`)
  return card(
    `${escapeHtml(application)} asks for access to your shop`,
    `<p>If you allow it, ${escapeHtml(application)} (<code>${escapeHtml(client)}</code>) can</p><ul><li>see your orders, with names and addresses of buyers</li><li>tell us what you have despatched</li></ul><p>It cannot see what you earn, and cannot write to buyers.</p>
<form method="post"><div class="row"><label>Country of the shop <select name="country">${options.join('')}</select></label><label>For how long <select name="days">${days.join('')}</select></label></div>
<button name="answer" value="allow">Allow</button> <button name="answer" value="deny" style="background:#6b7a77">Do not allow</button></form>`,
  )
}
