import { NextResponse, type NextRequest } from 'next/server'
import type { z } from 'zod'
import type { Answer, Application, Refused } from '@/usecases/shared/application'
import type { AnswerOf, BodyOf, Endpoint } from '@/usecases/endpoints'
import type { From, Person } from '@/usecases/people/signedIn'
import { firstIssue, guarded, jsonOf, problem, refused } from './answer'
import { theApplication } from './application'
import { fromOf, secretOf, signInCookie, siteOf } from './who'

/*
 * Routes about people themselves: they know who asks and from where, and what a step of signing in gives goes into the
 * cookie, never into the answer.
 */
export interface Asking {
  readonly from: From
  readonly site: { readonly origin: string }
  readonly secret: string | undefined
}
type Handler = (request: NextRequest) => Promise<NextResponse>
/** What the door says of whoever asks: it lets nobody else to a call that is one's own. */
interface Asks {
  readonly person: Person | null
}
type OwnHandler = (request: NextRequest, context: Asks) => Promise<NextResponse>

const signedOut = (): NextResponse => problem(401, 'signed-out', 'Sign in to go on.')

async function asked<B>(request: NextRequest, schema: z.ZodType<B>) {
  const parsed = schema.safeParse(await jsonOf(request))
  const gharry = await theApplication()
  const asking: Asking = { from: fromOf(gharry, request), site: siteOf(request), secret: secretOf(request) }
  return parsed.success
    ? ({ ok: true, body: parsed.data, gharry, asking } as const)
    : ({ ok: false, answer: problem(400, 'bad-request', firstIssue(parsed.error)) } as const)
}

/** A step of signing in: anybody may try it. */
export function stepping<E extends Endpoint, B>(
  _endpoint: E,
  schema: BodyOf<E> extends undefined ? never : z.ZodType<B>,
  work: (
    gharry: Application,
    body: B,
    asking: Asking,
  ) => Promise<Answer<{ readonly cookie: string | null; readonly next?: 'second' | 'done' }>>,
): Handler {
  return (request) =>
    guarded(async () => {
      const given = await asked(request, schema)
      if (!given.ok) return given.answer
      const answer = await work(given.gharry, given.body, given.asking)
      if (!answer.ok) return refused(answer)
      return NextResponse.json(
        { ok: true, next: answer.next ?? 'done' },
        { headers: { 'set-cookie': signInCookie(answer.cookie) } },
      )
    })
}

/** A change that whoever has signed in makes, mostly of their own account. */
export function changingAs<E extends Endpoint, B>(
  _endpoint: E,
  schema: BodyOf<E> extends undefined ? never : z.ZodType<B>,
  work: (gharry: Application, person: Person, body: B, asking: Asking) => Promise<AnswerOf<E> | Refused>,
): OwnHandler {
  return (request, { person }) =>
    guarded(async () => {
      const given = await asked(request, schema)
      if (!given.ok) return given.answer
      if (!person) return signedOut()
      const answer = (await work(given.gharry, person, given.body, given.asking)) as { readonly ok: true } | Refused
      return answer.ok ? NextResponse.json(answer) : refused(answer)
    })
}

/** What whoever has signed in sees of themselves. */
export function readingAs<E extends Endpoint>(
  _endpoint: E,
  work: (gharry: Application, person: Person) => Promise<AnswerOf<E>>,
): OwnHandler {
  return (_request, { person }) =>
    guarded(async () => (person ? NextResponse.json(await work(await theApplication(), person)) : signedOut()))
}

/** A question by whoever is about to sign in. */
export function changingBefore<E extends Endpoint, B>(
  _endpoint: E,
  schema: BodyOf<E> extends undefined ? never : z.ZodType<B>,
  work: (gharry: Application, body: B, asking: Asking) => Promise<AnswerOf<E> | Refused>,
): Handler {
  return (request) =>
    guarded(async () => {
      const given = await asked(request, schema)
      return given.ok ? NextResponse.json(await work(given.gharry, given.body, given.asking)) : given.answer
    })
}
