import {
  circuitBreaker,
  ConsecutiveBreaker,
  ExponentialBackoff,
  handleWhenResult,
  isBrokenCircuitError,
} from 'cockatiel'
import type { CallFailure, CallResult, Outside } from '../http'

/** How a call went, for the health of its connection. */
export interface CallReport {
  readonly ms: number
  readonly failure: Pick<CallFailure, 'kind' | 'sentence'> | null
}
type Method = (...args: unknown[]) => Promise<CallResult<unknown>>

/** So many calls in a row must fail before Gharry stops asking for a while. */
const failuresInARow = 5
const longestPause = 60

/** A refusal is an answer, and who asks for fewer calls is well: both say by themselves when to come again. */
const isIll = (result: unknown): boolean => {
  const { ok, kind } = result as { ok: boolean; kind?: CallFailure['kind'] }
  return !ok && kind !== 'refused' && kind !== 'rate-limited'
}

/**
 * A client all of whose calls are reported, and which does not hammer: after five failures in a row it answers for the
 * other side for a while, then lets one call try, and waits longer each time that it fails.
 */
export function watched<C extends object>(client: C, report: (call: CallReport) => void, { pauseMs }: Outside): C {
  const breaker = circuitBreaker(handleWhenResult(isIll), {
    halfOpenAfter: new ExponentialBackoff({ initialDelay: pauseMs, maxDelay: longestPause * pauseMs }),
    breaker: new ConsecutiveBreaker(failuresInARow),
  })
  let last: CallFailure | null = null
  const reported = async (work: () => Promise<CallResult<unknown>>): Promise<CallResult<unknown>> => {
    const from = performance.now()
    const result = await work()
    last = result.ok ? null : result
    report({
      ms: Math.round(performance.now() - from),
      failure: result.ok ? null : { kind: result.kind, sentence: result.sentence },
    })
    return result
  }
  const watchedMethod =
    (method: Method): Method =>
    (...args) =>
      breaker
        .execute(() => reported(() => method(...args)))
        .catch((error: unknown) => {
          if (isBrokenCircuitError(error)) return paused(last, pauseMs)
          throw error
        })
  return Object.fromEntries(
    Object.entries(client).map(([name, method]) => [name, watchedMethod(method as Method)]),
  ) as C
}

const paused = (last: CallFailure | null, pauseMs: number): CallFailure => ({
  ok: false,
  kind: last?.kind ?? 'unreachable',
  sentence: `${last?.sentence ?? 'It cannot be reached.'} After ${failuresInARow} failures in a row Gharry waits before it asks again.`,
  retryAfter: pauseMs / 1000,
})
