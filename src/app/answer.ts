import { createHash } from 'node:crypto'
import { NextResponse, type NextRequest } from 'next/server'
import type { z } from 'zod'
import { isAway, isFull } from '@/data'
import { isDeeperThan, maxDepth } from '@/core/rulebook/language'
import type { AnswerOf, BodyOf, Endpoint, PathOf } from '@/usecases/endpoints'
import { noteAsked } from '@/usecases/people/atTheDoor'
import type { Application, Refused } from '@/usecases/shared/application'
import { statusOf } from '@/usecases/shared/refusals'
import { BadInput, bytesOf } from './body'
import { OldFileProblem } from '@/usecases/shared/oldOrders'
import { theApplication } from './application'

/*
 * What every route handler does: parse with Zod, call one use case, answer as JSON. An error is a code and a sentence.
 */

export function problem(status: number, code: string, sentence: string): NextResponse {
  return NextResponse.json({ code, sentence }, { status })
}

/** What is refused, with the status that says what kind of refusal it is. */
export const refused = ({ code, sentence, fields }: Refused): NextResponse =>
  NextResponse.json({ code, sentence, ...(fields ? { fields } : {}) }, { status: statusOf[code] })

type Context<E extends Endpoint> = { params: Promise<PathOf<E>> }
type Handler<E extends Endpoint> = (request: NextRequest, context: Context<E>) => Promise<NextResponse>

/** A reading route: the query must fit the schema. Null from the use case is a 404. */
export function reading<E extends Endpoint, Q>(
  _endpoint: E,
  schema: z.ZodType<Q>,
  work: (gharry: Application, query: Q, params: PathOf<E>) => Promise<AnswerOf<E> | null>,
): Handler<E> {
  return async (request, context) =>
    guarded(async () => {
      const query = schema.safeParse(queryOf(request))
      if (!query.success) return problem(400, 'bad-query', firstIssue(query.error))
      const result = await work(await theApplication(), query.data, await context.params)
      return result === null
        ? problem(404, 'not-found', 'There is no such thing (any more).')
        : unlessKnown(request, result)
    })
}

/** The answer with its mark; where the caller has the same already, that alone is said. */
function unlessKnown(request: NextRequest, result: object): NextResponse {
  const body = JSON.stringify(result)
  const etag = `"${createHash('sha1').update(body).digest('base64url')}"`
  if (request.headers.get('if-none-match') === etag) return new NextResponse(null, { status: 304, headers: { etag } })
  return new NextResponse(body, { headers: { 'content-type': 'application/json', etag } })
}

/** Most bytes of a JSON body; a rulebook takes more. */
const usualBody = 1_000_000
export const rulebookBody = 20_000_000

/** A changing route: the body must fit the schema; what the use case refuses has the status of its code. */
export function changing<E extends Endpoint, B>(
  endpoint: E,
  schema: BodyOf<E> extends undefined ? never : z.ZodType<B>,
  work: (gharry: Application, body: B, params: PathOf<E>) => Promise<AnswerOf<E> | Refused>,
  most = usualBody,
): Handler<E> {
  return async (request, context) =>
    guarded(async () => {
      const parsed = schema.safeParse(await jsonOf(request, most))
      if (!parsed.success) return problem(400, 'bad-request', firstIssue(parsed.error))
      const [gharry, params] = [await theApplication(), await context.params]
      await noteAsked(gharry, endpoint, params, parsed.data)
      const answer = await work(gharry, parsed.data, params)
      return isRefused(answer) ? refused(answer) : NextResponse.json(answer)
    })
}

const isRefused = (answer: object): answer is Refused => 'ok' in answer && answer.ok === false

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
  if (isDeeperThan(body, 3 * maxDepth))
    throw new BadInput(
      400,
      'too-deep',
      `The body is nested too deeply: groups of conditions go at most ${maxDepth} deep.`,
    )
  return body
}

export async function guarded<R extends Response>(work: () => Promise<R>): Promise<R | NextResponse> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof BadInput) return problem(error.status, error.code, error.message)
    const gharry = await theApplication().catch(() => null)
    if (!gharry) return problem(503, 'books', 'The books cannot be opened: see /api/health.')
    if (isAway(error)) {
      gharry.log.error({ err: error }, 'the database is away')
      return problem(503, 'books', 'The database does not answer. Try again in a moment.')
    }
    if (isFull(error)) {
      gharry.log.error({ err: error }, 'the disk is full')
      return problem(503, 'books', 'The disk of the books is full: nothing was changed. Make room, and try again.')
    }
    if (error instanceof OldFileProblem) {
      gharry.log.error({ err: error }, 'a file of an old month cannot be read')
      return problem(503, 'old-file', error.message)
    }
    gharry.log.error({ err: error }, 'request failed')
    return problem(500, 'internal', 'Gharry failed on this request. The log has the details; nothing was changed.')
  }
}

/** What is wrong with an input, with its place. */
export const firstIssue = (error: z.ZodError): string => {
  const issue = error.issues[0]
  return issue ? `${issue.path.join('.') || 'input'}: ${issue.message}` : 'The input cannot be read.'
}
