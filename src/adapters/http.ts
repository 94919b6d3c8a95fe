import { lookup } from 'node:dns'
import { lookup as lookupAll } from 'node:dns/promises'
import { isIP } from 'node:net'
import ipaddr from 'ipaddr.js'
import { Agent, fetch, type Headers, type Response } from 'undici'
import { z } from 'zod'
import { noteInTrace, traced } from './traces'

/** Why a call to the outside did not give an answer; `known` says whether the other side surely did nothing. */
export interface CallFailure {
  readonly ok: false
  readonly kind:
    'unreachable' | 'time-out' | 'rate-limited' | 'server error' | 'garbled answer' | 'not allowed' | 'refused'
  readonly sentence: string
  /** Seconds that the other side asked to wait. */
  readonly retryAfter: number
  /** An authorisation is over: only a person can give it again. */
  readonly ended?: true
}

export type CallResult<T> = { readonly ok: true; readonly body: T } | CallFailure

/** How calls leave: how long they may take, and whether they may go to addresses of the house itself. */
export interface Outside {
  readonly timeoutMs: number
  readonly privateAddresses: boolean
  /** How long a connection that failed again and again is left alone at first. */
  readonly pauseMs: number
}

/** An address of a connection: http or https, without a name or password in it, and without its last slash. */
export const outsideAddress = z
  .url({ protocol: /^https?$/, message: 'Enter an address that begins with https://.' })
  .max(300)
  .refine((text) => !/^https?:\/\/[^/]*@/i.test(text), 'Leave name and password out of the address.')
  .transform((text) => (text.endsWith('/') ? text.slice(0, -1) : text))

/** Whether an address (IPv4 or IPv6) is one that anybody in the world may have: not of this machine or this house. */
export function isPublic(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  // IPv4 within IPv6 counts as what it is.
  return ipaddr.process(address).range() === 'unicast'
}
class Forbidden extends Error {}

/**
 * Connections to public addresses only. The address is checked where the name is looked up for the connection itself:
 * a name that points elsewhere a moment later is caught, too.
 */
const publicOnly = new Agent({
  connect: {
    lookup: (hostname, options, done) => {
      lookup(hostname, { ...options, all: true }, (error, addresses) => {
        if (error) return done(error, [])
        const allowed = addresses.filter(({ address }) => isPublic(address))
        if (allowed.length === 0) return done(new Forbidden(), [])
        if (options.all) done(null, allowed)
        else done(null, allowed[0]!.address, allowed[0]!.family)
      })
    },
  },
})
const anywhere = new Agent()

/**
 * The address behind a name, for calls that are not HTTP; null where none of them may be called. Throws when there is
 * none.
 */
export async function lookedUp(host: string, { privateAddresses }: Outside): Promise<string | null> {
  const found = await lookupAll(host, { all: true })
  return found.find(({ address }) => privateAddresses || isPublic(address))?.address ?? null
}

/**
 * The address behind the name of something in the house, for calls that are not HTTP; or why it is not called. `what`
 * is how it is named.
 */
export async function addressOf(host: string, what: string, outside: Outside): Promise<CallResult<string>> {
  try {
    const address = await lookedUp(host, outside)
    return address === null ? failure('not allowed', forbidden) : { ok: true, body: address }
  } catch {
    return failure('unreachable', `The ${what} ${host} is not known in this network.`)
  }
}

export interface Call {
  readonly method: 'GET' | 'POST' | 'PUT'
  readonly url: string
  readonly headers: Readonly<Record<string, string>>
  readonly body?: unknown
  /** Most bytes of its answer, unpacked. */
  readonly mostBytes?: number
  /** Looks at the heads of the answer, whatever it is. */
  readonly seen?: (headers: Headers) => void
}

const usualBytes = 20_000_000
class TooMuch extends Error {}

