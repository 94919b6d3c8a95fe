import { NextResponse, type NextRequest } from 'next/server'
import type { z } from 'zod'
import type { Answer, Gharry } from '@/usecases/gharry'
import { theGharry } from './gharry'

/*
 * What every route handler does: parse with Zod, call one use case, answer as JSON. An error is a code and a sentence.
 */

export function problem(status: number, code: string, sentence: string): NextResponse {
  return NextResponse.json({ code, sentence }, { status })
}

/** A reading route: the query must fit the schema. Null from the use case is a 404. */
export function reading<Q, T>(schema: z.ZodType<Q>, work: (gharry: Gharry, query: Q, params: Record<string, string>) => Promise<T | null>) {
  return async (request: NextRequest, context: { params: Promise<Record<string, string>> }): Promise<NextResponse> =>
    guarded(async () => {
      const query = schema.safeParse(Object.fromEntries(request.nextUrl.searchParams))
      if (!query.success) return problem(400, 'bad-query', firstIssue(query.error))
      const result = await work(await theGharry(), query.data, await context.params)
      return result === null ? problem(404, 'not-found', 'There is no such thing (any more).') : NextResponse.json(result)
    })
}

/** A changing route: the body must fit the schema; a refusal of the use case becomes a 409. */
export function changing<B, T>(schema: z.ZodType<B>, work: (gharry: Gharry, body: B, params: Record<string, string>) => Promise<Answer<T>>) {
  return async (request: NextRequest, context: { params: Promise<Record<string, string>> }): Promise<NextResponse> =>
    guarded(async () => {
      const body: unknown = await request.json().catch(() => undefined)
      const parsed = schema.safeParse(body)
      if (!parsed.success) return problem(400, 'bad-request', firstIssue(parsed.error))
      const answer = await work(await theGharry(), parsed.data, await context.params)
      return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
    })
}

export async function guarded(work: () => Promise<NextResponse>): Promise<NextResponse> {
  try {
    return await work()
  } catch (error) {
    const gharry = await theGharry().catch(() => null)
    gharry?.log.error({ err: error }, 'request failed')
    return problem(500, 'internal', 'Gharry made an error. It is in the log; nothing was changed by this request.')
  }
}

const firstIssue = (error: z.ZodError): string => {
  const issue = error.issues[0]
  return issue ? `${issue.path.join('.') || 'input'}: ${issue.message}` : 'The input makes no sense.'
}
