import { NextResponse, type NextRequest } from 'next/server'
import type { z } from 'zod'
import { isDeeperThan, mostDepth } from '@/core/rulebook'
import type { Answer, Gharry } from '@/usecases/gharry'
import { BadInput, bytesOf } from './body'
import { theGharry } from './gharry'

/*
 * What every route handler does: parse with Zod, call one use case, answer as JSON. An error is a code and a sentence.
 */

export function problem(status: number, code: string, sentence: string): NextResponse {
  return NextResponse.json({ code, sentence }, { status })
}

/** A reading route: the query must fit the schema. Null from the use case is a 404. */
export function reading<Q, T>(
  schema: z.ZodType<Q>,
  work: (gharry: Gharry, query: Q, params: Record<string, string>) => Promise<T | null>,
) {
  return async (request: NextRequest, context: { params: Promise<Record<string, string>> }): Promise<NextResponse> =>
    guarded(async () => {
      const query = schema.safeParse(queryOf(request))
      if (!query.success) return problem(400, 'bad-query', firstIssue(query.error))
      const result = await work(await theGharry(), query.data, await context.params)
      return result === null
        ? problem(404, 'not-found', 'There is no such thing (any more).')
        : NextResponse.json(result)
    })
}

/** Most bytes of a JSON body; a rulebook takes more. */
const usualBody = 1_000_000
export const rulebookBody = 20_000_000

/** A changing route: the body must fit the schema; a refusal of the use case becomes a 409. */
export function changing<B, T>(
  schema: z.ZodType<B>,
  work: (gharry: Gharry, body: B, params: Record<string, string>) => Promise<Answer<T>>,
  most = usualBody,
) {
  return async (request: NextRequest, context: { params: Promise<Record<string, string>> }): Promise<NextResponse> =>
    guarded(async () => {
      const parsed = schema.safeParse(await jsonOf(request, most))
      if (!parsed.success) return problem(400, 'bad-request', firstIssue(parsed.error))
      const answer = await work(await theGharry(), parsed.data, await context.params)
      return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
    })
}

/** The query of an address. Control characters are no part of what anybody looks for. */
export function queryOf(request: NextRequest): Record<string, string> {
  const query = Object.fromEntries(request.nextUrl.searchParams)
  const odd = Object.entries(query).find(([, value]) => /[\u0000-\u001f\u007f]/.test(value))
  if (odd) throw new BadInput(400, 'bad-query', `${odd[0]}: holds a character that cannot be typed.`)
  return query
}

export async function jsonOf(request: NextRequest, most = usualBody): Promise<unknown> {
  const text = (await bytesOf(request, most)).toString('utf8')
  if (text === '') return undefined
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    throw new BadInput(400, 'bad-json', 'The body is no JSON.')
  }
  if (isDeeperThan(body, 3 * mostDepth))
    throw new BadInput(
      400,
      'too-deep',
      `The body is nested too deeply: groups of conditions go at most ${mostDepth} deep.`,
    )
  return body
}

export async function guarded(work: () => Promise<NextResponse>): Promise<NextResponse> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof BadInput) return problem(error.status, error.code, error.message)
    const gharry = await theGharry().catch(() => null)
    if (!gharry) return problem(503, 'books', 'The books cannot be opened: see /api/health.')
    gharry.log.error({ err: error }, 'request failed')
    return problem(500, 'internal', 'Gharry made an error. It is in the log; nothing was changed by this request.')
  }
}

const firstIssue = (error: z.ZodError): string => {
  const issue = error.issues[0]
  return issue ? `${issue.path.join('.') || 'input'}: ${issue.message}` : 'The input cannot be read.'
}
