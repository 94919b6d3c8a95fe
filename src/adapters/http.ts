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
}

const refusalBody = z.object({ message: z.string() })

/** One JSON call with a time-out. The answer must fit the schema; everything else becomes a failure with a sentence. */
export async function callJson<T>(call: Call, schema: z.ZodType<T>): Promise<CallResult<T>> {
  let response: Response
  let text: string
  try {
    response = await fetch(call.url, {
      method: call.method,
      headers: { accept: 'application/json', ...(call.body === undefined ? {} : { 'content-type': 'application/json' }), ...call.headers },
      ...(call.body === undefined ? {} : { body: JSON.stringify(call.body) }),
      signal: AbortSignal.timeout(call.timeoutMs ?? 15_000),
      redirect: 'error',
    })
    text = await response.text()
  } catch (error) {
    const timeOut = (error as { name?: unknown }).name === 'TimeoutError'
    return failure(timeOut ? 'time-out' : 'unreachable', timeOut ? 'It did not answer in time.' : 'It cannot be reached.')
  }
  if (response.status === 429) return failure('rate-limited', 'It asks for fewer calls.', Number(response.headers.get('retry-after')) || 1)
  if (response.status >= 500) return failure('server error', `It failed with status ${response.status}.`, Number(response.headers.get('retry-after')) || 0)
  const body = parseJson(text)
  if (!response.ok) {
    const refusal = refusalBody.safeParse(body)
    return failure('refused', refusal.success ? refusal.data.message.slice(0, 300) : `It refused with status ${response.status}.`)
  }
  const parsed = schema.safeParse(body)
  return parsed.success ? { ok: true, body: parsed.data } : failure('garbled answer', `Its answer makes no sense (${parsed.error.issues[0]?.path.join('.') || 'no JSON'}).`)
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
