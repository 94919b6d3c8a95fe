import { NextResponse, type NextRequest } from 'next/server'
import type { Answer, Gharry } from '@/usecases/gharry'
import { guarded, problem } from './answer'
import { theGharry } from './gharry'

const types = { csv: 'text/csv; charset=utf-8', xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' } as const

/** A table to keep, as a download: `?format=csv` or `xlsx`. */
export function downloading(name: string, work: (gharry: Gharry, format: 'csv' | 'xlsx', query: URLSearchParams) => Promise<Buffer | null>) {
  return async (request: NextRequest): Promise<NextResponse> =>
    guarded(async () => {
      const format = request.nextUrl.searchParams.get('format') === 'xlsx' ? 'xlsx' : 'csv'
      const content = await work(await theGharry(), format, request.nextUrl.searchParams)
      if (!content) return problem(404, 'not-found', 'There is nothing to export yet.')
      return new NextResponse(new Uint8Array(content), { headers: { 'content-type': types[format], 'content-disposition': `attachment; filename="${name}.${format}"`, 'cache-control': 'no-store' } })
    })
}

/** A file as the bare body: looked at by `preview`, or taken by `take` when the query names the version it was looked at with. */
export function receiving<P, T>(preview: (gharry: Gharry, content: Buffer) => Promise<Answer<P>>, take: (gharry: Gharry, content: Buffer, version: number) => Promise<Answer<T>>) {
  return async (request: NextRequest): Promise<NextResponse> =>
    guarded(async () => {
      const content = Buffer.from(await request.arrayBuffer())
      const version = request.nextUrl.searchParams.get('version')
      const gharry = await theGharry()
      const answer: Answer<P | T> = version === null ? await preview(gharry, content) : await take(gharry, content, Number(version))
      return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
    })
}
