import * as oauth from 'oauth4webapi'
import { z } from 'zod'
import { failure, reach, type CallFailure, type CallResult, type Outside } from '../http'

/*
 * OAuth 2.0 as marketplaces use it: authorization code (RFC 6749) with PKCE (RFC 7636), the server described by its
 * metadata (RFC 8414). What is sent and checked is the library's; here are our own way out, and sentences.
 */

export interface OAuthClient {
  readonly issuer: string
  readonly clientId: string
  readonly clientSecret: string
  readonly scope: string
}
/** What has to be known when the person comes back. */
const pendingShape = z.object({ verifier: z.string(), state: z.string(), back: z.string() })

/** Tokens as they are kept, sealed. */
export const tokensShape = z.object({
  access: z.string(),
  /** When the access token is not taken any more. */
  accessUntil: z.iso.datetime(),
  refresh: z.string().nullable(),
})
export type Tokens = z.infer<typeof tokensShape>

class CallFailed extends Error {
  constructor(readonly failed: CallFailure) {
    super(failed.sentence)
  }
}

/** What the library needs to know of every call, and the way out that all of Gharry's calls take. */
const ways = (outside: Outside): { [oauth.allowInsecureRequests]: boolean; [oauth.customFetch]: typeof fetch } => ({
  // Plain http is for the stand-ins, where private addresses are allowed at all.
  [oauth.allowInsecureRequests]: outside.privateAddresses,
  [oauth.customFetch]: async (input, init) => {
    const reached = await reach(outside, input instanceof Request ? input.url : input.toString(), {
      method: init?.method ?? 'GET',
      headers: Object.fromEntries(new Headers(init?.headers).entries()),
      ...(init?.body === undefined || init.body === null ? {} : { body: String(init.body as URLSearchParams) }),
    })
    if (!reached.ok) throw new CallFailed(reached)
    if (reached.status >= 500) throw new CallFailed(failure('server error', `It failed with status ${reached.status}.`))
    return new Response(reached.text, {
      status: reached.status,
      headers: Object.fromEntries(reached.headers.entries()),
    })
  },
})

async function serverOf({ issuer }: OAuthClient, outside: Outside): Promise<oauth.AuthorizationServer> {
  const url = new URL(issuer)
  return oauth.processDiscoveryResponse(url, await oauth.discoveryRequest(url, ways(outside)))
}
const clientOf = ({ clientId }: OAuthClient): oauth.Client => ({ client_id: clientId })

const over = (sentence: string): CallFailure => ({ ...failure('not allowed', sentence), ended: true })

/** What went wrong, in a sentence. Who ends an authorisation answers that the grant is not valid. */
function failed(error: unknown): CallFailure {
  if (error instanceof CallFailed) return error.failed
  if (error instanceof oauth.AuthorizationResponseError)
    return failure(
      'refused',
      error.error === 'access_denied'
        ? 'It was not allowed there: nothing has changed. Ask again when it may be.'
        : `It was not authorised: ${error.error_description ?? error.error}.`,
    )
  if (error instanceof oauth.ResponseBodyError) {
    // RFC 6749, 5.2: that the grant is not valid is its end; whoever is not known may be known again.
    if (error.error === 'invalid_grant')
      return over('The authorisation has ended, or was withdrawn there: authorise it again.')
    return error.error === 'invalid_client'
      ? failure('not allowed', 'It does not know this application: enter its identifier and secret again.')
      : failure('not allowed', `It gives no tokens: ${error.error_description ?? error.error}.`)
  }
  if (error instanceof oauth.OperationProcessingError || error instanceof oauth.WWWAuthenticateChallengeError)
    return failure('garbled answer', 'What it answers is no answer of an authorisation: look at its address.')
  throw error
}
async function tried<T>(work: () => Promise<T>): Promise<CallResult<T>> {
  try {
    return { ok: true, body: await work() }
  } catch (error) {
    return failed(error)
  }
}

