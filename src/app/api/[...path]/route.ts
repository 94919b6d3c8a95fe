import type { NextRequest } from 'next/server'
import { problem } from '@/app/answer'
import type { Method } from '../calls'
import { callsAt } from '../callsAt'

/*
 * All calls by one door: the framework builds each route by itself, with all that it rests on, and a hundred and fifty of them took most of
 * the time of a build.
 */
type Context = { params: Promise<{ path: string[] }> }

const answering =
  (method: Method) =>
  async (request: NextRequest, { params }: Context): Promise<Response> => {
    const found = callsAt((await params).path)
    if (!found) return problem(404, 'not-found', 'There is no such call.')
    const handler = found.calls[method]
    if (!handler) return problem(405, 'not-answered', `This address does not answer ${method}.`)
    return handler(request, { params: Promise.resolve(found.params as never) })
  }

export const GET = answering('GET')
export const POST = answering('POST')
export const PUT = answering('PUT')
export const PATCH = answering('PATCH')
export const DELETE = answering('DELETE')
