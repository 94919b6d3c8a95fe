import { NextResponse, type NextRequest } from 'next/server'
import { mostTableBytes } from '@/adapters'
import type { Answer, Gharry } from '@/usecases/gharry'
import { guarded, problem } from './answer'
import { bytesOf, idIn } from './body'
import { guardHeaders, turnedAway } from './edge'
import { theGharry } from './gharry'

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
  work: (gharry: Gharry, format: 'csv' | 'xlsx', query: URLSearchParams) => Promise<Buffer | null>,
) {
  return fileRoute(async (request) => {
    const format = request.nextUrl.searchParams.get('format') === 'xlsx' ? 'xlsx' : 'csv'
    const content = await work(await theGharry(), format, request.nextUrl.searchParams)
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

/**
 * A file as the bare body: looked at by `preview`, or taken by `take` when the query names the version it was looked
 * at with.
 */
export function receiving<P, T>(
  preview: (gharry: Gharry, content: Buffer) => Promise<Answer<P>>,
  take: (gharry: Gharry, content: Buffer, version: number) => Promise<Answer<T>>,
) {
  return fileRoute(async (request) => {
    const content = await bytesOf(request, mostTableBytes)
    const version = request.nextUrl.searchParams.get('version')
    const gharry = await theGharry()
    const answer: Answer<P | T> =
      version === null ? await preview(gharry, content) : await take(gharry, content, idIn(version))
    return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
  })
}