/** Reads an answer in a stream; one that goes on beyond its limit, packed or not, is cut off there. */
async function textWithin(response: Response, most: number): Promise<string> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of (response.body ?? []) as AsyncIterable<Uint8Array>) {
    size += chunk.length
    // Leaving the loop ends the stream, and with it the connection.
    if (size > most) throw new TooMuch()
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

const refusalBody = z.object({ message: z.string() })

interface Asking {
  readonly method: string
  readonly headers: Readonly<Record<string, string>>
  readonly body?: string | Uint8Array
}
type Reached = { readonly ok: true; readonly status: number; readonly headers: Headers; readonly text: string }

/** Makes one call with a time-out, and reads its answer as far as it may go. Whatever its status, it was reached. */
export const reach = (
  outside: Outside,
  url: string,
  asking: Asking,
  most = usualBytes,
): Promise<Reached | CallFailure> =>
  traced(
    `${asking.method} ${new URL(url).host}`,
    { 'http.request.method': asking.method, 'server.address': new URL(url).hostname },
    async () => {
      const answer = await reached(outside, url, asking, most)
      noteInTrace(answer.ok ? { 'http.response.status_code': answer.status } : { 'error.type': answer.kind })
      return answer
    },
    'CLIENT',
  )

async function reached(
  outside: Outside,
  url: string,
  { method, headers, body }: Asking,
  most: number,
): Promise<Reached | CallFailure> {
  const host = new URL(url).hostname.replace(/^\[|\]$/g, '')
  // A name is looked up, and checked, when the connection is made; a plain address is not.
  if (!outside.privateAddresses && isIP(host) && !isPublic(host)) return failure('not allowed', forbidden)
  try {
    const response = await fetch(url, {
      method,
      headers,
      ...(body === undefined ? {} : { body }),
      signal: AbortSignal.timeout(outside.timeoutMs),
      dispatcher: outside.privateAddresses ? anywhere : publicOnly,
      redirect: 'error',
    })
    return { ok: true, status: response.status, headers: response.headers, text: await textWithin(response, most) }
  } catch (error) {
    if (error instanceof TooMuch)
      return failure(
        'garbled answer',
        `Its answer is larger than ${Math.round(most / 1e6)} MB, and was not read to its end.`,
      )
    if (isForbidden(error)) return failure('not allowed', forbidden)
    const timeOut = (error as { name?: unknown }).name === 'TimeoutError'
    return failure(
      timeOut ? 'time-out' : 'unreachable',
      timeOut ? 'It did not answer in time.' : 'It cannot be reached.',
    )
  }
}

/** What its status says against an answer; undefined when nothing does. */
export function statusFailure({ status, headers, text }: Reached): CallFailure | undefined {
  const wait = Number(headers.get('retry-after')) || 0
  if (status === 429) return failure('rate-limited', 'It asks for fewer calls.', wait || 1)
  if (status >= 500) return failure('server error', `It failed with status ${status}.`, wait)
  if (status < 400) return undefined
  const refusal = refusalBody.safeParse(parseJson(text))
  const said = refusal.success ? refusal.data.message.slice(0, 300) : ''
  if (status === 401 || status === 403)
    return failure('not allowed', `It refuses the credentials${said ? `: ${said}` : '.'} Enter them again.`)
  return failure('refused', said || `It refused with status ${status}.`)
}

/** One JSON call with a time-out. The answer must fit the schema; everything else becomes a failure with a sentence. */
export async function callJson<T>(outside: Outside, call: Call, schema: z.ZodType<T>): Promise<CallResult<T>> {
  const { method, url, headers, body, mostBytes, seen } = call
  const reached = await reach(
    outside,
    url,
    {
      method,
      headers: {
        accept: 'application/json',
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    },
    mostBytes,
  )
  if (!reached.ok) return reached
  seen?.(reached.headers)
  const against = statusFailure(reached)
  if (against) return against
  const parsed = schema.safeParse(parseJson(reached.text))
  return parsed.success
    ? { ok: true, body: parsed.data }
    : failure('garbled answer', `Its answer cannot be used (${parsed.error.issues[0]?.path.join('.') || 'no JSON'}).`)
}

/** Sends a signed message. What takes it answers with any 2xx; `gone` says that nothing more is wanted there (410). */
export async function sendMessage(
  outside: Outside,
  url: string,
  body: string,
  headers: Readonly<Record<string, string>>,
): Promise<CallResult<null> & { readonly gone?: boolean }> {
  const reached = await reach(
    outside,
    url,
    { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body },
    100_000,
  )
  if (!reached.ok) return reached
  if (reached.status >= 200 && reached.status < 300) return { ok: true, body: null }
  const against = statusFailure(reached) ?? failure('refused', `It answered ${reached.status}: only 2xx means taken.`)
  return reached.status === 410 ? { ...against, gone: true } : against
}

/** Said of addresses that are not called. */
export const forbidden =
  'Its address is within this machine or house (loopback, private or link-local): Gharry does not call there.'
const isForbidden = (error: unknown): boolean =>
  error instanceof Forbidden || (error instanceof Error && error.cause !== undefined && isForbidden(error.cause))

/** A failure with its sentence; nobody waits longer than an hour. */
export function failure(kind: CallFailure['kind'], sentence: string, retryAfter = 0): CallFailure {
  return { ok: false, kind, sentence, retryAfter: Math.min(3600, retryAfter) }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}

/** Asks simulated outsides what can be connected to; they are near, or not there. */
export const askStandIns = <T>(outside: Outside, url: string, schema: z.ZodType<T>): Promise<CallResult<T>> =>
  callJson({ ...outside, timeoutMs: 800 }, { method: 'GET', url: `${url}/offers`, headers: {} }, schema)
