import type { NextRequest } from 'next/server'
import { ask, type OpenAnswer, problem } from '@/usecases/open/ask'
import { jsonOf } from '@/app/answer'
import { BadInput } from '@/app/body'
import { theApplication } from '@/app/application'

/** The open interface: every path behind /api/v1 is an operation of `usecases/open/operations.ts`. */
async function handle(request: NextRequest, { params }: { params: Promise<{ path: string[] }> }): Promise<Response> {
  let answer: OpenAnswer
  try {
    const { path } = await params
    answer = await ask(await theApplication(), {
      method: request.method,
      path: `/${path.map(encodeURIComponent).join('/')}`,
      query: request.nextUrl.searchParams,
      authorization: request.headers.get('authorization'),
      key: request.headers.get('idempotency-key'),
      body: request.method === 'GET' ? undefined : await jsonOf(request),
    })
  } catch (error) {
    if (!(error instanceof BadInput)) {
      ;(await theApplication().catch(() => null))?.log.error({ err: error }, 'a question from outside failed')
      answer = problem(500, 'internal', 'Gharry failed on this question; nothing was changed.')
    } else answer = problem(error.status, error.code, error.message)
  }
  const { status, headers, body } = answer
  return new Response(typeof body === 'string' ? body : new Uint8Array(body), {
    status,
    headers: { 'cache-control': 'no-store', ...headers },
  })
}

export { handle as GET, handle as POST, handle as PUT, handle as DELETE }
