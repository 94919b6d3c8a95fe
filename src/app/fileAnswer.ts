import { NextResponse, type NextRequest } from 'next/server'
import { maxTableBytes } from '@/adapters'
import type { AnswerOf, FileEndpoint } from '@/usecases/endpoints'
import type { Application, Refused } from '@/usecases/shared/application'
import { guarded, problem, refused } from './answer'
import { bytesOf, idIn } from './body'
import { guardHeaders, turnedAway } from './edge'
import { theApplication } from './application'

const types = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const

/** A route that takes files: checked here, as the proxy leaves it out. */
export function fileRoute(
  work: (request: NextRequest) => Promise<NextResponse>,
): (request: NextRequest) => Promise<NextResponse> {
  return async (request) => {
    const { pathname } = request.nextUrl
    const turned = turnedAway(request.method, pathname, request.headers, process.env)
    const response = turned ? problem(turned.status, turned.code, turned.sentence) : await guarded(() => work(request))
    for (const [name, value] of Object.entries(
      guardHeaders(pathname, (process.env.GHARRY_URL ?? '').startsWith('https:')),
    ))
      response.headers.set(name, value)
    return response
  }
}

/** A table to keep, as a download: `?format=csv` or `xlsx`. */
export function downloading(
  name: string,
  work: (gharry: Application, format: 'csv' | 'xlsx', query: URLSearchParams) => Promise<Buffer | null>,
) {
  return fileRoute(async (request) => {
    const format = request.nextUrl.searchParams.get('format') === 'xlsx' ? 'xlsx' : 'csv'
    const content = await work(await theApplication(), format, request.nextUrl.searchParams)
    if (!content) return problem(404, 'not-found', 'There is nothing to export yet.')
    return new NextResponse(new Uint8Array(content), {
      headers: {
        'content-type': types[format],
        'content-disposition': `attachment; filename="${name}.${format}"`,
        'cache-control': 'no-store',
      },
    })
  })
}

/** A file as the bare body: POST looks at it, PUT takes it, as it was looked at with the version in the query. */
export function receiving<L extends FileEndpoint, T extends FileEndpoint>(
  _endpoints: readonly [look: L, take: T],
  look: (gharry: Application, content: Buffer) => Promise<AnswerOf<L> | Refused>,
  take: (gharry: Application, content: Buffer, version: number) => Promise<AnswerOf<T> | Refused>,
) {
  return {
    POST: fileRoute(async (request) =>
      fileAnswer(await look(await theApplication(), await bytesOf(request, maxTableBytes))),
    ),
    PUT: fileRoute(async (request) => {
      const content = await bytesOf(request, maxTableBytes)
      const version = idIn(request.nextUrl.searchParams.get('version') ?? undefined)
      return fileAnswer(await take(await theApplication(), content, version))
    }),
  }
}

/** What came of a file: the answer, or the refusal. */
export const fileAnswer = (answer: { readonly ok: true } | Refused): NextResponse =>
  answer.ok ? NextResponse.json(answer) : refused(answer)
