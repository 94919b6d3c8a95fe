import { z } from 'zod'

/** Why a call to the outside did not give an answer; `known` says whether the other side surely did nothing. */
export interface CallFailure {
  readonly ok: false
  readonly kind: 'unreachable' | 'time-out' | 'rate-limited' | 'server error' | 'garbled answer' | 'refused'
  readonly sentence: string
  /** Seconds that the other side asked to wait. */
  readonly retryAfter: number
}

export type CallResult<T> = { readonly ok: true; readonly body: T } | CallFailure

export interface Call {
  readonly method: 'GET' | 'POST'
  readonly url: string
  readonly headers: Readonly<Record<string, string>>
  readonly body?: unknown
  readonly timeoutMs?: number
  /** Most bytes of its answer, unpacked. */
  readonly mostBytes?: number
}

const usualBytes = 20_000_000
class TooMuch extends Error {}

/** Reads an answer in a stream; one that goes on beyond its limit, packed or not, is cut off there. */
async function textWithin(response: Response, most: number): Promise<string> {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of (response.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    size += chunk.length
    // Leaving the loop ends the stream, and with it the connection.
    if (size > most) throw new TooMuch()
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

const refusalBody = z.object({ message: z.string() })

/** One JSON call with a time-out. The answer must fit the schema; everything else becomes a failure with a sentence. */
export async function callJson<T>(call: Call, schema: z.ZodType<T>): Promise<CallResult<T>> {
  let response: Response
  let text: string
  try {
    response = await fetch(call.url, {
      method: call.method,
      headers: {
        accept: 'application/json',
        ...(call.body === undefined ? {} : { 'content-type': 'application/json' }),
        ...call.headers,
      },
      ...(call.body === undefined ? {} : { body: JSON.stringify(call.body) }),
      signal: AbortSignal.timeout(call.timeoutMs ?? 15_000),
      redirect: 'error',
    })
    text = await textWithin(response, call.mostBytes ?? usualBytes)
  } catch (error) {
    if (error instanceof TooMuch)
      return failure(
        'garbled answer',
        `Its answer is larger than ${Math.round((call.mostBytes ?? usualBytes) / 1e6)} MB, and was not read to its end.`,
      )
    const timeOut = (error as { name?: unknown }).name === 'TimeoutError'
    return failure(
      timeOut ? 'time-out' : 'unreachable',
      timeOut ? 'It did not answer in time.' : 'It cannot be reached.',
    )
  }
  if (response.status === 429)
    return failure('rate-limited', 'It asks for fewer calls.', Number(response.headers.get('retry-after')) || 1)
  if (response.status >= 500)
    return failure(
      'server error',
      `It failed with status ${response.status}.`,
      Number(response.headers.get('retry-after')) || 0,
    )
  const body = parseJson(text)
  if (!response.ok) {
    const refusal = refusalBody.safeParse(body)
    return failure(
      'refused',
      refusal.success ? refusal.data.message.slice(0, 300) : `It refused with status ${response.status}.`,
    )
  }
  const parsed = schema.safeParse(body)
  return parsed.success
    ? { ok: true, body: parsed.data }
    : failure('garbled answer', `Its answer cannot be used (${parsed.error.issues[0]?.path.join('.') || 'no JSON'}).`)
}

function failure(kind: CallFailure['kind'], sentence: string, retryAfter = 0): CallFailure {
  return { ok: false, kind, sentence, retryAfter: Math.min(3600, retryAfter) }
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