/** Where the person is sent, and what has to be kept until they are back. `back` is Gharry's own address for it. */
export const beginOAuth = (
  client: OAuthClient,
  back: string,
  outside: Outside,
): Promise<CallResult<{ url: string; state: string; pending: string }>> =>
  tried(async () => {
    const server = await serverOf(client, outside)
    const [verifier, state] = [oauth.generateRandomCodeVerifier(), oauth.generateRandomState()]
    if (!server.authorization_endpoint) throw new CallFailed(failure('garbled answer', 'It names no page to go to.'))
    const url = new URL(server.authorization_endpoint)
    url.search = new URLSearchParams({
      client_id: client.clientId,
      redirect_uri: back,
      response_type: 'code',
      scope: client.scope,
      state,
      code_challenge: await oauth.calculatePKCECodeChallenge(verifier),
      code_challenge_method: 'S256',
    }).toString()
    return { url: url.href, state, pending: JSON.stringify({ verifier, state, back }) }
  })

/** Tokens for the code that the person came back with. */
export const finishOAuth = (
  client: OAuthClient,
  pending: string,
  returned: URL,
  outside: Outside,
): Promise<CallResult<Tokens>> =>
  tried(async () => {
    const { verifier, state, back } = pendingShape.parse(JSON.parse(pending))
    const server = await serverOf(client, outside)
    const answer = oauth.validateAuthResponse(server, clientOf(client), returned, state)
    const response = await oauth.authorizationCodeGrantRequest(
      server,
      clientOf(client),
      oauth.ClientSecretBasic(client.clientSecret),
      answer,
      back,
      verifier,
      ways(outside),
    )
    return tokensOf(await oauth.processAuthorizationCodeResponse(server, clientOf(client), response), null)
  })

/** Who came back, as an OpenID provider says it (OpenID Connect Core 1.0, 5.1), with their groups. */
const identityShape = z.object({
  sub: z.string().min(1).max(255),
  email: z.string().max(250).optional(),
  email_verified: z.boolean().optional(),
  name: z.string().max(250).optional(),
  groups: z.array(z.string().max(250)).max(1000).optional(),
})
export type Identity = z.infer<typeof identityShape>

/** Who came back with a code: by the ID token, and what the provider says of them besides. */
export const finishIdentity = (
  client: OAuthClient,
  pending: string,
  returned: URL,
  outside: Outside,
): Promise<CallResult<Identity>> =>
  tried(async () => {
    const { verifier, state, back } = pendingShape.parse(JSON.parse(pending))
    const server = await serverOf(client, outside)
    const own = clientOf(client)
    const answer = oauth.validateAuthResponse(server, own, returned, state)
    const secret = oauth.ClientSecretBasic(client.clientSecret)
    const response = await oauth.authorizationCodeGrantRequest(
      server,
      own,
      secret,
      answer,
      back,
      verifier,
      ways(outside),
    )
    const given = await oauth.processAuthorizationCodeResponse(server, own, response, { requireIdToken: true })
    const { sub } = oauth.getValidatedIdTokenClaims(given)!
    const more = await oauth.userInfoRequest(server, own, given.access_token, ways(outside))
    const told = identityShape.safeParse(await oauth.processUserInfoResponse(server, own, sub, more))
    if (!told.success) throw new CallFailed(failure('garbled answer', 'What it says of this person cannot be read.'))
    return told.data
  })

/** Fresh tokens for the old ones; a failure says when the authorisation is over (`ended`). */
export const renewOAuth = (client: OAuthClient, { refresh }: Tokens, outside: Outside): Promise<CallResult<Tokens>> =>
  tried(async () => {
    if (refresh === null) throw new CallFailed(over('The authorisation has ended: authorise it again.'))
    const server = await serverOf(client, outside)
    const response = await oauth.refreshTokenGrantRequest(
      server,
      clientOf(client),
      oauth.ClientSecretBasic(client.clientSecret),
      refresh,
      ways(outside),
    )
    return tokensOf(await oauth.processRefreshTokenResponse(server, clientOf(client), response), refresh)
  })

/** A server that sends no new refresh token means the old one to be used on. */
const tokensOf = (answer: oauth.TokenEndpointResponse, before: string | null): Tokens => ({
  access: answer.access_token,
  accessUntil: new Date(Date.now() + (answer.expires_in ?? 300) * 1000).toISOString(),
  refresh: answer.refresh_token ?? before,
})
