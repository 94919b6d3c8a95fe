import { randomUUID } from 'node:crypto'
import type { NextRequest } from 'next/server'
import { guarded, problem, refused } from '@/app/answer'
import { theApplication } from '@/app/application'
import { fromOf, secretOf } from '@/app/who'
import { writtenDown } from '@/app/secondEyes'
import { asWhoAsks, unlessMayCall, whileReadOnly } from '@/usecases/people/atTheDoor'
import { noteAnswer } from '@/usecases/health/metrics'
import { tracedCall } from '@/usecases/health/traces'
import { wantsTwo } from '@/usecases/people/proposals'
import { type Person, whoIs } from '@/usecases/people/signedIn'
import type { Method } from '../calls'
import { callsAt } from '../callsAt'

/*
 * All calls by one door: the framework builds each route by itself, with all that it rests on, and a hundred and fifty
 * of them took most of the time of a build. Here stands who may come in, and the audit.
 */
type Context = { params: Promise<{ path: string[] }> }

const answering =
  (method: Method) =>
  async (request: NextRequest, { params }: Context): Promise<Response> => {
    const found = callsAt((await params).path)
    if (!found) return problem(404, 'not-found', 'There is no such call.')
    const handler = found.calls[method]
    if (!handler) return problem(405, 'not-answered', `This address does not answer ${method}.`)
    const endpoint = `${method} ${found.address}`
    const answer = (person: Person | null): Promise<Response> =>
      handler(request, { params: Promise.resolve(found.params as never), person })
    // A machine asks this when there may be no books.
    if (endpoint === 'GET /api/health') return answer(null)
    return told(endpoint, (id) =>
      guarded(async () => {
        const gharry = await theApplication()
        const person = await whoIs(gharry, secretOf(request))
        const refusal = unlessMayCall(endpoint, person) ?? whileReadOnly(gharry, endpoint)
        if (refusal) return refused(refusal)
        const from = { ...fromOf(gharry, request), request: id }
        if (person && (await wantsTwo(gharry, endpoint))) return writtenDown(gharry, person, endpoint, request, from)
        return asWhoAsks(gharry, { endpoint, params: found.params }, person, from, () => answer(person))
      }),
    )
  }

/**
 * Does a call under a name of its own, by which its lines in the log and the audit are found; and says how long it
 * took.
 */
async function told(endpoint: string, work: (id: string) => Promise<Response>): Promise<Response> {
  const [id, from] = [randomUUID(), performance.now()]
  const response = await tracedCall(endpoint, () => work(id))
  const ms = performance.now() - from
  noteAnswer(endpoint, response.status, ms)
  const gharry = await theApplication().catch(() => null)
  // Pages ask again every few seconds: that they did is for whoever looks closer.
  const level = response.status >= 500 || !endpoint.startsWith('GET ') ? 'info' : 'debug'
  gharry?.log[level]({ request: id, call: endpoint, status: response.status, ms: Math.round(ms) }, 'answered')
  response.headers.set('x-request-id', id)
  return response
}

export const GET = answering('GET')
export const POST = answering('POST')
export const PUT = answering('PUT')
export const PATCH = answering('PATCH')
export const DELETE = answering('DELETE')
