import type { AnswerOf, BodyOf, Endpoint, Endpoints, FileEndpoint, PathOf, QueryOf } from '@/usecases/endpoints'
import { saySignedOut } from './signedOutNews'

/** What the server says when something cannot be done: shown as it is. */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    sentence: string,
    /** Nothing is wrong with what was asked: the same may be done in a while. */
    readonly passing = false,
    /** What is wrong, field by field. */
    readonly fields: Readonly<Record<string, string>> = {},
  ) {
    super(sentence)
  }
}

type Query<E extends Endpoint> = QueryOf<E> | URLSearchParams

/** What goes along with a call: the parts of its path, its query and its body, as the table of endpoints says. */
export type Given<E extends Endpoint> = (keyof PathOf<E> extends never ? unknown : { readonly path: PathOf<E> }) &
  (Endpoints[E] extends { body: unknown } ? { readonly body: BodyOf<E> } : unknown) &
  (Endpoints[E] extends { query: unknown } ? { readonly query?: Query<E> } : unknown)

type Arguments<E extends Endpoint> = object extends Given<E> ? [given?: Given<E>] : [given: Given<E>]

interface Parts {
  readonly path?: Readonly<Record<string, string>>
  readonly query?: object | URLSearchParams
  readonly body?: unknown
}

/**
 * Calls one of Gharry's own endpoints; a refusal is thrown with its sentence.
 * @example call('POST /api/rules/pinned/:id', { path: { id: '7' }, body: { note: 'as agreed' } })
 */
export function call<E extends Endpoint>(endpoint: E, ...[given]: Arguments<E>): Promise<AnswerOf<E>> {
  const { method, address } = addressOf(endpoint, given ?? {})
  const { body } = (given ?? {}) as Parts
  return ask(
    address,
    method === 'GET'
      ? undefined
      : { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
  )
}

/** Sends a file as the bare body. */
export function sendFile<E extends FileEndpoint>(
  endpoint: E,
  given: { readonly file: Blob } & (Endpoints[E] extends { query: unknown } ? { readonly query: Query<E> } : unknown),
): Promise<AnswerOf<E>> {
  const { method, address } = addressOf(endpoint, given as Parts)
  return ask(address, { method, body: given.file })
}

function addressOf(endpoint: string, { path = {}, query = {} }: Parts): { method: string; address: string } {
  const [method = 'GET', pattern = ''] = endpoint.split(' ')
  const filled = pattern.replace(/:([a-z]+)/g, (_, name: string) => encodeURIComponent(path[name] ?? ''))
  const search = query instanceof URLSearchParams ? query : searchOf(query)
  return { method, address: search.size > 0 ? `${filled}?${search.toString()}` : filled }
}

function searchOf(query: object): URLSearchParams {
  const search = new URLSearchParams()
  for (const [name, value] of Object.entries(query) as [string, string | number | null | undefined][])
    if (value !== undefined && value !== null) search.set(name, String(value))
  return search
}

/** What was read last at an address, with its mark: what has not changed is not sent again. */
const known = new Map<string, { readonly etag: string; readonly body: unknown }>()
const maxKnown = 100

function keep(address: string, etag: string | null, body: unknown): void {
  known.delete(address)
  if (etag !== null) known.set(address, { etag, body })
  const [oldest] = known.keys()
  if (known.size > maxKnown && oldest !== undefined) known.delete(oldest)
}

async function ask<T>(address: string, init?: RequestInit): Promise<T> {
  const before = init ? undefined : known.get(address)
  let response: Response
  try {
    response = await fetch(address, before ? { headers: { 'if-none-match': before.etag } } : init)
  } catch {
    throw new Refusal('unreachable', `Gharry cannot be reached.${unsaved(init)}`, true)
  }
  if (response.status === 304 && before) return before.body as T
  const body: unknown = await response.json().catch(() => null)
  // It is written down, and waits for somebody else: not done, and nothing to try again.
  if (response.status === 202) {
    const { code, sentence } = body as { code: string; sentence: string }
    throw new Refusal(code, sentence)
  }
  if (!response.ok) {
    const { code, sentence, fields } = (body ?? {}) as {
      code?: string
      sentence?: string
      fields?: Record<string, string>
    }
    if (code === 'signed-out' && !address.startsWith('/api/people/')) saySignedOut()
    throw new Refusal(
      code ?? 'error',
      sentence ?? `The server answered ${response.status}.${unsaved(init)}`,
      response.status >= 500 || response.status === 429,
      fields,
    )
  }
  if (!init) keep(address, response.headers.get('etag'), body)
  return body as T
}

const unsaved = (init: RequestInit | undefined): string => (init ? ' What you did is not saved yet; try again.' : '')

export const sentenceOf = (error: unknown): string => (error instanceof Error ? error.message : 'Something went wrong.')
